import { applyPatches } from '../../core/model/patch'
import { testRegion, testSession } from '../../core/model/fixture.test-util'
import type { Session } from '../../core/model/session'
import { jobBegins, setPointerHeld, playbackBegins } from '../worker'
import type { KnownSession } from './overload.worker'
import { OverloadFinder, type Overload } from './overloads'

/** What the worker was told, and the way to answer as it does. */
const told: { session: Session; whole: boolean; view: unknown }[] = []
const rests: string[] = []
const beside: string[] = []
let ended = 0
let current: Session | null = null
let answer: (found: Overload[]) => void
let fail: (message: string) => void

jest.mock('comlink', () => ({
  proxy: (x: unknown) => x,
  wrap: () => ({
    listen: (found: typeof answer, _powers: unknown, failed: typeof fail) => {
      answer = found
      fail = failed
    },
    rest: (how: string) => void rests.push(how),
    workBeside: (what: string) => void beside.push(what),
    update: (known: KnownSession, view: unknown) => {
      current = 'session' in known ? known.session : applyPatches(current!, known.patches)
      told.push({ session: current, whole: 'session' in known, view })
    },
  }),
}))

beforeEach(() => {
  Object.assign(globalThis, {
    Worker: class extends EventTarget {
      terminate() {
        ended++
      }
    },
  })
  told.length = rests.length = beside.length = 0
})

const first = testSession([testRegion('a', { length: 1000 }), testRegion('b', { start: 2000, length: 500 })])
const second: Session = {
  ...first,
  regions: { ...first.regions, b: { ...first.regions.b!, clipGainDb: 12 } },
}

test('a session goes over whole once, then only what changed of it; found and failed are both told', () => {
  const heard: unknown[] = []
  const finder = new OverloadFinder({
    onFound: (found) => heard.push(found),
    onCourse: (powers) => heard.push(powers),
    onFailed: (message) => heard.push(message),
  })
  finder.update(first, null)
  finder.update(second, { from: 0, to: 10 })
  expect(told).toEqual([
    { session: first, whole: true, view: null },
    { session: second, whole: false, view: { from: 0, to: 10 } },
  ])
  const one: Overload[] = [{ trackId: null, from: 0, to: 1024, peak: 1.5 }]
  answer(one)
  fail('the storage fails')
  expect(heard).toEqual([one, 'the storage fails'])
  finder.close()
  expect(ended).toBeGreaterThan(0)
})

test('it rests while a hand holds something and while sound begins, and knows which, until it is closed', () => {
  jest.useFakeTimers()
  const finder = new OverloadFinder({
    onFound: () => undefined,
    onCourse: () => undefined,
    onFailed: () => undefined,
  })
  playbackBegins()
  setPointerHeld(true)
  setPointerHeld(false)
  jest.runAllTimers()
  finder.close()
  setPointerHeld(true)
  setPointerHeld(false)
  expect(rests).toEqual(['moment', 'hand', 'moment', 'none'])
  jest.useRealTimers()
})

test('beside a job that somebody waits for it works least, then as before', () => {
  const events = { onFound: () => undefined, onCourse: () => undefined, onFailed: () => undefined }
  const finder = new OverloadFinder(events)
  finder.setPlaying(true)
  const [first, second] = [jobBegins(), jobBegins()]
  const later = new OverloadFinder(events)
  later.close()
  first()
  first()
  second()
  finder.setPlaying(false)
  expect(beside).toEqual(['playing', 'job', 'job', 'playing', 'quiet'])
  finder.close()
  jobBegins()()
  expect(beside).toHaveLength(5)
})
