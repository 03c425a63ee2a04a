import fc from 'fast-check'
import {
  insertTime,
  insertTimeRefusal,
  removeTime,
  removeTimeRefusal,
  splitRegions,
  joinRegions,
} from '../edit'
import { createTrack } from '../model/create'
import { testRegion, testSession } from '../model/fixture.test-util'
import { breachLine, brokenRules } from '../model/check/rules'
import type { Fade, Knot, Lane, Session } from '../model/session'
import { planSession } from './plan/plan'
import { Renderer } from './graph/run'
import { runs } from '../units/runs.test-util'

const noise = Float32Array.from({ length: 480_000 }, (_, n) => Math.sin(n * n * 0.0137) * 0.5)
const LENGTH = 70_000

function sound(session: Session, frames: number): Float32Array[] {
  const out = [new Float32Array(frames), new Float32Array(frames)]
  new Renderer(planSession(session), {
    read: (_id, _c, frame, count, into) => into.set(noise.subarray(frame, frame + count)),
  }).render(0, out[0]!, out[1]!)
  return out
}

const knot = (frame: number, value: number, shape: Knot['shape'] = 'line', bend = 0): Knot => ({
  frame,
  value,
  shape,
  bend,
})
const lane = (knots: Knot[], more: Partial<Lane> = {}): Lane => ({
  knots,
  bypassed: false,
  visible: true,
  ...more,
})
const gain = (length: number, more: Partial<Fade> = {}): Fade =>
  ({ kind: 'gain', length, curve: 's-curve', bend: 0.4, level: 0.1, ...more }) as Fade

const base = testSession(
  [
    testRegion('a', { start: 2000, length: 20_000, offset: 900, fadeIn: gain(9000), gainThreadId: 'g' }),
    testRegion('b', {
      start: 20_000,
      length: 15_000,
      offset: 9000,
      fadeOut: gain(7000, { curve: 'exponential' }),
    }),
    testRegion('c', {
      trackId: 'u',
      start: 5000,
      length: 40_000,
      reversed: true,
      fadeOut: { kind: 'tape', length: 8000 },
    }),
  ],
  {
    lanes: {
      volume: lane([
        knot(3000, 0.4, 'line', 0.6),
        knot(26_000, 0.7, 's-curve'),
        knot(50_000, 0.3, 'hold'),
        knot(60_000, 0.6),
      ]),
    },
  },
  { gainThreads: { g: { id: 'g', knots: [knot(2000, 0.3), knot(15_000, 0.7)] } } },
)
const session: Session = {
  ...base,
  trackIds: ['t', 'u'],
  tracks: {
    ...base.tracks,
    u: { ...createTrack('u', 'U', 1, 1), lanes: { pan: lane([knot(0, -1), knot(40_000, 1)]) } },
  },
  mix: { ...base.mix, lanes: { volume: lane([knot(10_000, 0.6), knot(30_000, 0.5)]) } },
  crossfades: {
    x: {
      id: 'x',
      leftId: 'a',
      rightId: 'b',
      law: 'equal-power',
      out: { curve: 'linear', bend: 0 },
      in: { curve: 'linear', bend: 0 },
    },
  },
  markers: [
    { id: 'm', frame: 15_000, name: 'gate' },
    { id: 'n', frame: 40_000, name: 'wheel' },
  ],
  tempo: [
    { beat: 0, bpm: 120, beatsPerBar: 4, beatUnit: 4 },
    { beat: 1, bpm: 60, beatsPerBar: 3, beatUnit: 4 },
  ],
}
const before = sound(session, LENGTH)
const good = (s: Session) => expect(brokenRules(s).map(breachLine)).toEqual([])
good(session)

/** The largest difference of samples that were `moved` frames earlier, between two frames of before. */
const worst = (after: Float32Array[], from: number, to: number, moved: number) => {
  let most = 0
  for (let c = 0; c < 2; c++)
    for (let n = from; n < to; n++) most = Math.max(most, Math.abs(after[c]![n + moved]! - before[c]![n]!))
  return most
}

