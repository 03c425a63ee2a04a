import { applyPatches } from '../core/model/patch'
import { testRegion, testSession } from '../core/model/fixture.test-util'
import type { Session } from '../core/model/session'
import { handHolds } from './hand'
import type { Known } from './overload.worker'
import { OverloadFinder, type Overload } from './overloads'

/** What the worker was asked, and how it is answered. */
const asked: {
  session: Session
  spans: { from: number; to: number }[] | null
  whole: boolean
  answer(list: Overload[] | null): void
}[] = []
const rests: boolean[] = []
let ended = 0
let current: Session | null = null

jest.mock('comlink', () => ({
  wrap: () => ({
    rest: (on: boolean) => void rests.push(on),
    find: (known: Known, spans: { from: number; to: number }[] | null) => {
      current = 'session' in known ? known.session : applyPatches(current!, known.patches)
      return new Promise<Overload[] | null>((answer) =>
        asked.push({ session: current!, spans, whole: 'session' in known, answer }),
      )
    },
  }),
}))

beforeEach(() => {
  Object.assign(globalThis, {
    Worker: class {
      terminate() {
        ended++
      }
    },
  })
  asked.length = 0
})

const first = testSession([testRegion('a', { length: 1000 }), testRegion('b', { start: 2000, length: 500 })])
const louder = (session: Session, id: string, clipGainDb: number): Session => ({
  ...session,
  regions: { ...session.regions, [id]: { ...session.regions[id]!, clipGainDb } },
})
const one: Overload[] = [{ trackId: null, from: 0, to: 1024, peak: 1.5 }]

test('all is looked through first, then only what changed; the session goes over once, and then what changed of it', async () => {
  const finder = new OverloadFinder()
  const found = finder.find(first)
  expect([asked[0]!.spans, asked[0]!.whole, asked[0]!.session]).toEqual([null, true, first])
  asked[0]!.answer(one)
  expect(await found).toBe(one)
  const second = louder(first, 'b', 12)
  const again = finder.find(second)
  expect([asked[1]!.spans, asked[1]!.whole, asked[1]!.session]).toEqual([
    [
      { from: 2000, to: 2500 },
      { from: 2000, to: 2500 },
    ],
    false,
    second,
  ])
  asked[1]!.answer([])
  expect(await again).toEqual([])
  finder.close()
})

test('what was not looked through when a newer session came is looked through with it; the older question has no answer', async () => {
  const finder = new OverloadFinder()
  const all = finder.find(first)
  asked[0]!.answer([])
  await all
  const second = louder(first, 'a', 6)
  const third = louder(second, 'b', 6)
  const [older, newer] = [finder.find(second), finder.find(third)]
  expect(asked[2]!.spans!.map((s) => s.from)).toEqual([0, 0, 2000, 2000])
  expect(asked[2]!.session).toEqual(third)
  asked[1]!.answer(null)
  asked[2]!.answer(one)
  expect([await older, await newer]).toEqual([null, one])
  // A fader changes everything.
  void finder.find({ ...third, tracks: { t: { ...third.tracks.t!, volumeDb: 3 } } })
  expect(asked[3]!.spans).toBeNull()
  finder.close()
})

test('it rests while a hand holds something, until it is closed', () => {
  const finder = new OverloadFinder()
  rests.length = 0
  handHolds(true)
  handHolds(false)
  finder.close()
  handHolds(true)
  handHolds(false)
  expect(rests).toEqual([true, false])
  expect(ended).toBeGreaterThan(0)
})
