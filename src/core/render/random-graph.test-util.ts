import fc from 'fast-check'
import { createBus, createTrack } from '../model/create'
import { testSession } from '../model/fixture.test-util'
import {
  panLaws,
  type Insert,
  type Knot,
  type Lane,
  type Send,
  type Session,
  type Track,
} from '../model/session'
import { CHUNK_FRAMES } from './region/chunk-cache'
import { randomRegions, regionsOf, sides } from './random-regions.test-util'
import type { SourceReader } from './region/source-reader'

const RATE = 8000

/** A source of its own for every track: noise that repeats after a second, from a seed. */
function noiseOf(seed: number): Float32Array {
  let state = seed * 2654435761 + 1
  return Float32Array.from({ length: RATE }, () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return (state / 2 ** 32 - 0.5) * 0.8
  })
}

/** Reads sources called s0, s1 …, each its own noise. */
export function noiseReader(): SourceReader {
  const known = new Map<string, Float32Array>()
  return {
    read(id, channel, frame, count, out) {
      const key = `${id} ${channel}`
      const noise = known.get(key) ?? noiseOf(Number(id.slice(1)) * 2 + channel)
      known.set(key, noise)
      for (let i = 0; i < count; i++) out[i] = noise[(frame + i) % RATE]!
    },
  }
}

const insert: fc.Arbitrary<Omit<Insert, 'id'>> = fc.oneof(
  fc
    .record({
      gainDb: fc.integer({ min: -12, max: 6 }),
      leftDb: fc.integer({ min: -6, max: 6 }),
      invertRight: fc.boolean(),
      removeDc: fc.boolean(),
    })
    .map((values) => ({ kind: 'gain' as const, bypassed: false, values })),
  fc
    .record({
      timeMs: fc.integer({ min: 1, max: 120 }),
      feedback: fc.constantFrom(0, 0.3, 0.6),
      lowCutHz: fc.constantFrom(0, 80),
      highCutHz: fc.constantFrom(20_000, 2000),
      pingPong: fc.boolean(),
      mix: fc.constantFrom(0.25, 0.5, 1),
    })
    .map((values) => ({ kind: 'delay' as const, bypassed: false, values })),
  fc
    .record({
      ceilingDbtp: fc.constantFrom(-20, -12, -6),
      lookAheadMs: fc.constantFrom(1, 5, 20),
      releaseMs: fc.constantFrom(10, 100),
    })
    .map((values) => ({ kind: 'ceiling' as const, bypassed: false, values })),
  fc
    .record({
      'b1.on': fc.boolean(),
      'b1.kind': fc.constantFrom('low-cut', 'bell', 'high-shelf'),
      'b1.gainDb': fc.constantFrom(-6, 6),
      'b1.frequencyHz': fc.constantFrom(200, 5000),
      'b1.channel': fc.constantFrom('stereo', 'left', 'side'),
    })
    .map((values) => ({ kind: 'equaliser' as const, bypassed: false, values })),
  fc
    .record({
      thresholdDb: fc.constantFrom(-40, -20),
      releaseMs: fc.constantFrom(10, 40),
      lookAheadMs: fc.constantFrom(0, 3),
      detector: fc.constantFrom('peak', 'rms'),
      detectorCutHz: fc.constantFrom(0, 300),
    })
    .map((values) => ({ kind: 'compressor' as const, bypassed: false, values })),
  fc
    .record({
      thresholdDb: fc.constantFrom(-40, -20),
      releaseMs: fc.constantFrom(10, 40),
      holdMs: fc.constant(5),
    })
    .map((values) => ({ kind: 'gate' as const, bypassed: false, values })),
  fc
    .record({ driveDb: fc.constantFrom(0, 12), shape: fc.constantFrom('soft', 'hard', 'asymmetric') })
    .map((values) => ({ kind: 'saturator' as const, bypassed: false, values })),
  fc
    .record({ width: fc.constantFrom(0, 0.5, 2), monoBelowHz: fc.constantFrom(0, 300) })
    .map((values) => ({ kind: 'width' as const, bypassed: false, values })),
  fc
    .record({
      'low.thresholdDb': fc.constantFrom(-40, 0),
      'low.releaseMs': fc.constant(20),
      alone: fc.constantFrom('none', 'low'),
    })
    .map((values) => ({ kind: 'four-bands' as const, bypassed: false, values })),
  fc
    .record({ decaySeconds: fc.constant(0.1), size: fc.constantFrom(0, 0.5), mix: fc.constantFrom(0.2, 1) })
    .map((values) => ({ kind: 'room' as const, bypassed: false, values })),
)
const inserts = (most: number) =>
  fc.array(insert, { maxLength: most }).map((list) => list.map((i, n): Insert => ({ ...i, id: `i${n}` })))

