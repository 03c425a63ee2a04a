// A delay of 4 s at a feedback of 0.9 on a bus, latencies on the way to it and after it: after random seeks, loops and edits, what
// is played is compared with the file, frame by frame, from when it has settled (ten minutes later) on.
import { createBus, createTrack } from '../src/core/model/create'
import { testRegion, testSession } from '../src/core/model/fixture.test-util'
import type { Insert, Session } from '../src/core/model/session'
import { planSession, Renderer } from '../src/core/render'
import type { SoundCache } from '../src/engine/storage'
import {
  copyRing,
  createRing,
  framesRead,
  positionAt,
  AUDIO_QUANTUM,
  setFramesRead,
} from '../src/engine/playback'
import { Stream } from '../src/engine/playback'

/** Low, so that ten minutes are not many frames. */
const RATE = 8000
const SECONDS = 680
const FRAMES = SECONDS * RATE
const RUNS = 3

const sounds = [0, 1].map((seed) =>
  Float32Array.from(
    { length: FRAMES },
    (_, n) => Math.sin(n * (0.011 + 0.017 * seed) + Math.sin(n * n * 1e-9)) * 0.1,
  ),
)
const cache = {
  ensure: () => null,
  read: (id: string, _channel: number, frame: number, count: number, out: Float32Array) =>
    out.set(sounds[Number(id.slice(1))]!.subarray(frame, frame + count)),
} as unknown as SoundCache

const insert = (kind: Insert['kind'], values: Insert['values']): Insert => ({
  id: kind,
  kind,
  bypassed: false,
  values,
})

const session = (volumeDb: number, lookAheadMs: number): Session =>
  testSession(
    [0, 1].map((n) => testRegion(`r${n}`, { trackId: `t${n}`, sourceId: `s${n}`, length: FRAMES })),
    {},
    {
      sampleRate: RATE,
      trackIds: ['t0', 't1'],
      tracks: {
        t0: {
          ...createTrack('t0', 'A', 1, 0),
          volumeDb,
          output: 'b',
          inserts: [insert('ceiling', { ceilingDbtp: -24, lookAheadMs: 2, releaseMs: 10 })],
        },
        t1: {
          ...createTrack('t1', 'B', 1, 1),
          sends: [{ id: 's', to: 'b', levelDb: -6, muted: false, point: 'pre' }],
          inserts: [insert('compressor', { thresholdDb: -30, releaseMs: 20 })],
        },
      },
      busIds: ['b'],
      buses: {
        b: {
          ...createBus('b', 'echo', 0),
          inserts: [insert('delay', { timeMs: 4000, feedback: 0.9, mix: 0.4 })],
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
            sampleRate: RATE,
            sha256: '0'.repeat(64),
          },
        ]),
      ),
      mix: {
        volumeDb: 0,
        lanes: {},
        inserts: [],
        lastInserts: [insert('ceiling', { ceilingDbtp: -3, lookAheadMs, releaseMs: 10 })],
      },
    },
  )

/** Numbers that are the same in every run. */
let seed = 1
const random = (below: number) => (seed = (seed * 48_271) % 2_147_483_647) % below

let failed = false
for (let n = 0; n < RUNS; n++) {
  let now = session(-3, 5)
  const ring = createRing(false)
  const stream = new Stream(planSession(now), cache, ring, null)
  stream.start(0)
  const part = new Float32Array(AUDIO_QUANTUM)
  let last: number | null = null
  let clicks = 0
  const play = async (frames: number, take?: (frame: number, sample: number) => void) => {
    for (let done = 0; done < frames; done += AUDIO_QUANTUM) {
      if (done % 2048 === 0) while (await stream.step());
      const read = framesRead(ring)
      copyRing(ring.left, read, part, 'read')
      const at = positionAt(ring, read)
      for (let i = 0; i < AUDIO_QUANTUM; i++) {
        if (last !== null && Math.abs(part[i]! - last) > 0.2) clicks++
        last = part[i]!
        take?.(at + i, part[i]!)
      }
      setFramesRead(ring, read + AUDIO_QUANTUM)
    }
  }
  const acts: string[] = []
  for (let a = 0; a < 8; a++) {
    const what = random(3)
    if (what === 0) stream.seek(random(20 * RATE))
    else if (what === 1) {
      const from = random(10 * RATE)
      stream.setLoop({ from, to: from + 900 + random(8 * RATE) })
      stream.seek(from)
    } else {
      now = session([-12, -3, 0][random(3)]!, [1, 5, 20][random(3)]!)
      stream.setPlan(planSession(now))
    }
    acts.push(['seek', 'loop', 'edit'][what]!)
    await play(1 + random(6 * RATE))
  }
  stream.setLoop(null)
  stream.seek(random(RATE))
  const plan = planSession(now)
  const file = new Float32Array(FRAMES)
  new Renderer(plan, cache).render(0, file, new Float32Array(FRAMES))
  // What was before is still heard at first, or this would say nothing.
  let unsettled = 0
  await play(plan.memory.settleFrames + 4096, (frame, sample) => {
    unsettled = Math.max(unsettled, Math.abs(sample - file[frame]!))
  })
  let [compared, worst] = [0, 0]
  await play(5 * RATE, (frame, sample) => {
    compared++
    worst = Math.max(worst, Math.abs(sample - file[frame]!))
  })
  const good = worst < 1e-6 && unsettled > 1e-3 && clicks === 0
  failed ||= !good
  console.log(
    `${acts.join(', ')}: off by up to ${unsettled.toFixed(3)}, settled after ${(plan.memory.settleFrames / RATE).toFixed(0)} s, then ${compared} frames within ` +
      `${worst.toExponential(1)} of the file, ${clicks} clicks`,
  )
}
process.exit(failed ? 1 : 0)
