import { testRegion, testSession } from '../../core/model/fixture.test-util'
import { planSession, Renderer, type SourceSpan } from '../../core/render'
import type { SoundCache } from '../storage'
import {
  copyRing,
  createRing,
  framesRead,
  framesWritten,
  positionAt,
  AUDIO_QUANTUM,
  AHEAD_FRAMES,
  RING_FRAMES,
  setFramesRead,
  setFramesWritten,
} from './ring'
import { Stream } from './stream'

const noise = Float32Array.from({ length: 480000 }, (_, n) => Math.sin(n * n * 0.0137) * 0.5)

/** A cache that has everything; `late` chunks arrive only after a moment. */
function cacheOf(late = false) {
  let waited = false
  return {
    ensure: () => (late && !waited ? ((waited = true), Promise.resolve()) : ((waited = false), null)),
    read: (_id: string, _c: number, frame: number, count: number, out: Float32Array) =>
      out.set(noise.subarray(frame, frame + count)),
  } as unknown as SoundCache
}

const session = (clipGainDb = 0) =>
  testSession([
    testRegion('a', {
      length: 200000,
      clipGainDb,
      fadeIn: { kind: 'gain', length: 50000, curve: 'equal-power', bend: 0, level: 0 },
    }),
  ])

function straight(from: number, frames: number, gain = 0): Float32Array {
  const left = new Float32Array(frames)
  new Renderer(planSession(session(gain)), cacheOf()).render(from, left, new Float32Array(frames))
  return left
}

/** Reads like the audio thread: whatever is there, up to `frames`. */
async function play(
  stream: Stream,
  ring: ReturnType<typeof createRing>,
  frames: number,
): Promise<Float32Array> {
  const out = new Float32Array(frames)
  for (let done = 0; done < frames;) {
    while (await stream.step());
    const read = framesRead(ring)
    const take = Math.min(frames - done, framesWritten(ring) - read, 4224)
    copyRing(ring.left, read, out.subarray(done, done + take), 'read')
    setFramesRead(ring, Math.ceil((read + take) / AUDIO_QUANTUM) * AUDIO_QUANTUM)
    done += take
  }
  return out
}

function streaming(late = false, from = 0) {
  const ring = createRing(false)
  const stream = new Stream(planSession(session()), cacheOf(late), ring, null, {}, () => 0)
  stream.start(from)
  return { ring, stream }
}

const firstDifference = (a: Float32Array, b: Float32Array) => a.findIndex((x, i) => x !== b[i])

test.each([false, true])(
  'what goes through the ring is what is rendered, to the bit (sound arriving late: %p)',
  async (late) => {
    const { ring, stream } = streaming(late, 1234)
    expect(firstDifference(await play(stream, ring, 150000), straight(1234, 150000))).toBe(-1)
  },
)

test('an edit is heard within 2048 frames, blended over 256, and exact from there', async () => {
  const { ring, stream } = streaming()
  const before = await play(stream, ring, 60032)
  stream.setPlan(planSession(session(-6)))
  const after = await play(stream, ring, 40000)
  expect(firstDifference(before, straight(0, 60032))).toBe(-1)
  const old = straight(60032, 40000)
  const fresh = straight(60032, 40000, -6)
  const heard = firstDifference(after, old)
  expect(heard).toBeGreaterThan(0)
  expect(heard).toBeLessThan(2048)
  const exact = heard + 256
  expect(firstDifference(after.subarray(exact), fresh.subarray(exact))).toBe(-1)
})

test('an edit does not wait for sound that is fetched for later', async () => {
  const ring = createRing(false)
  let arrive = (): void => undefined
  /** From frame 40000 on sound takes long to come. */
  const fetching = (last: number) =>
    last > 40_000 ? new Promise<void>((resolve) => (arrive = resolve)) : null
  const cache = {
    ...cacheOf(),
    ensure: (spans: readonly SourceSpan[]) => fetching(Math.max(...spans.map((s) => s.from + s.count))),
  } as unknown as SoundCache
  const stream = new Stream(planSession(session()), cache, ring, null, {}, () => 0)
  stream.start(0)
  while (framesWritten(ring) < 38_912) await stream.step()
  const step = stream.step()
  await new Promise((resolve) => setTimeout(resolve))
  stream.setPlan(planSession(session(-6)))
  await step
  await stream.step()
  expect(framesWritten(ring)).toBe(38_912)
  const heard = new Float32Array(8192)
  copyRing(ring.left, 0, heard, 'read')
  const [old, fresh] = [straight(0, 8192), straight(0, 8192, -6)]
  expect(firstDifference(heard, old)).toBe(641)
  expect(firstDifference(heard.subarray(896, 1024), fresh.subarray(896, 1024))).toBe(-1)
  arrive()
})