/** Inserts that can be steered listen to a strip. */
const listening = (list: readonly Insert[], key: string | null): Insert[] =>
  list.map((i) => (key !== null && (i.kind === 'compressor' || i.kind === 'gate') ? { ...i, key } : i))

const knots = (min: number, max: number): fc.Arbitrary<Knot[]> =>
  fc
    .array(
      fc.record({
        frame: fc.integer({ min: 0, max: 12_000 }),
        value: fc.double({ min, max, noNaN: true }),
        shape: fc.constantFrom<Knot['shape']>('line', 's-curve', 'hold'),
        bend: fc.constantFrom(0, 0.4),
      }),
      { maxLength: 4 },
    )
    .map((list) => list.sort((a, b) => a.frame - b.frame))
const lane = (min: number, max: number): fc.Arbitrary<Lane> =>
  knots(min, max).map((list) => ({ knots: list, bypassed: false, visible: true }))

/** The lanes that some of the inserts may have, all of them with the same knots. */
const lanesFor = (list: readonly Insert[], moving: Lane, levels: Lane, sends: readonly Send[]) => {
  const lanes: Record<string, Lane> = { volume: levels }
  const scaled = (to: (value: number) => number): Lane => ({
    ...moving,
    knots: moving.knots.map((k) => ({ ...k, value: to(k.value) })),
  })
  for (const { id, kind } of list) {
    if (kind === 'delay') {
      lanes[`insert:${id}:timeMs`] = scaled((v) => 1 + v * 100)
      lanes[`insert:${id}:mix`] = moving
    }
    if (kind === 'gain') lanes[`insert:${id}:gainDb`] = scaled((v) => -12 * v)
    if (kind === 'equaliser') lanes[`insert:${id}:b1.frequencyHz`] = scaled((v) => 200 + 4000 * v)
    if (kind === 'compressor') lanes[`insert:${id}:thresholdDb`] = scaled((v) => -40 * v)
    if (kind === 'ceiling') lanes[`insert:${id}:bypassed`] = scaled((v) => Math.round(v))
  }
  for (const send of sends) lanes[`send:${send.id}:level`] = levels
  return lanes
}

/** Lanes of a pan, or of both of a pair. */
const pansOf = ({ channels, panMode, pans }: { channels: 1 | 2; panMode: Track['panMode']; pans: Lane }) =>
  channels === 2 && panMode === 'pair' ? { panLeft: pans, panRight: { ...pans, knots: [] } } : { pan: pans }

/**
 * Sessions of up to 4 tracks with sources of their own, mono and stereo, with regions that are shaped in every way, and up to 3
 * buses, with inserts, sends, lanes, pans, sides and latencies.
 */
