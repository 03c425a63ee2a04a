import { CELL_FRAMES } from '../curve/cubics'
import {
  CELL_ERROR_DIVISOR,
  CELL_MATRIX,
  CELL_POINTS,
  fillLevels,
  newLevelRun,
  type LevelRun,
} from './levels'

const line = (c0: number, c1: number, start = 0) => ({ start, c0, c1, c2: 0, c3: 0 })

const levelsOf = (run: LevelRun, count: number) => {
  const sides = [new Float64Array(count), new Float64Array(count)] as const
  fillLevels(run, count, ...sides)
  return sides
}

test('the cubic of a cell goes through its four points, and is the curve itself where that is a cubic', () => {
  const curve = (t: number) => 0.5 - t * 0.02 + t * t * 3e-4 - t * t * t * 2e-6
  const factors = [
    curve(0),
    ...CELL_MATRIX.map((row) => row.reduce((sum, x, n) => sum + x * curve(CELL_POINTS[n]!), 0)),
  ] as const
  for (let t = 0; t <= CELL_FRAMES; t++)
    expect(factors[0] + t * (factors[1]! + t * (factors[2]! + t * factors[3]!))).toBeCloseTo(curve(t), 13)
  // t⁴ has the fourth derivative 24: 64⁴·24 per cell. Between 43 and 64, where it is farthest, the cubic is off by this much.
  let farthest = 0
  for (let t = 0; t <= CELL_FRAMES; t += 0.01)
    farthest = Math.max(farthest, Math.abs(t * (t - 21) * (t - 43) * (t - 64)))
  expect(farthest).toBeLessThan((CELL_FRAMES ** 4 * 24) / CELL_ERROR_DIVISOR)
  expect(farthest).toBeGreaterThan((0.999 * (CELL_FRAMES ** 4 * 24)) / CELL_ERROR_DIVISOR)
})

test.each(['balance', 'equal-power'] as const)(
  'in cells, levels are those of fader and pan within 1e-9 where both take half a second; through the centre too (%s)',
  (pan) => {
    const frames = 24_000
    const run: LevelRun = {
      ...newLevelRun(),
      level: 4,
      volumeLane: line(0.1, 0.8 / frames),
      pan,
      panLane: line(-1, 2 / frames),
      cell: 17,
    }
    const [left, right] = levelsOf(run, frames)
    let worst = 0
    for (let i = 0; i < frames; i++) {
      const level = 4 * (0.1 + (0.8 * i) / frames) ** 3
      const p = -1 + (2 * i) / frames
      const [wantedLeft, wantedRight] =
        pan === 'balance'
          ? [p <= 0 ? 1 : Math.cos((Math.PI / 2) * p), p <= 0 ? Math.cos((Math.PI / 2) * p) : 1]
          : [Math.cos((Math.PI / 4) * (p + 1)), Math.sin((Math.PI / 4) * (p + 1))]
      worst = Math.max(
        worst,
        Math.abs(left[i]! - level * wantedLeft),
        Math.abs(right[i]! - level * wantedRight),
      )
    }
    expect(worst).toBeLessThan(4e-9)
  },
)

test('a run in cells gives the same to the bit from whichever of its frames it begins', () => {
  const run = (first: number): LevelRun => ({
    ...newLevelRun(),
    volumeLane: line(0.2, 1e-4, first),
    pan: 'balance',
    panLane: line(-0.02, 1e-4, first),
    cell: first % CELL_FRAMES,
  })
  const whole = levelsOf(run(0), 500)
  for (const first of [1, 63, 64, 65, 200, 333]) {
    const [left, right] = levelsOf(run(first), 500 - first)
    expect(left).toEqual(whole[0].subarray(first))
    expect(right).toEqual(whole[1].subarray(first))
  }
})
