import fc from 'fast-check'
import { createTrack } from '../model/create'
import { testRegion, testSession } from '../model/fixture.test-util'
import type { Fade, Insert, Knot, Region, Session, Track } from '../model/session'
import { planSession } from './plan/plan'
import { Renderer } from './graph/run'
import { runs } from '../units/runs.test-util'

// A second renderer, straight from docs/signal.md and docs/inserts.md, frame by frame in 64 bits. It shares no code with the program:
// what both agree on is not an accident of either.

const RATE = 8000
const FRAMES = 6000
const SOURCE_FRAMES = 8192
const noise = (source: number, channel: number, frame: number) =>
  Math.fround(0.4 * Math.sin(frame * frame * 0.013 * (source + 1) + channel * 2.1 + frame * 0.31))

type Sides = [Float64Array, Float64Array]
const db = (value: number) => 10 ** (value / 20)

/** The drawn value of a thread, with the raised cosine of 1 ms behind each step. */
function threadAt(knots: readonly Knot[], frame: number): number {
  const i = knots.filter((k) => k.frame <= frame).length - 1
  if (i < 0) return knots[0]!.value
  const [from, to] = [knots[i]!, knots[i + 1]]
  let value = from.value
  if (to && from.shape !== 'hold') {
    const u = (frame - from.frame) / (to.frame - from.frame)
    const bent = from.bend >= 0 ? u ** (2 ** (3 * from.bend)) : 1 - (1 - u) ** (2 ** (-3 * from.bend))
    value += (to.value - from.value) * (from.shape === 's-curve' ? (1 - Math.cos(Math.PI * u)) / 2 : bent)
  }
  const before = knots[i - 1]
  const since = frame - from.frame
  const length = RATE / 1000
  if (before?.shape === 'hold' && since < length)
    value -= (from.value - before.value) * (1 - (1 - Math.cos((Math.PI * since) / length)) / 2)
  return value
}
const heightGain = (h: number) => db(12) * h ** 3

function fadeAt(fade: Fade | null, frames: number): number {
  if (fade?.kind !== 'gain' || frames >= fade.length) return 1
  const u = (frames / fade.length) ** (2 ** (2 * fade.bend))
  const slow = (x: number) => (10 ** (3 * (x - 1)) - 1e-3) / (1 - 1e-3)
  const f = {
    linear: u,
    'equal-power': Math.sin((Math.PI * u) / 2),
    's-curve': (1 - Math.cos(Math.PI * u)) / 2,
    exponential: slow(u),
    logarithmic: 1 - slow(1 - u),
  }[fade.curve]
  return fade.level + (1 - fade.level) * f
}

function addRegion(session: Session, region: Region, into: Sides): void {
  const knots = region.gainThreadId ? session.gainThreads[region.gainThreadId]!.knots : null
  for (let n = region.start; n < Math.min(FRAMES, region.start + region.length); n++) {
    const frame = region.offset + n - region.start
    const gain =
      db(region.clipGainDb) *
      region.polarity *
      (knots ? heightGain(threadAt(knots, frame)) : 1) *
      fadeAt(region.fadeIn, n - region.start) *
      fadeAt(region.fadeOut, region.start + region.length - n)
    for (const c of [0, 1] as const) {
      const side = region.sides ? db(region.sides.gainDb[c]) * region.sides.polarity[c] : 1
      into[c][n] = into[c][n]! + noise(Number(region.sourceId.slice(1)), c, frame) * side * gain
    }
  }
}

type Values = Record<string, number>
/** What inserts compute, one frame after the other. */
const INSERTS: Record<string, (v: Values) => (x: number, y: number, n: number) => [number, number]> = {
  gain: (v) => {
    const sides = [db(v.gainDb! + v.leftDb!), db(v.gainDb! + v.rightDb!) * (v.invertRight ? -1 : 1)]
    return (x, y) => (v.swap ? [y * sides[1]!, x * sides[0]!] : [x * sides[0]!, y * sides[1]!])
  },
  width: (v) => (x, y) => [(x + y) / 2 + (v.width! * (x - y)) / 2, (x + y) / 2 - (v.width! * (x - y)) / 2],
  compressor: (v) => {
    const recent: number[] = []
    let reduction = 0
    const part = (ms: number) => 1 - Math.exp(-1000 / (ms * RATE))
    return (x, y) => {
      recent.push(Math.max(Math.abs(x), Math.abs(y)))
      if (recent.length > 0.005 * RATE) recent.shift()
      const over = 20 * Math.log10(Math.max(1e-20, ...recent)) - v.thresholdDb!
      const slope = 1 - 1 / v.ratio!
      const half = v.kneeDb! / 2
      const asked = over <= -half ? 0 : over < half ? (slope * (over + half) ** 2) / (4 * half) : slope * over
      reduction += part(asked > reduction ? v.attackMs! : v.releaseMs!) * (asked - reduction)
      const gain = 1 - v.mix! + v.mix! * db(v.makeupDb! - reduction)
      return [x * gain, y * gain]
    }
  },
  delay: (v) => {
    const frames = Math.round((v.timeMs! / 1000) * RATE)
    const lines: [number[], number[]] = [[], []]
    return (x, y, n) => {
      const wet = lines.map((line) => line[n - frames] ?? 0)
      const [a, b] = [wet[0]!, wet[1]!]
      if (v.pingPong) {
        lines[0].push((x + y) / 2 + v.feedback! * b)
        lines[1].push(v.feedback! * a)
      } else {
        lines[0].push(x + v.feedback! * a)
        lines[1].push(y + v.feedback! * b)
      }
      return [(1 - v.mix!) * x + v.mix! * a, (1 - v.mix!) * y + v.mix! * b]
    }
  },
}