export const graphSession: fc.Arbitrary<Session> = fc
  .record({
    tracks: fc.array(
      fc.record({
        channels: fc.constantFrom<1 | 2>(1, 2),
        regions: randomRegions,
        inserts: inserts(2),
        trimDb: fc.constantFrom(0, 0, -3),
        polarity: fc.constantFrom<1 | -1>(1, 1, -1),
        pan: fc.constantFrom(0, 0.4, -1),
        panMode: fc.constantFrom<Track['panMode']>('balance', 'balance', 'pair'),
        pans: lane(-1, 1),
        sides: fc.option(sides, { freq: 2 }),
        to: fc.nat(3),
        sendTo: fc.option(fc.nat(2)),
        point: fc.constantFrom<Send['point']>('pre', 'post'),
        moving: lane(0, 1),
        levels: lane(0.3, 0.8),
        moves: fc.boolean(),
        muted: fc.boolean(),
        key: fc.option(fc.nat(3)),
      }),
      { minLength: 1, maxLength: 4 },
    ),
    buses: fc.array(
      fc.record({
        inserts: inserts(2),
        to: fc.nat(3),
        sendTo: fc.option(fc.nat(2)),
        moving: lane(0, 1),
        levels: lane(0.3, 0.8),
        key: fc.option(fc.nat(3)),
      }),
      { maxLength: 3 },
    ),
    panLaw: fc.constantFrom(...panLaws),
    mix: inserts(1),
    last: inserts(1),
    mixKey: fc.option(fc.nat(5)),
  })
  .map(({ tracks, buses, panLaw, mix, last, mixKey }) => {
    const busId = (n: number) => (n < buses.length ? `b${n}` : 'mix')
    // Tracks are steered by tracks after them, buses by tracks and buses before them: no circles.
    const trackKey = (key: number | null, after: number) =>
      key !== null && key > after && key < tracks.length ? `t${key}` : null
    const busKey = (key: number | null, before: number) =>
      key !== null && key < before ? `b${key}` : trackKey(key, -1)
    const sendsOf = (to: number | null, from: number, point: Send['point']): Send[] =>
      to !== null && to > from && to < buses.length
        ? [{ id: 's', to: `b${to}`, levelDb: -3, muted: false, point }]
        : []
    const made = tracks.map((t, n) => regionsOf(n, t.channels === 2, t.regions))
    const byId = <T extends { id: string }>(list: readonly T[]) =>
      Object.fromEntries(list.map((one) => [one.id, one]))
    return testSession(
      made.flatMap(({ regions }) => regions),
      {},
      {
        sampleRate: RATE,
        panLaw,
        gainThreads: byId(made.flatMap(({ gainThreads }) => gainThreads)),
        crossfades: byId(made.flatMap(({ crossfades }) => crossfades)),
        trackIds: tracks.map((_, n) => `t${n}`),
        tracks: Object.fromEntries(
          tracks.map((t, n) => {
            const sends = sendsOf(t.sendTo, -1, t.point)
            return [
              `t${n}`,
              {
                ...createTrack(`t${n}`, `Track ${n}`, t.channels, n),
                inserts: listening(t.inserts, trackKey(t.key, n)),
                output: busId(t.to),
                sends,
                muted: t.muted && n > 0,
                trimDb: t.trimDb,
                polarity: t.polarity,
                pan: t.pan,
                panMode: t.channels === 2 ? t.panMode : 'balance',
                ...(t.sides && t.channels === 2 ? { sides: t.sides } : {}),
                lanes: t.moves ? { ...lanesFor(t.inserts, t.moving, t.levels, sends), ...pansOf(t) } : {},
              },
            ]
          }),
        ),
        busIds: buses.map((_, n) => `b${n}`),
        buses: Object.fromEntries(
          buses.map((b, n) => [
            `b${n}`,
            {
              ...createBus(`b${n}`, `Bus ${n}`, n),
              inserts: listening(b.inserts, busKey(b.key, n)),
              // Only to buses after it: no circles.
              output: b.to > n ? busId(b.to) : 'mix',
              sends: sendsOf(b.sendTo, n, 'post'),
              lanes: lanesFor(b.inserts, b.moving, b.levels, []),
            },
          ]),
        ),
        sources: Object.fromEntries(
          tracks.map((t, n) => [
            `s${n}`,
            {
              id: `s${n}`,
              name: `s${n}.wav`,
              channels: t.channels,
              frames: CHUNK_FRAMES,
              sampleRate: RATE,
              sha256: '0'.repeat(64),
            },
          ]),
        ),
        mix: {
          trimDb: 0,
          volumeDb: 0,
          lanes: {},
          inserts: listening(mix, busKey(mixKey, buses.length)),
          lastInserts: listening(last, trackKey(mixKey, -1)).map((i) => ({ ...i, id: `last-${i.id}` })),
        },
      },
    )
  })
