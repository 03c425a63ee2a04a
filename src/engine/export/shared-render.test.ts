import fc from 'fast-check'
import type { Session } from '../../core/model/session'
import { planSession, Renderer } from '../../core/render'
import { graphSession, noiseReader } from '../../core/render/random-graph.test-util'
import type { SoundCache } from '../storage'
import { sharedBlocks, type SliceThread } from './shared-render'
import { SliceRender, StripRender, type SliceMessage, type SliceReply } from './slice-render'
import { runs } from '../../core/units/runs.test-util'

/** Seven seconds: long enough to be shared. */
const FRAMES = 56_000

const cache = () => {
  const reader = noiseReader()
  return {
    read: reader.read,
    using: (_spans: unknown, run: () => unknown) => Promise.resolve(run()),
  } as unknown as SoundCache
}

/** A thread within this one, which answers a while later. */
function thread(): SliceThread {
  let slices: SliceRender | null = null
  let strips: StripRender | null = null
  const answer = async (message: SliceMessage): Promise<SliceReply> => {
    if (message.type === 'frames') return slices!.frames(message.at, message.count)
    if (message.type === 'next') return strips!.next()
    const { render, part } = message
    if (part) strips = new StripRender(render, part, cache(), () => undefined)
    else slices = new SliceRender(render, cache(), () => undefined)
    return { type: 'begun', first: strips?.first ?? render.start }
  }
  let queue: Promise<unknown> = Promise.resolve()
  const made: SliceThread = {
    tell(message) {
      const later = new Promise((resolve) => setTimeout(resolve, Math.random() * 3))
      queue = Promise.all([queue, later])
        .then(() => answer(message))
        .then((reply) => made.onReply(reply))
    },
    onReply: () => undefined,
    close: () => undefined,
  }
  return made
}

async function shared(session: Session, threads: number, from: number): Promise<Float32Array[]> {
  const sides = [new Float32Array(FRAMES - from), new Float32Array(FRAMES - from)]
  const options = {
    session,
    correlations: new Map<string, number>(),
    unshaped: false,
    trackIds: null,
    stage: 'mix' as const,
  }
  for await (const block of sharedBlocks({ ...options, from, to: FRAMES, threads }, cache(), thread)) {
    sides[0]!.set(block.left, block.from - from)
    sides[1]!.set(block.right, block.from - from)
  }
  return sides
}

test('one, two and four threads give the bits of a render on one alone', async () => {
  await fc.assert(
    fc.asyncProperty(graphSession, fc.constantFrom(0, 777, 15_000), async (session, from) => {
      const whole = [new Float32Array(FRAMES), new Float32Array(FRAMES)] as const
      new Renderer(planSession(session), cache()).render(0, ...whole)
      for (const threads of [0, 1, 2, 4]) {
        const sides = await shared(session, threads, from)
        for (const side of [0, 1] as const) {
          const off = sides[side]!.findIndex((x, i) => x + 0 !== whole[side][from + i]! + 0)
          if (off >= 0) throw new Error(`${threads} threads differ at ${from + off}`)
        }
      }
    }),
    { numRuns: runs(4, 16) },
  )
}, 60_000)

test('without memory that threads can share it is rendered on one alone', async () => {
  const [session] = fc.sample(graphSession, { numRuns: 1, seed: 3 })
  expect(planSession(session!).memory.remembers).toBe(true)
  const whole = await shared(session!, 0, 0)
  const given = globalThis.SharedArrayBuffer
  Object.assign(globalThis, { SharedArrayBuffer: undefined })
  try {
    expect(await shared(session!, 2, 0)).toEqual(whole)
  } finally {
    Object.assign(globalThis, { SharedArrayBuffer: given })
  }
})

test('what goes wrong in a thread is met by whoever asked', async () => {
  const [session] = fc.sample(graphSession, { numRuns: 1, seed: 3 })
  const failing = (): SliceThread => {
    const made: SliceThread = {
      tell: ({ type }) =>
        setTimeout(() =>
          made.onReply(
            type === 'begin' ? { type: 'begun', first: 0 } : { type: 'failed', message: 'no sound' },
          ),
        ),
      onReply: () => undefined,
      close: () => undefined,
    }
    return made
  }
  const options = {
    session: session!,
    correlations: new Map<string, number>(),
    unshaped: false,
    trackIds: null,
    stage: 'mix' as const,
  }
  const plain = {
    ...session!,
    buses: {},
    busIds: [],
    tracks: Object.fromEntries(
      Object.entries(session!.tracks).map(([id, t]) => [
        id,
        { ...t, inserts: [], sends: [], output: 'mix', lanes: {} },
      ]),
    ),
    mix: { ...session!.mix, inserts: [], lastInserts: [] },
  }
  const run = async (of: Session) => {
    for await (const block of sharedBlocks(
      { ...options, session: of, from: 0, to: FRAMES, threads: 2 },
      cache(),
      failing,
    ))
      void block
  }
  for (const one of [plain, session!]) await expect(run(one)).rejects.toThrow('no sound')
})