function runInsert(insert: Insert, sound: Sides): void {
  const values = Object.fromEntries(Object.entries(insert.values).map(([key, value]) => [key, Number(value)]))
  const step = INSERTS[insert.kind]!(values)
  for (let n = 0; n < FRAMES; n++) [sound[0][n], sound[1][n]] = step(sound[0][n]!, sound[1][n]!, n)
}

function addTrack(session: Session, track: Track, mix: Sides): void {
  const sound: Sides = [new Float64Array(FRAMES), new Float64Array(FRAMES)]
  for (const region of Object.values(session.regions))
    if (region.trackId === track.id) addRegion(session, region, sound)
  for (const c of [0, 1] as const) {
    const side = track.sides ? db(track.sides.gainDb[c]) * track.sides.polarity[c] : 1
    sound[c] = sound[c].map((x) => x * db(track.trimDb) * track.polarity * side)
  }
  for (const insert of track.inserts) runInsert(insert, sound)
  const { volume, pan } = track.lanes
  const power = (p: number) => [Math.cos(((p + 1) * Math.PI) / 4), Math.sin(((p + 1) * Math.PI) / 4)] as const
  for (let n = 0; n < FRAMES; n++) {
    const level = volume ? heightGain(threadAt(volume.knots, n)) : db(track.volumeDb!)
    const [x, y] = [sound[0][n]! * level, sound[1][n]! * level]
    if (track.panMode === 'pair') {
      const [l, r] = [power(-1), power(track.lanes.panRight ? threadAt(track.lanes.panRight.knots, n) : 1)]
      mix[0][n] = mix[0][n]! + x * l[0] + y * r[0]
      mix[1][n] = mix[1][n]! + x * l[1] + y * r[1]
    } else {
      const p = pan ? threadAt(pan.knots, n) : track.pan
      const far = Math.cos((Math.abs(p) * Math.PI) / 2)
      mix[0][n] = mix[0][n]! + x * (p <= 0 ? 1 : far)
      mix[1][n] = mix[1][n]! + y * (p <= 0 ? far : 1)
    }
  }
}

const whole = (min: number, max: number) => fc.integer({ min, max })
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
/** Knots further apart than a step takes, at odd frames. */
const knots = (min: number, max: number): fc.Arbitrary<Knot[]> =>
  fc.uniqueArray(whole(0, FRAMES / 40), { minLength: 1, maxLength: 6 }).chain((places) =>
    fc.tuple(
      ...places
        .sort((a, b) => a - b)
        .map((place) =>
          fc.record({
            frame: fc.constant(40 * place + 7),
            value: fc.oneof(fc.constant(min + 0.6 * (max - min)), number(min, max)),
            shape: fc.constantFrom<Knot['shape']>('line', 'line', 's-curve', 'hold'),
            bend: fc.constantFrom(0, 0, 0.5, -0.7),
          }),
        ),
    ),
  )
const lane = (min: number, max: number) =>
  fc.option(knots(min, max).map((list) => ({ knots: list, bypassed: false, visible: true })))