test('a seek goes on from there, and the positions say so', async () => {
  const { ring, stream } = streaming()
  await play(stream, ring, 10112)
  stream.seek(100000)
  const after = await play(stream, ring, 20000)
  const target = straight(100000, 20000)
  // 640 frames ahead; a row of meters ends 512 frames after that, far enough for the blend.
  const begun = 640
  expect(firstDifference(after, straight(10112, 20000))).toBe(begun + 1)
  expect(firstDifference(after.subarray(begun + 256), target.subarray(256))).toBe(-1)
  while (await stream.step());
  expect(positionAt(ring, framesRead(ring))).toBeGreaterThanOrEqual(100000 + 18000)
})

test('a loop turns at its exact frame, again and again', async () => {
  const { ring, stream } = streaming(false, 60000)
  stream.setLoop({ from: 60000, to: 63001 })
  const out = await play(stream, ring, 12032)
  const once = straight(60000, 3001)
  expect(firstDifference(out.subarray(0, 3001), once)).toBe(-1)
  for (const turn of [1, 2, 3])
    expect(firstDifference(out.subarray(turn * 3001 + 256, (turn + 1) * 3001), once.subarray(256))).toBe(-1)
})

test('the ring is never filled beyond what was played', async () => {
  const { ring, stream } = streaming()
  while (await stream.step());
  expect(framesWritten(ring)).toBeLessThanOrEqual(AHEAD_FRAMES)
  expect(framesWritten(ring)).toBeGreaterThan(AHEAD_FRAMES - 2048)
})

/**
 * A ring over a level of 1, played on by so many frames while the renderer makes 1024; what was heard of it meanwhile.
 */
function slow(frames: number) {
  const ring = createRing(false)
  const heard: number[] = []
  /** Held up once for so many frames as soon as it works. */
  const machine = { busy: false, held: 0 }
  let owed = 0
  const playOn = (by: number) => {
    owed += by
    const read = framesRead(ring)
    const part = new Float32Array(Math.min(owed - (owed % AUDIO_QUANTUM), framesWritten(ring) - read))
    owed -= part.length
    copyRing(ring.left, read, part, 'read')
    setFramesRead(ring, read + part.length)
    heard.push(...part)
  }
  const cache = {
    ensure: () => null,
    read: (_id: string, _c: number, _frame: number, count: number, out: Float32Array) => {
      out.fill(1, 0, count)
      if (!machine.busy) return
      playOn((frames * count) / 1024 + machine.held)
      machine.held = 0
    },
  } as unknown as SoundCache
  const level = (clipGainDb: number) =>
    planSession(testSession([testRegion('a', { length: 400000, clipGainDb })]))
  const stream = new Stream(level(0), cache, ring, null, {}, () => heard.length / 48)
  stream.start(0)
  return { ring, heard, machine, stream, level, playOn }
}

test('an edit leaves no less in the ring than there was', async () => {
  const { ring, stream, level } = slow(0)
  while (await stream.step());
  setFramesRead(ring, 8192)
  stream.setPlan(level(-6))
  for (let more = true; more;) {
    more = await stream.step()
    expect(framesWritten(ring)).toBeGreaterThanOrEqual(AHEAD_FRAMES)
  }
  expect(framesWritten(ring)).toBe(AHEAD_FRAMES + 8192)
})

test.each([200, 900, 1500, 5000])(
  'a rendering that takes %p frames a block: the old sound plays on until the new one is there, without a jump',
  async (frames) => {
    const { ring, heard, machine, stream, level, playOn } = slow(frames)
    while (await stream.step());
    const before = ring.left[0]!
    machine.busy = true
    stream.setPlan(level(-20))
    // When the ring is full it is played on.
    while (heard.length < 60000) if (!(await stream.step())) playOn(1024)
    machine.busy = false
    expect(heard.slice(0, 640).every((x) => x === before)).toBe(true)
    // Every way from one to the other takes 256 frames, 0.9 of the level at the most.
    let steepest = 0
    for (let i = 1; i < heard.length; i++) steepest = Math.max(steepest, Math.abs(heard[i]! - heard[i - 1]!))
    expect(steepest).toBeLessThan((0.91 * before) / 256)
    // In the end what is heard is new.
    while (await stream.step());
    expect(ring.left[(framesWritten(ring) - 1) % RING_FRAMES]! / before).toBeCloseTo(0.1, 6)
    expect(ring.left[(framesRead(ring) + 20000) % RING_FRAMES]! / before).toBeCloseTo(0.1, 6)
  },
)

