import fc from 'fast-check'
import { testRegion, testSession } from '../../model/fixture.test-util'
import type { Insert, Session } from '../../model/session'
import type { ChunkCache, ChunkedSound } from '../region/chunk-cache'
import { soundingEnd } from './memory'
import { planSession } from '../plan/plan'
import { graphSession, noiseReader } from '../random-graph.test-util'
import { Renderer } from '../graph/run'
import { latestEnd, tailEnd } from './tail'
import { runs } from '../../units/runs.test-util'

const RATE = 8000
const cache = {
  ...noiseReader(),
  using: (_spans: unknown, work: () => unknown) => Promise.resolve(work()),
} as unknown as ChunkCache<ChunkedSound>

/** Two seconds of noise through one insert. */
function through(kind: Insert['kind'], values: Insert['values']): Session {
  return testSession(
    [testRegion('r', { sourceId: 's0', length: 2 * RATE })],
    { inserts: [{ id: 'i', kind, bypassed: false, values }] },
    {
      sampleRate: RATE,
      sources: {
        s0: { id: 's0', name: 's0', channels: 1, frames: 4 * RATE, sampleRate: RATE, sha256: '0'.repeat(64) },
      },
    },
  )
}
const audible = (session: Session) => tailEnd(planSession(session), cache, { stage: 'mix', tail: 'audible' })

/** One more than the last frame at which a session is at -100 dBFS or above, rendered from its beginning. */
function lastHeard(session: Session, frames: number): number {
  const sides = [new Float32Array(frames), new Float32Array(frames)] as const
  new Renderer(planSession(session), noiseReader()).render(0, ...sides)
  return 1 + Math.max(...sides.map((side) => side.findLastIndex((x) => Math.abs(x) >= 1e-5)))
}

test.each<[Insert['kind'], Insert['values']]>([
  ['compressor', { releaseMs: 5000, thresholdDb: -40 }],
  ['gate', { releaseMs: 5000, holdMs: 2000 }],
  ['ceiling', { releaseMs: 2000, ceilingDbtp: -20 }],
  ['transients', { sustainDb: 12 }],
  ['delay', { mix: 0, timeMs: 900, feedback: 0.9 }],
])('a %s makes no sound of its own: the file ends with the last region', async (kind, values) => {
  const session = through(kind, values)
  expect(soundingEnd(planSession(session)).end).toBe(2 * RATE)
  expect(await audible(session)).toBe(2 * RATE)
})

test('what repeats and rings is in the file for as long as it is heard, and no longer', async () => {
  for (const [kind, values] of [
    ['delay', { timeMs: 100, feedback: 0.5, mix: 0.5 }],
    ['room', { decaySeconds: 0.5, mix: 0.3 }],
    ['equaliser', { 'b1.on': true, 'b1.frequencyHz': 60, 'b1.gainDb': 12, 'b1.q': 5 }],
  ] as const) {
    const session = through(kind, values)
    const end = await audible(session)
    expect(end).toBe(lastHeard(session, 20 * RATE))
    expect(end).toBeGreaterThan(2 * RATE + 200)
  }
  // Noise of -8 dBFS, half of it wet, halved with each repeat: under -100 dBFS after 13 or 14 of them.
  const repeats =
    ((await audible(through('delay', { timeMs: 100, feedback: 0.5, mix: 0.5 }))) / RATE - 2) * 10
  expect(Math.round(repeats)).toBeGreaterThanOrEqual(13)
  expect(Math.round(repeats)).toBeLessThanOrEqual(15)
})

test('no tail and so many seconds of it are kept to the frame', async () => {
  const session = through('room', {})
  const plan = planSession(session)
  const end = (tail: 'none' | number) => tailEnd(plan, cache, { stage: 'mix', tail })
  expect([await end('none'), await end(1.5), await end(0)]).toEqual([2 * RATE, 3.5 * RATE, 2 * RATE])
})

test('after the end of random sessions nothing of -100 dBFS is left, and it is not before the last region', async () => {
  await fc.assert(
    fc.asyncProperty(graphSession, async (session) => {
      const plan = planSession(session)
      const end = await audible(session)
      expect(end).toBeLessThanOrEqual(latestEnd(plan, 'audible'))
      expect(end).toBe(Math.max(plan.length, lastHeard(session, plan.length + 8 * RATE)))
    }),
    { numRuns: runs(10, 50) },
  )
})