const fade: fc.Arbitrary<Fade | null> = fc.option(
  fc.record({
    kind: fc.constant('gain' as const),
    length: whole(1, 300),
    curve: fc.constantFrom('linear', 'equal-power', 's-curve', 'exponential', 'logarithmic'),
    bend: fc.constantFrom(0, 0.5, -0.5),
    level: fc.constantFrom(0, 0.3),
  }),
)
const sides = fc.option(
  fc.record({
    gainDb: fc.tuple(number(-6, 6), number(-6, 6)),
    polarity: fc.tuple(fc.constantFrom<1 | -1>(1, -1), fc.constantFrom<1 | -1>(1, -1)),
  }),
)
const insert: fc.Arbitrary<Omit<Insert, 'id'>> = fc.oneof(
  fc
    .record({
      gainDb: number(-6, 6),
      leftDb: number(-6, 6),
      rightDb: number(-6, 6),
      invertRight: fc.boolean(),
      swap: fc.boolean(),
    })
    .map((values) => ({ kind: 'gain' as const, bypassed: false, values })),
  fc.record({ width: number(0, 2) }).map((values) => ({ kind: 'width' as const, bypassed: false, values })),
  fc
    .record({
      thresholdDb: number(-50, -10),
      ratio: number(1, 20),
      kneeDb: number(0.1, 20),
      attackMs: number(0.1, 30),
      releaseMs: number(5, 200),
      makeupDb: number(-6, 6),
      mix: number(0, 1),
    })
    .map((values) => ({ kind: 'compressor' as const, bypassed: false, values })),
  fc
    .record({ timeMs: number(1, 200), feedback: number(0, 0.7), mix: number(0, 1), pingPong: fc.boolean() })
    .map((values) => ({ kind: 'delay' as const, bypassed: false, values })),
)
const track = fc.record({
  trimDb: number(-6, 0),
  polarity: fc.constantFrom<1 | -1>(1, -1),
  volumeDb: number(-12, 0),
  pan: number(-1, 1),
  panMode: fc.constantFrom<Track['panMode']>('balance', 'pair'),
  sides,
  inserts: fc.array(insert, { minLength: 1, maxLength: 3 }),
  volume: lane(0, 0.7),
  movedPan: lane(-1, 1),
  regions: fc.array(
    fc.record({
      start: whole(0, 1000),
      length: whole(700, 4000),
      offset: whole(0, 1500),
      clipGainDb: number(-9, 3),
      polarity: fc.constantFrom<1 | -1>(1, -1),
      fadeIn: fade,
      fadeOut: fade,
      sides,
      thread: fc.option(knots(0, 0.8)),
    }),
    { minLength: 1, maxLength: 2 },
  ),
})

/** Stereo tracks with inserts, and regions with threads and fades. */
const stereoSession = fc.array(track, { minLength: 1, maxLength: 3 }).map((tracks): Session => {
  const regions: Region[] = []
  const threads: Session['gainThreads'] = {}
  tracks.forEach((of, t) => {
    let end = 0
    of.regions.forEach(({ thread, sides: changed, start, ...rest }, n) => {
      const id = `r${t}-${n}`
      if (thread) threads[id] = { id, knots: thread }
      regions.push({
        ...testRegion(id, { trackId: `t${t}`, sourceId: `s${t}`, ...rest, start: end + start }),
        gainThreadId: thread ? id : null,
        ...(changed ? { sides: changed } : {}),
      })
      end += start + rest.length
    })
  })
  const named = tracks.map(({ volume, movedPan, sides: changed, regions: _, ...of }, t): Track => {
    const panned: Track['lanes'] = movedPan ? { [of.panMode === 'pair' ? 'panRight' : 'pan']: movedPan } : {}
    return {
      ...createTrack(`t${t}`, `Track ${t}`, 2, t),
      ...of,
      ...(changed ? { sides: changed } : {}),
      inserts: of.inserts.map((i, n) => ({ ...i, id: `i${n}` })),
      lanes: { ...(volume ? { volume } : {}), ...panned },
    }
  })
  return testSession(
    regions,
    {},
    {
      sampleRate: RATE,
      trackIds: named.map(({ id }) => id),
      tracks: Object.fromEntries(named.map((of) => [of.id, of])),
      gainThreads: threads,
      sources: Object.fromEntries(
        tracks.map((_, t) => [
          `s${t}`,
          {
            id: `s${t}`,
            name: `s${t}`,
            channels: 2 as const,
            frames: SOURCE_FRAMES,
            sampleRate: RATE,
            sha256: '0'.repeat(64),
          },
        ]),
      ),
    },
  )
})

test('stereo tracks with inserts sound as a reference that shares no code says, within 1e-6', () => {
  fc.assert(
    fc.property(stereoSession, (session) => {
      const expected: Sides = [new Float64Array(FRAMES), new Float64Array(FRAMES)]
      for (const id of session.trackIds) addTrack(session, session.tracks[id]!, expected)
      const heard = [new Float32Array(FRAMES), new Float32Array(FRAMES)] as const
      new Renderer(planSession(session), {
        read: (id, channel, frame, count, out) => {
          for (let i = 0; i < count; i++) out[i] = noise(Number(id.slice(1)), channel, frame + i)
        },
      }).render(0, ...heard)
      for (const c of [0, 1] as const)
        for (let n = 0; n < FRAMES; n++) {
          const error = Math.abs(heard[c][n]! - expected[c][n]!)
          if (!(error < 1e-6 * Math.max(1, Math.abs(expected[c][n]!))))
            throw new Error(`side ${c} is ${heard[c][n]} instead of ${expected[c][n]} at ${n}`)
        }
    }),
    { numRuns: runs(24, 120), interruptAfterTimeLimit: 30_000, markInterruptAsFailure: false },
  )
}, 60_000)
