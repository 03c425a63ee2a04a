import fc from 'fast-check'
import { createBus, createTrack } from '../../core/model/create'
import { testRegion, testSession } from '../../core/model/fixture.test-util'
import type { Insert, Session } from '../../core/model/session'
import { planSession, Renderer, type SourceSpan } from '../../core/render'
import type { SoundCache } from '../storage'
import {
  copyRing,
  createRing,
  framesRead,
  framesWritten,
  positionAt,
  AUDIO_QUANTUM,
  setFramesRead,
} from './ring'
import { Stream } from './stream'
import { runs } from '../../core/units/runs.test-util'

const FRAMES = 160_000
const noise = [0, 1].map((seed) =>
  Float32Array.from(
    { length: FRAMES },
    (_, n) => Math.sin(n * (0.011 + 0.017 * seed) + Math.sin(n * n * 1e-7)) * 0.3,
  ),
)

const whole = {
  read: (id: string, _c: number, frame: number, count: number, out: Float32Array) =>
    out.set(noise[Number(id.slice(1))]!.subarray(frame, frame + count)),
}

/** What was asked for last: a cache that is full has nothing else. */
let asked: readonly SourceSpan[] = []
const cache = {
  ensure: (spans: readonly SourceSpan[]) => {
    asked = spans
    return null
  },
  read: (id: string, channel: number, frame: number, count: number, out: Float32Array) => {
    if (!asked.some((s) => s.sourceId === id && s.from <= frame && s.from + s.count >= frame + count))
      throw new RangeError(`frames from ${frame} of source ${id} are read and were not asked for`)
    whole.read(id, channel, frame, count, out)
  },
} as unknown as SoundCache

const insert = (kind: Insert['kind'], values: Insert['values'], id = kind as string): Insert => ({
  id,
  kind,
  bypassed: false,
  values,
})

/** Two tracks: one with a delay and a ceiling goes through a bus with a delay, one sends to it; a ceiling on the mix. */
function session(volumeDb: number, timeMs: number, lookAheadMs: number, level = 0): Session {
  return testSession(
    [0, 1].map((n) =>
      testRegion(`r${n}`, {
        trackId: `t${n}`,
        sourceId: `s${n}`,
        length: FRAMES - 1000,
        fadeOut: { kind: 'gain', length: 4000, curve: 'linear', bend: 0, level: 0 },
      }),
    ),
    {},
    {
      trackIds: ['t0', 't1'],
      tracks: {
        t0: {
          ...createTrack('t0', 'A', 1, 0),
          volumeDb,
          output: 'b',
          inserts: [
            insert('delay', { timeMs, feedback: 0.2, mix: 0.5 }),
            insert('ceiling', { ceilingDbtp: -9, lookAheadMs: 2, releaseMs: 10 }),
          ],
        },
        t1: {
          ...createTrack('t1', 'B', 1, 1),
          sends: [{ id: 's', to: 'b', levelDb: -6, muted: false, point: 'pre' }],
        },
      },
      busIds: ['b'],
      buses: {
        b: {
          ...createBus('b', 'room', 0),
          inserts: [insert('delay', { timeMs: 21, feedback: 0.15, mix: 0.3, pingPong: true })],
        },
      },
      sources: Object.fromEntries(
        [0, 1].map((n) => [
          `s${n}`,
          {
            id: `s${n}`,
            name: `s${n}`,
            channels: 1 as const,
            frames: FRAMES,
            sampleRate: 48000,
            sha256: '0'.repeat(64),
          },
        ]),
      ),
      mix: {
        trimDb: level,
        volumeDb: 0,
        lanes: {},
        inserts: [],
        lastInserts: [insert('ceiling', { ceilingDbtp: -3, lookAheadMs, releaseMs: 10 })],
      },
    },
  )
}

function fileOf(s: Session): Float32Array {
  const left = new Float32Array(FRAMES)
  new Renderer(planSession(s), whole).render(0, left, new Float32Array(FRAMES))
  return left
}

/** Plays as the audio thread does, and says of each frame which session frame it is. */
async function play(
  stream: Stream,
  ring: ReturnType<typeof createRing>,
  frames: number,
  take: (samples: Float32Array, position: number) => void,
) {
  const part = new Float32Array(AUDIO_QUANTUM)
  for (let done = 0; done < frames; done += AUDIO_QUANTUM) {
    if (done % 2048 === 0) while (await stream.step());
    const read = framesRead(ring)
    expect(framesWritten(ring) - read).toBeGreaterThanOrEqual(AUDIO_QUANTUM)
    copyRing(ring.left, read, part, 'read')
    take(part, positionAt(ring, read))
    setFramesRead(ring, read + AUDIO_QUANTUM)
  }
}