test('time inserted anywhere changes no sample but by its place, also inside fades; what is between is silent', () => {
  fc.assert(
    fc.property(fc.nat(66_000), fc.integer({ min: 1, max: 30_000 }), (at, frames) => {
      if (insertTimeRefusal(session, at, frames)) return
      // The last part of a step would be heard in the time that is inserted.
      fc.pre(!(at > 60_000 && at < 60_048))
      const longer = insertTime.apply(session, { at, frames })
      good(longer)
      const after = sound(longer, LENGTH + frames)
      expect(worst(after, 0, at, 0)).toBeLessThan(1e-6)
      expect(worst(after, at, LENGTH, frames)).toBeLessThan(1e-6)
      for (const side of after) expect(side.subarray(at, at + frames).every((x) => x === 0)).toBe(true)
      // And removed again, it is as it was.
      const back = removeTime.apply(longer, { from: at, to: at + frames })
      good(back)
      expect(worst(sound(back, LENGTH), 0, LENGTH, 0)).toBeLessThan(1e-6)
    }),
    { numRuns: runs(20, 120) },
  )
})

test('inside a crossfade or a tape fade time is neither inserted nor cut, in words', () => {
  expect(insertTimeRefusal(session, 21_000, 10)).toBe(
    'No time can be inserted here: the crossfade of “a” into “b” lies there. Choose a place beside it.',
  )
  expect(insertTimeRefusal(session, 40_000, 10)).toMatch(/a tape fade of “c” lies there/)
  // A tape fade's own start can be cut: it is whole on one side.
  expect(insertTimeRefusal(session, 37_000, 10)).toBeNull()
  expect(removeTimeRefusal(session, 1000, 21_000)).toMatch(/at the end of the range/)
  expect(insertTime.apply(session, { at: 21_000, frames: 10 })).toBe(session)
  const locked = { ...session, regions: { ...session.regions, c: { ...session.regions.c!, locked: true } } }
  expect(removeTimeRefusal(locked, 0, 100)).toMatch(/“c” is locked/)
})

test('markers and tempo move along: a change keeps its place on the sound', () => {
  // 120 bpm: a beat is 24 000 frames. 12 000 frames before it are half a beat.
  const { markers, tempo } = insertTime.apply(session, { at: 15_000, frames: 12_000 })
  expect(markers.map((m) => m.frame)).toEqual([27_000, 52_000])
  expect(tempo.map((t) => t.beat)).toEqual([0, 1.5])
  const cut = removeTime.apply(session, { from: 14_000, to: 18_000 })
  expect(cut.markers).toEqual([{ id: 'n', frame: 36_000, name: 'wheel' }])
  expect(cut.tempo[1]!.beat).toBeCloseTo(1 - 4000 / 24_000, 12)
  // The change at beat 1 (frame 24 000) falls into what is removed: it holds from the cut on.
  const over = removeTime.apply(session, { from: 12_000, to: 36_000 })
  expect(over.tempo).toEqual([session.tempo[0], { ...session.tempo[1]!, beat: 0.5 }])
})

test('a range removed leaves what was around it, and lanes step where they differ', () => {
  const [from, to] = [9000, 39_000 - 2000]
  const after = sound(removeTime.apply(session, { from, to }), LENGTH)
  expect(worst(after, 0, from, 0)).toBeLessThan(1e-6)
  // 1 ms after the cut the step is over.
  expect(worst(after, to + 48, LENGTH, from - to)).toBeLessThan(1e-6)
})

test('a region split inside a fade sounds as before, and joined again is whole', () => {
  const split = splitRegions.apply(session, { regionIds: ['a', 'b'], frames: [6000, 8000, 30_000] })
  good(split)
  expect(Object.keys(split.regions)).toHaveLength(6)
  expect(worst(sound(split, LENGTH), 0, LENGTH, 0)).toBe(0)
  const joined = joinRegions.apply(split, { regionIds: Object.keys(split.regions) })
  expect(joined).toEqual(session)
})
