import fc from 'fast-check'
import { testRegion, testSession } from '../../core/model/fixture.test-util'
import { CHUNK_FRAMES, ChunkCache, planSession, Renderer } from '../../core/render'
import type { StoredSound } from '../storage'
import { RenderLoop, type RenderReply } from './render-loop'
import {
  copyRing,
  createRing,
  framesRead,
  framesWritten,
  PLAYING,
  AUDIO_QUANTUM,
  setFramesRead,
  STATE,
  STOPPED,
  type RingMemory,
} from './ring'

const LENGTH = 400_000
const sample = (n: number) => Math.sin(n * 0.01) * 0.5
const sound = Float32Array.from({ length: LENGTH }, (_, n) => sample(n))
const session = (clipGainDb = 0) => ({
  ...testSession([testRegion('a', { length: LENGTH, clipGainDb })], { pan: -1 }),
  sources: { s: { ...testSession([]).sources.s!, frames: LENGTH } },
})

function straight(from: number, frames: number, clipGainDb = 0): Float32Array {
  const left = new Float32Array(frames)
  const reader = {
    read: (_id: string, _c: number, at: number, count: number, out: Float32Array) =>
      void out.set(sound.subarray(at, at + count)),
  }
  new Renderer(planSession(session(clipGainDb)), reader).render(from, left, new Float32Array(frames))
  return left
}

const turn = (ms = 0) => new Promise<void>((resolve) => setTimeout(resolve, ms))

const loops: RenderLoop[] = []
afterEach(() => loops.splice(0).forEach((loop) => loop.close()))

/** A loop over a storage that takes so long for every chunk, and for finding where sounds are. */
function slowLoop(storageMs: () => number, limitBytes = 1) {
  const ring = createRing(false)
  const replies: RenderReply[] = []
  const load = async (_sound: StoredSound, index: number) => {
    await turn(storageMs())
    return [sound.slice(index * CHUNK_FRAMES, (index + 1) * CHUNK_FRAMES)]
  }
  const stored = { key: 's', channels: 1, frames: LENGTH } as unknown as StoredSound
  const loop = new RenderLoop({
    // It forgets what no request needs, so that nearly every step has to wait.
    cache: new ChunkCache<StoredSound>(load, limitBytes),
    findSounds: async () => {
      await turn(storageMs())
      return new Map([['s', stored]])
    },
    reply: (message) => replies.push(message),
  })
  void loop.receive({ type: 'ring', ring })
  void loop.receive({ type: 'session', session: session() })
  loops.push(loop)
  return { loop, ring, replies }
}

async function ready(replies: readonly RenderReply[], run: number): Promise<void> {
  for (let i = 0; i < 2000 && !replies.some((r) => r.type === 'ready' && r.run === run); i++) await turn(1)
  expect(replies).toContainEqual({ type: 'ready', run })
}

/** Plays what is in the ring, as the audio thread does, up to so many frames. */
async function play(ring: RingMemory, frames: number): Promise<Float32Array> {
  const out = new Float32Array(frames)
  for (let done = 0, turns = 0; done < frames; turns++) {
    if (turns > 3000) throw new Error(`only ${done} of ${frames} frames came`)
    const take = Math.min(frames - done, framesWritten(ring) - framesRead(ring))
    copyRing(ring.left, framesRead(ring), out.subarray(done, done + take), 'read')
    setFramesRead(ring, Math.ceil((framesRead(ring) + take) / AUDIO_QUANTUM) * AUDIO_QUANTUM)
    done += take
    await turn()
  }
  return out
}

const firstDifference = (a: Float32Array, b: Float32Array) => a.findIndex((x, i) => x !== b[i])

