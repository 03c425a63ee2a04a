import fc from 'fast-check'
import { ThreadReader } from '../../curve/thread'
import type { Knot } from '../../model/session'
import { balanceStereo, panMono } from '../../dsp/pan'
import { heightToGain } from '../../units/taper'
import { newLevelRun } from '../../dsp/levels'
import { Fader } from './fader'
import { FaderRuns } from './fader-runs'
import type { FaderPlan } from '../plan/render-plan'

const RATE = 48_000
const FRAMES = 20_000

const strip = (law: FaderPlan['law'], volume: readonly Knot[] | null, pan: readonly Knot[]): FaderPlan => ({
  channels: law === null ? 2 : 1,
  law,
  input: 1,
  centre: 1,
  volume: 0.7,
  volumeLane: volume && new ThreadReader(volume, RATE),
  pan: 0,
  panMode: 'balance',
  panLane: new ThreadReader(pan, RATE),
  panLeftLane: null,
  panRightLane: null,
})

const knots = (min: number, max: number, closest: number): fc.Arbitrary<Knot[]> =>
  fc
    .array(
      fc.record({
        after: fc.integer({ min: closest, max: 9000 }),
        value: fc.double({ min, max, noNaN: true }),
        shape: fc.constantFrom<Knot['shape']>('line', 'line', 's-curve', 'hold'),
        bend: fc.constantFrom(0, 0, 0.6, -0.9),
      }),
      { minLength: 1, maxLength: 8 },
    )
    .map((list) => {
      let frame = 0
      return list.map(({ after, ...knot }) => ({ ...knot, frame: (frame += after) }))
    })

const strips = (closest: number) =>
  fc
    .tuple(
      fc.constantFrom<FaderPlan['law']>(null, 'equal-power', '-4.5'),
      fc.option(knots(0, 1, closest)),
      knots(-1, 1, closest),
    )
    .map(([law, volume, pan]) => strip(law, volume, pan))

/** The levels of all frames, asked for in pieces of some lengths, again and again. */
function levelsOf(plan: FaderPlan, lengths: readonly number[]): [Float64Array, Float64Array] {
  const fader = new Fader()
  const sides: [Float64Array, Float64Array] = [new Float64Array(FRAMES), new Float64Array(FRAMES)]
  for (let at = 0, n = 0; at < FRAMES; n++) {
    const count = Math.min(lengths[n % lengths.length]!, FRAMES - at)
    fader.levels(plan, 0.9, at, count).forEach((level, side) => {
      if (typeof level === 'number') sides[side]!.fill(level, at, at + count)
      else sides[side]!.set(level.subarray(0, count), at)
    })
    at += count
  }
  return sides
}

test('levels are the same to the bit however they are asked for', () => {
  fc.assert(
    fc.property(
      strips(0),
      fc.array(fc.integer({ min: 1, max: 3000 }), { minLength: 1, maxLength: 9 }),
      (plan, cuts) => {
        const [left, right] = levelsOf(plan, [4096])
        const [cutLeft, cutRight] = levelsOf(plan, cuts)
        expect(Buffer.compare(Buffer.from(left.buffer), Buffer.from(cutLeft.buffer))).toBe(0)
        expect(Buffer.compare(Buffer.from(right.buffer), Buffer.from(cutRight.buffer))).toBe(0)
      },
    ),
    { numRuns: 100 },
  )
})

test("levels are those of the lanes at every frame, within 1e-8 of the gain at the fader's top", () => {
  fc.assert(
    fc.property(strips(100), (plan) => {
      const sides = levelsOf(plan, [4096])
      const [heights, pans] = [new Float64Array(FRAMES).fill(NaN), new Float64Array(FRAMES)]
      plan.volumeLane?.fill(0, FRAMES, heights)
      plan.panLane!.fill(0, FRAMES, pans)
      let worst = 0
      for (let i = 0; i < FRAMES; i++) {
        const volume = 0.9 * (plan.volumeLane ? heightToGain(heights[i]!) : plan.volume)
        const pan = plan.law ? panMono(plan.law, pans[i]!) : balanceStereo(pans[i]!)
        worst = Math.max(
          worst,
          Math.abs(sides[0][i]! - volume * pan.left),
          Math.abs(sides[1][i]! - volume * pan.right),
        )
      }
      expect(worst).toBeLessThan(4e-8)
    }),
    { numRuns: 100 },
  )
})

test('what moves calmly is in cells but where there are knots, and what is thrown about is not', () => {
  const line = { shape: 'line', bend: 0 } as const
  const inCells = (seconds: number) => {
    const plan = strip(
      null,
      [
        { frame: 0, value: 0, ...line },
        { frame: seconds * RATE, value: 1, ...line },
      ],
      [
        { frame: 100, value: -1, ...line },
        { frame: 100 + seconds * RATE, value: 1, ...line },
      ],
    )
    const [runs, run] = [new FaderRuns(), newLevelRun()]
    let frames = 0
    for (let frame = 0, end = seconds * RATE; frame < end;) {
      const last = runs.at(plan, 1, frame, end, run)
      if (run.cell >= 0) frames += last - frame
      frame = last
    }
    return frames
  }
  // All but the two cells until the pan begins to move, in the last of which is its first knot.
  expect(inCells(0.5)).toBe(0.5 * RATE - 2 * 64)
  expect(inCells(0.05)).toBe(0)
})
