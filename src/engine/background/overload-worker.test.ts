import { testRegion, testSession } from '../../core/model/fixture.test-util'
import type { Session } from '../../core/model/session'
import { ChunkCache, type ChunkedSound } from '../../core/render'
import type { OverloadWorker } from './overload.worker'

let worker: OverloadWorker
/** Resolves when the relations of crossfades are to be known. */
let correlations: Promise<void> = Promise.resolve()

jest.mock('comlink', () => ({ expose: (exposed: OverloadWorker) => (worker = exposed) }))
jest.mock('../storage/audio-store', () => ({
  storeCache: () =>
    new ChunkCache<ChunkedSound>(async ({ channels }) =>
      Array.from({ length: channels }, () => new Float32Array(1 << 16).fill(1.5)),
    ),
  soundsOf: async (sources: Session['sources']) =>
    new Map(Object.values(sources).map(({ id, channels, frames }) => [id, { key: id, channels, frames }])),
}))
jest.mock('../storage/correlations', () => ({
  correlationsOf: async () => {
    await correlations
    return new Map()
  },
}))

const until = async (holds: () => boolean) => {
  for (let n = 0; n < 2000 && !holds(); n++) await new Promise((resolve) => setTimeout(resolve, 10))
  expect(holds()).toBe(true)
}

test('a session whose sounds are gone after undo is searched without a word about what was searched before', async () => {
  await import('./overload.worker')
  let [looked, flags] = [0, 0]
  const failures: string[] = []
  worker.listen(
    (found, part) => ([looked, flags] = [part, found.length]),
    () => undefined,
    (message) => failures.push(message),
  )
  const before = testSession([testRegion('a', { length: 480_000 })])
  const rendered: Session = {
    ...before,
    sources: { ...before.sources, rendered: { ...before.sources.s!, id: 'rendered' } },
    regions: { a: { ...before.regions.a!, sourceId: 'rendered' } },
  }
  await worker.update({ session: rendered }, null)
  // Undo: the sounds of the session before are known, and how its regions relate is being found out, while the search goes on.
  let known = () => undefined as void
  correlations = new Promise((resolve) => (known = resolve))
  const updated = worker.update({ session: before }, null)
  await new Promise((resolve) => setTimeout(resolve, 150))
  known()
  await updated
  await until(() => looked === 1)
  expect(flags).toBeGreaterThan(0)
  expect(failures).toEqual([])
})

test('what is found is told with how much was looked at, until that is all', async () => {
  await import('./overload.worker')
  const parts: number[] = []
  const flags: number[] = []
  worker.listen(
    (found, part) => {
      parts.push(part)
      flags.push(found.length)
    },
    () => undefined,
    () => undefined,
  )
  const regions = Array.from({ length: 40 }, (_, n) =>
    testRegion(`r${n}`, { start: n * 480_000, length: 480_000 }),
  )
  await worker.update({ session: testSession(regions) }, null)
  await until(() => parts.at(-1) === 1)
  expect(parts[0]).toBeLessThan(0.9)
  expect(flags[0]).toBeGreaterThan(0)
  expect(parts).toEqual([...parts].sort((a, b) => a - b))
})