test('playing from 0 has the bits of the file, with delays, a bus and ceilings', async () => {
  const ring = createRing(false)
  const stream = new Stream(planSession(session(0, 30, 5)), cache, ring, null, {}, () => 0)
  stream.start(0)
  const file = fileOf(session(0, 30, 5))
  await play(stream, ring, 30_000, (part, at) => expect(part).toEqual(file.subarray(at, at + AUDIO_QUANTUM)))
})

test('what is rewritten under the same plan keeps its bits', async () => {
  const ring = createRing(false)
  const plan = () => planSession(session(0, 30, 5))
  const stream = new Stream(plan(), cache, ring, null, {}, () => 0)
  stream.start(0)
  const file = fileOf(session(0, 30, 5))
  for (const frames of [128, 5120, 12_800, 640, 9984]) {
    await play(stream, ring, frames, (part, at) =>
      expect(part).toEqual(file.subarray(at, at + AUDIO_QUANTUM)),
    )
    stream.setPlan(plan())
  }
  await play(stream, ring, 30_000, (part, at) => expect(part).toEqual(file.subarray(at, at + AUDIO_QUANTUM)))
})

test('a start elsewhere has what was before it in it', async () => {
  const ring = createRing(false)
  const stream = new Stream(planSession(session(0, 30, 5)), cache, ring, null, {}, () => 0)
  stream.start(70_001)
  const file = fileOf(session(0, 30, 5))
  await play(stream, ring, 3000, (part, at) => {
    for (let i = 0; i < AUDIO_QUANTUM; i++) expect(Math.abs(part[i]! - file[at + i]!)).toBeLessThan(1e-6)
  })
})

type Act =
  | { kind: 'seek'; frame: number }
  | { kind: 'loop'; from: number; length: number }
  | { kind: 'edit'; volumeDb: number; timeMs: number; lookAheadMs: number; level: number }

const act: fc.Arbitrary<Act> = fc.oneof(
  fc.record({ kind: fc.constant('seek' as const), frame: fc.integer({ min: 0, max: 60_000 }) }),
  fc.record({
    kind: fc.constant('loop' as const),
    from: fc.integer({ min: 0, max: 50_000 }),
    length: fc.integer({ min: 900, max: 30_000 }),
  }),
  fc.record({
    kind: fc.constant('edit' as const),
    volumeDb: fc.constantFrom(-12, -3, 0),
    timeMs: fc.constantFrom(10, 30, 44),
    lookAheadMs: fc.constantFrom(1, 5, 20),
    level: fc.constantFrom(0, 6),
  }),
)

test('after any seeks, turns and edits it is the file again once it has settled, without clicks on the way', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(act, fc.integer({ min: 1, max: 12_000 })), { minLength: 1, maxLength: 6 }),
      async (acts) => {
        const ring = createRing(false)
        let now = session(-3, 30, 5)
        let file = fileOf(now)
        const stream = new Stream(planSession(now), cache, ring, null, {}, () => 0)
        stream.start(0)
        // What is in the ring of before is heard for a moment; then what was remembered must settle.
        let settled = 0
        let last: number | null = null
        let heard = 0
        let loop: { from: number; to: number } | null = null
        const take = (part: Float32Array, at: number) => {
          for (let i = 0; i < AUDIO_QUANTUM; i++, heard++) {
            const frame = at + i
            // Near a turn both ways are blended, and a quantum has one position.
            const nearTurn =
              loop !== null &&
              (frame > loop.to - AUDIO_QUANTUM || (frame >= loop.from && frame < loop.from + 512))
            if (heard >= settled && !nearTurn) {
              const off = Math.abs(part[i]! - file[frame]!)
              if (!(off < 1e-6))
                throw new Error(`off by ${off} at ${frame}, ${heard - settled} after settling`)
            }
            if (last !== null && Math.abs(part[i]! - last) > 0.2)
              throw new Error(`a click of ${part[i]! - last} at ${frame}`)
            last = part[i]!
          }
        }
        for (const [what, then] of acts) {
          if (what.kind === 'seek') stream.seek(what.frame)
          else if (what.kind === 'loop') {
            loop = { from: what.from, to: what.from + what.length }
            stream.setLoop(loop)
            stream.seek(what.from)
          } else {
            now = session(what.volumeDb, what.timeMs, what.lookAheadMs, what.level)
            file = fileOf(now)
            stream.setPlan(planSession(now))
          }
          // 640 frames until a rewrite begins, and a block for the blend.
          settled = heard + 2048 + planSession(now).memory.settleFrames
          await play(stream, ring, then, take)
        }
        await play(stream, ring, Math.max(AUDIO_QUANTUM, settled - heard) + 2048, take)
      },
    ),
    {
      numRuns: runs(2, 24),
      // A level before an insert that looks ahead: what it holds from before must not end a latency after the edit.
      examples: [
        [
          [
            [{ kind: 'seek', frame: 21_824 }, 4993],
            [{ kind: 'edit', volumeDb: -12, timeMs: 10, lookAheadMs: 5, level: 6 }, 1],
          ],
        ],
        // Many turns of a short loop lie between what was remembered and what is written.
        [
          [
            [{ kind: 'loop', from: 0, length: 900 }, 5249],
            [{ kind: 'edit', volumeDb: -12, timeMs: 10, lookAheadMs: 5, level: 6 }, 257],
            [{ kind: 'seek', frame: 0 }, 1],
          ],
        ],
        // A turn just where a block begins, and old sound after it.
        [
          [
            [{ kind: 'loop', from: 0, length: 17_920 }, 1],
            [{ kind: 'edit', volumeDb: -12, timeMs: 10, lookAheadMs: 1, level: 0 }, 1],
            [{ kind: 'seek', frame: 0 }, 1],
          ],
        ],
      ],
    },
  )
}, 60_000)