test('how long an edit takes to be rendered is known from the one before: the next is heard as soon as it can be', async () => {
  const { ring, heard, machine, stream, level, playOn } = slow(1500)
  while (await stream.step());
  machine.busy = true
  const latencies: number[] = []
  for (const gain of [-6, -12, -18]) {
    const [begun, before] = [heard.length, heard.at(-1) ?? ring.left[0]!]
    stream.setPlan(level(gain))
    while (heard.at(-1) === before || heard.length === begun) if (!(await stream.step())) playOn(1024)
    latencies.push(heard.findIndex((x, i) => i >= begun && x !== before) - begun)
    // Then it is quick enough for the ring to be filled again.
    machine.busy = false
    while (await stream.step());
    playOn(1024)
    while (await stream.step());
    machine.busy = true
  }
  // A block of 1024 frames, and 256 that go over from it, take 1875 frames, and a quarter; 512 to spare; up to the next quantum,
  // and beyond a row's end. Only the first is late: it, and a block that runs after it.
  const takes = 1500 * 1.25
  const soon = takes * 1.25 + 512 + AUDIO_QUANTUM + 256
  expect(latencies[0]).toBeLessThan(takes + 1500 + soon)
  for (const latency of latencies.slice(1)) expect(latency).toBeLessThan(soon)
})

test('before the first edit, the blocks tell how long it will take: it is not begun in vain', async () => {
  const { heard, machine, stream, level, playOn } = slow(600)
  while (await stream.step());
  machine.busy = true
  // What is played is followed by blocks that take 600 frames each.
  while (heard.length < 20_000) if (!(await stream.step())) playOn(1024)
  const [begun, before] = [heard.length, heard.at(-1)!]
  stream.setPlan(level(-6))
  while (heard.at(-1) === before) if (!(await stream.step())) playOn(1024)
  const latency = heard.findIndex((x, i) => i >= begun && x !== before) - begun
  // A block and what goes over from it take 750 frames. 1.75 blocks are expected, and a quarter; 512 to spare; the next quantum, and
  // beyond a row's end.
  expect(latency).toBeGreaterThan(750)
  expect(latency).toBeLessThan(1.75 * 600 * 1.25 + 512 + AUDIO_QUANTUM + 256)
})

test.each([
  // It is begun 1168 ahead (as above), with the 256 frames up to the row's end. They and a blend take 150 more: too late for any of
  // them. The block after them is ready at 1525 and comes in 512 later.
  [1000, 1525 + 512 + AUDIO_QUANTUM],
  // At 2250 much of the next block is played: it is begun again, 1168 ahead, and up to a quantum and a row's end.
  [2100, 2250 + 1168 + AUDIO_QUANTUM + 256],
])(
  'a rewrite that is held up for %p frames comes in as soon as it is ahead of what plays: within %p',
  async (held, within) => {
    const { ring, heard, machine, stream, level, playOn } = slow(300)
    while (await stream.step());
    machine.busy = true
    while (heard.length < 20_000) if (!(await stream.step())) playOn(1024)
    const [begun, before] = [heard.length, ring.left[0]!]
    stream.setPlan(level(-6))
    machine.held = held
    while (heard.length < begun + 6000) if (!(await stream.step())) playOn(1024)
    const first = heard.findIndex((x) => x !== before)
    const latency = first - begun
    expect(latency).toBeGreaterThan(held)
    expect(latency).toBeLessThanOrEqual(within + 1)
    // It goes over once, and stays.
    const after = heard.slice(first - 1)
    expect(after.slice(1).every((x, i) => x <= after[i]!)).toBe(true)
    expect(heard[first + 255]! / before).toBeCloseTo(10 ** (-6 / 20), 6)
  },
)

test('playing goes on past the frames that a 32-bit number can count', async () => {
  const { ring, stream } = streaming()
  while (await stream.step());
  // Thirteen hours at 48 kHz: as if the loop had been turning for so long.
  const far = Math.ceil((13 * 3600 * 48000) / RING_FRAMES) * RING_FRAMES
  expect(far).toBeGreaterThan(2 ** 31)
  setFramesRead(ring, far)
  setFramesWritten(ring, far)
  expect([framesRead(ring), framesWritten(ring)]).toEqual([far, far])
  stream.seek(5000)
  const heard = await play(stream, ring, 20_000)
  expect(firstDifference(heard.subarray(256), straight(5000, 20_000).subarray(256))).toBe(-1)
})

test('what is too large to be a number is silence in the ring, and is told once it comes', async () => {
  const ring = createRing(false)
  const huge = noise.slice()
  huge[30_000] = 3e38
  const cache = {
    ensure: () => null,
    read: (_id: string, _c: number, frame: number, count: number, out: Float32Array) =>
      out.set(huge.subarray(frame, frame + count)),
  } as unknown as SoundCache
  const told: number[] = []
  const faults = { onTooLarge: (frame: number) => void told.push(frame) }
  const stream = new Stream(
    planSession(testSession([testRegion('a', { clipGainDb: 36 })])),
    cache,
    ring,
    null,
    faults,
  )
  stream.start(0)
  const heard = await play(stream, ring, 40_000)
  expect(heard.every(Number.isFinite)).toBe(true)
  expect(heard[30_000]).toBe(0)
  expect(heard[29_999]).not.toBe(0)
  expect(told).toEqual([30_000])
})