test('play, pause and play again while the storage is slow: only the last is heard, from its first frame', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(fc.nat(300_000), fc.nat(12), fc.boolean()), { minLength: 2, maxLength: 8 }),
      fc.integer(),
      async (starts, seed) => {
        let n = seed
        const { loop, ring, replies } = slowLoop(() => Math.abs((n = Math.imul(n + 1, 1103515245) >>> 3)) % 7)
        for (const [i, [frame, ms, stops]] of starts.entries()) {
          void loop.receive({ type: 'start', run: i + 1, frame })
          await turn(ms)
          if (stops) void loop.receive({ type: 'stop' })
        }
        const run = starts.length + 1
        const last = starts[0]![0]
        void loop.receive({ type: 'start', run, frame: last })
        await ready(replies, run)
        ring.control[STATE] = PLAYING
        expect(firstDifference(await play(ring, 80_000), straight(last, 80_000))).toBe(-1)
        void loop.receive({ type: 'stop' })
        ring.control[STATE] = STOPPED
        expect(replies.filter((r) => r.type === 'failed')).toEqual([])
      },
    ),
    { numRuns: 12 },
  )
})

test('an edit and a seek that come while sound is fetched are both heard', async () => {
  const { loop, ring, replies } = slowLoop(() => 3)
  void loop.receive({ type: 'start', run: 1, frame: 0 })
  void loop.receive({ type: 'patches', patches: [{ path: ['regions', 'a', 'clipGainDb'], value: -6 }] })
  void loop.receive({ type: 'seek', frame: 200_000 })
  await ready(replies, 1)
  await play(ring, 40_000)
  const heard = await play(ring, 20_000)
  // From a seek that came before anything was played, the place is known.
  const at = 200_000 + 40_064
  expect(firstDifference(heard.subarray(0, 1000), straight(at, 1000, -6))).toBe(-1)
  void loop.receive({ type: 'stop' })
})

test('the end is told once when it has been played, whether the page looks or not, and not while a loop turns', async () => {
  const { loop, ring, replies } = slowLoop(() => 0)
  const end = LENGTH + 12_000
  void loop.receive({ type: 'loop', loop: { from: LENGTH - 2000, to: LENGTH + 20_000 } })
  void loop.receive({ type: 'start', run: 1, frame: LENGTH - 1024 })
  await ready(replies, 1)
  await play(ring, 40_000)
  expect(replies.filter((r) => r.type === 'ended')).toEqual([])
  void loop.receive({ type: 'loop', loop: null })
  void loop.receive({ type: 'start', run: 2, frame: end - 20_000 })
  await ready(replies, 2)
  for (let i = 0; i < 40 && !replies.some((r) => r.type === 'ended'); i++) await play(ring, 1024)
  await play(ring, 4096)
  expect(replies.filter((r) => r.type === 'ended')).toEqual([{ type: 'ended', run: 2, frame: LENGTH }])
  expect(framesRead(ring)).toBeGreaterThanOrEqual(20_000)
  void loop.receive({ type: 'stop' })
})

test('a region heard alone ends at its end and goes back to its start', async () => {
  const { loop, ring, replies } = slowLoop(() => 0)
  void loop.receive({ type: 'alone', regionId: 'a' })
  void loop.receive({ type: 'start', run: 1, frame: LENGTH - 5000 })
  await ready(replies, 1)
  await play(ring, 8192)
  await turn(30)
  expect(replies.at(-1)).toEqual({ type: 'ended', run: 1, frame: 0 })
  void loop.receive({ type: 'stop' })
})

test('a storage that fails is told, and what comes after it plays', async () => {
  let fails = true
  const { loop, ring, replies } = slowLoop(() => {
    if (fails) throw new Error('the storage fails')
    return 0
  })
  await loop.receive({ type: 'start', run: 1, frame: 0 })
  expect(replies).toEqual([{ type: 'failed', message: 'the storage fails' }])
  fails = false
  void loop.receive({ type: 'start', run: 2, frame: 0 })
  await ready(replies, 2)
  expect(firstDifference(await play(ring, 5000), straight(0, 5000))).toBe(-1)
  void loop.receive({ type: 'stop' })
})
