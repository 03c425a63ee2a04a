import { beatToSeconds } from '../units/tempo'
import { gainKind, panKind, valueAt } from './knots'
import { threadValue } from './thread'
import { noteValues, weaveInto, weaveKnots, type Weave } from './weave'

const tempo = [{ beat: 0, bpm: 120, beatsPerBar: 4, beatUnit: 4 }]
const weave = (more: Partial<Weave>): Weave => ({
  shape: 'square',
  period: { beats: 1 },
  low: 0.2,
  high: 0.6,
  phase: 0,
  duty: 0.5,
  seed: 1,
  ...more,
})
const rows = (w: Weave, to = 48000) =>
  weaveKnots(w, 0, to, tempo, 48000).map((k) => [k.frame, Math.round(k.value * 1e6) / 1e6, k.shape])

test('the fewest knots for each shape, two cycles at 120 bpm', () => {
  expect(rows(weave({}))).toEqual([
    [0, 0.6, 'hold'],
    [12000, 0.2, 'hold'],
    [24000, 0.6, 'hold'],
    [36000, 0.2, 'hold'],
    [48000, 0.2, 'line'],
  ])
  expect(rows(weave({ duty: 0.25 })).map(([f]) => f)).toEqual([0, 6000, 24000, 30000, 48000])
  expect(rows(weave({ shape: 'triangle' }))).toEqual([
    [0, 0.2, 'line'],
    [12000, 0.6, 'line'],
    [24000, 0.2, 'line'],
    [36000, 0.6, 'line'],
    [48000, 0.2, 'line'],
  ])
  expect(rows(weave({ shape: 'ramp-up' }))).toEqual([
    [0, 0.2, 'line'],
    [24000, 0.6, 'line'],
    [24000, 0.2, 'line'],
    [48000, 0.6, 'line'],
  ])
  expect(rows(weave({ shape: 'ramp-down' }))).toEqual([
    [0, 0.6, 'line'],
    [24000, 0.2, 'line'],
    [24000, 0.6, 'line'],
    [48000, 0.2, 'line'],
  ])
  const random = rows(weave({ shape: 'random' }))
  expect(random.map(([f]) => f)).toEqual([0, 24000, 48000])
  expect(random).toEqual(rows(weave({ shape: 'random' })))
  expect(random[0]).not.toEqual(rows(weave({ shape: 'random', seed: 2 }))[0])
})

test.each([0, 0.3])(
  'a sine weave is a sine of height within 1e-6, at phase %d and cut in the middle of a cycle',
  (phase) => {
    const knots = weaveKnots(weave({ shape: 'sine', phase }), 0, 100_000, tempo, 48000)
    let worst = 0
    for (let f = 0; f <= 100_000; f += 37)
      worst = Math.max(
        worst,
        Math.abs(threadValue(knots, f) - (0.4 - 0.2 * Math.cos(2 * Math.PI * (f / 24000 + phase)))),
      )
    expect(worst).toBeLessThan(1e-6)
  },
)

test('after an hour at 97.3 bpm knots lie on the exact frames of their beats', () => {
  const odd = [{ beat: 0, bpm: 97.3, beatsPerBar: 4, beatUnit: 4 }]
  const { beats } = noteValues.find((n) => n.name === '1/16 triplet')!
  const hour = 3600 * 48000
  const first = Math.round(97.3 * 60)
  const from = Math.round(beatToSeconds(odd, first) * 48000)
  expect(Math.abs(from - hour)).toBeLessThan(48000)
  weaveKnots(weave({ shape: 'triangle', period: { beats } }), from, from + 480_000, odd, 48000)
    .slice(0, -1)
    .forEach((k, i) => expect(k.frame).toBe(Math.round(((first + (i * beats) / 2) * 60 * 48000) / 97.3)))
})

test('put into a thread it steps in and out, and changes nothing outside', () => {
  for (const kind of [gainKind(0.5), panKind(0.1)]) {
    const before = [
      { frame: 0, value: 0.1, shape: 's-curve' as const, bend: 0 },
      { frame: 90_000, value: 0.9, shape: 'line' as const, bend: 0 },
    ]
    for (const knots of [before, []])
      for (const shape of ['square', 'sine', 'ramp-up'] as const) {
        const made = weaveInto(knots, weave({ shape }), 24000, 72000, tempo, 48000, kind)
        for (const f of [0, 10_000, 23_999, 72_000, 80_000, 200_000])
          expect(valueAt(kind, made, f)).toBeCloseTo(valueAt(kind, knots, f), 9)
        expect(valueAt(kind, made, 36_000 - 1)).toBeGreaterThan(0.35)
        expect(made.every((k, i) => i === 0 || k.frame >= made[i - 1]!.frame)).toBe(true)
      }
  }
  expect(() => weaveKnots(weave({}), 5, 5, tempo, 48000)).toThrow(RangeError)
})

test('in milliseconds it needs no beat', () => {
  expect(weaveKnots(weave({ period: { ms: 250 } }), 1000, 25000, tempo, 48000).map((k) => k.frame)).toEqual([
    1000, 7000, 13000, 19000, 25000,
  ])
})