test.each<[what: string, change: (s: Session) => Session, timeMs: number]>([
  ['a region gets quieter', (s) => regionGain(s, -24), 100],
  ['and with repeats that follow closely', (s) => regionGain(s, -24), 2],
  ['a track is silenced', (s) => strip(s, 't0', { muted: true }), 100],
  ['repeats die sooner', (s) => delayed(s, { feedback: 0.1 }), 100],
  ['what is sent to a bus', (s) => strip(s, 't1', { sends: [] }), 100],
  ['a delay is taken away', (s) => strip(s, 't0', { inserts: [] }), 100],
])('no step is heard in repeats after an edit: %s', async (_what, change, timeMs) => {
  const before = echoing(timeMs)
  for (const [first, second] of [
    [before, change(before)],
    [change(before), before],
  ] as const) {
    const ring = createRing(false)
    const stream = new Stream(planSession(first), cache, ring, null, {}, () => 0)
    stream.start(0)
    let [last, slope, bend] = [0, 0, 0]
    const take = (part: Float32Array) => {
      for (const x of part) {
        bend = Math.max(bend, Math.abs(x - last - slope))
        slope = x - last
        last = x
      }
    }
    await play(stream, ring, 12_032, take)
    // Of the sound itself, and of what sounds together.
    const own = bend
    for (const now of [second, first, second]) {
      stream.setPlan(planSession(now))
      // The second comes while the first is hardly heard.
      await play(stream, ring, now === second ? 768 : 12_032, take)
    }
    await play(stream, ring, 24_000, take)
    expect(bend).toBeLessThan(own + 0.01)
  }
})

const strip = (s: Session, id: string, change: Partial<Session['tracks'][string]>): Session => ({
  ...s,
  tracks: { ...s.tracks, [id]: { ...s.tracks[id]!, ...change } },
})

const regionGain = (s: Session, clipGainDb: number): Session => ({
  ...s,
  regions: Object.fromEntries(Object.entries(s.regions).map(([id, r]) => [id, { ...r, clipGainDb }])),
})

const delayed = (s: Session, values: Insert['values']): Session =>
  strip(s, 't0', { inserts: s.tracks.t0!.inserts.map((i) => ({ ...i, values: { ...i.values, ...values } })) })

/** Two low sounds: one through a delay of its own, one through a send and a bus with a room. */
function echoing(timeMs: number): Session {
  const base = session(0, 30, 5)
  return {
    ...base,
    mix: { ...base.mix, lastInserts: [] },
    buses: { b: { ...base.buses.b!, inserts: [insert('room', { mix: 1, decaySeconds: 0.3 })] } },
    tracks: {
      t0: {
        ...base.tracks.t0!,
        output: 'mix',
        inserts: [insert('delay', { timeMs, feedback: 0.8, mix: 0.6 })],
      },
      t1: { ...base.tracks.t1!, sends: [{ ...base.tracks.t1!.sends[0]!, levelDb: 12 }] },
    },
  }
}
