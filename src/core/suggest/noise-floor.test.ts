import { restShare } from './give-way'
import { noiseAndSignal } from './noise-floor'

const STEP = 0.02
const power = (lufs: number) => 10 ** ((lufs + 0.691) / 10)

/** Steps of so many seconds at a level, which moves up and down by so much. */
const part = (seconds: number, lufs: number, moves = 0) =>
  Array.from({ length: Math.round(seconds / STEP) }, (_, i) => power(lufs + moves * Math.sin(i * 1.3)))

const words = (between: () => number[], levels: number[]) =>
  levels.flatMap((level) => [...part(1.5, level, 3), ...between()])

test('steady noise between words is told by its level, and the floor lies a little above it', () => {
  const { noise, signal, floor, apart } = noiseAndSignal(
    words(() => part(0.8, -45, 0.5), [-20, -24, -22]),
    STEP,
  )
  expect(noise).toBeCloseTo(-45, 0)
  expect(signal).toBeGreaterThan(-24)
  expect(floor).toBeCloseTo(-40, -1)
  expect(floor).toBeGreaterThan(-42)
  expect(apart).toBe(true)
})

test('however unequal both are in length, levels are divided between noise and signal', () => {
  for (const [noisy, loud] of [
    [9, 1],
    [1.5, 12],
  ] as const) {
    const { noise, signal } = noiseAndSignal([...part(noisy, -50), ...part(loud, -20)], STEP)
    // Windows over the border are of both.
    expect(noise).toBeCloseTo(-50, 0)
    expect(signal).toBeCloseTo(-20, 0)
  }
})

test('with silence between, the floor follows what is meant', () => {
  const { noise, signal, floor } = noiseAndSignal(
    words(() => part(0.8, -90), [-20, -20, -20]),
    STEP,
  )
  expect(noise).toBeNull()
  expect(floor).toBeCloseTo(signal! - 18, 0)
})

test('noise that is nearly as loud as what is meant is said to be', () => {
  const { apart } = noiseAndSignal(
    words(() => part(0.8, -27, 0.3), [-20, -21, -20]),
    STEP,
  )
  expect(apart).toBe(false)
})

test('silence has no levels', () => {
  expect(noiseAndSignal(part(3, -95), STEP)).toEqual({ noise: null, signal: null, floor: -70, apart: true })
  expect(noiseAndSignal([], STEP).floor).toBe(-70)
})

test('music rests for less than a third of its span, speech for more; pauses under half a second are no rests', () => {
  // Steps of 10 ms: mean squares of sound at about -20 LUFS, and of nothing.
  const sound = (steps: number) => Array.from({ length: steps }, () => 0.01)
  const rest = (steps: number) => Array.from({ length: steps }, () => 0)
  expect(restShare([...rest(500), ...sound(300), ...rest(40), ...sound(300), ...rest(900)])).toBe(0)
  // 200 of 400 steps between the first and the last sound.
  expect(restShare([...sound(100), ...rest(200), ...sound(100)])).toBe(0.5)
  expect(restShare(rest(100))).toBe(1)
})
