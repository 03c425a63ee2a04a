import { testRegion, testSession } from '../../../core/model/fixture.test-util'
import { changeClipGain } from '../../../core/edit'
import { commit, preview } from '../../../store/edits'
import { opened } from '../../../store/session-slice'
import { createStore, type RootState } from '../../../store/store'
import { throttledReader, subscribeThrottled } from './throttled-selector'

beforeEach(() => jest.useFakeTimers())
afterEach(() => {
  jest.runAllTimers()
  jest.useRealTimers()
})

/**
 * A store with a region that is dragged, and what a calm part shows of its clip gain, with every time that it
 * changed.
 */
function open({ when = true } = {}) {
  const store = createStore()
  store.dispatch(
    opened({ session: testSession([testRegion('a')]), steps: [], done: 0, savedAt: 0, readOnly: false }),
  )
  const read = throttledReader<number>()
  const gain = (state: RootState) => state.session.session!.regions.a!.clipGainDb
  const shown = () => read(store.getState(), gain, Object.is, when)
  const changes = [shown()]
  const stop = subscribeThrottled(store, () => shown() !== changes.at(-1) && changes.push(shown()))
  return {
    shown,
    changes,
    stop,
    drag: (byDb: number) => store.dispatch(preview(changeClipGain, { regionIds: ['a'], byDb })),
    end: (byDb: number) => store.dispatch(commit(changeClipGain, { regionIds: ['a'], byDb })),
  }
}

test('while a hand drags on, a calm part changes about once a second; when it pauses, soon; when it lets go, at once', () => {
  const { changes, drag, end, stop } = open()
  for (let n = 1; n <= 100; n++) {
    drag(-n / 10)
    jest.advanceTimersByTime(16)
  }
  // 1.6 seconds hold one rest: it ends with the look after 7 times 120 ms, when the 53rd movement has been.
  expect(changes).toEqual([0, -5.3])
  jest.advanceTimersByTime(240)
  expect(changes).toEqual([0, -5.3, -10])
  end(-10.1)
  expect(changes.at(-1)).toBe(-10.1)
  stop()
})

test('without a gesture, and for what the hand itself moves, every change is seen', () => {
  const still = open()
  still.end(-3)
  still.end(-4)
  expect(still.changes).toEqual([0, -3, -7])
  still.stop()
  const held = open({ when: false })
  held.drag(-1)
  held.drag(-2)
  expect(held.changes).toEqual([0, -1, -2])
  held.stop()
})

test('all calm parts change at the same rest; what has left hears no more', () => {
  const [one, other] = [open(), open()]
  one.drag(-1)
  jest.advanceTimersByTime(100)
  other.drag(-2)
  jest.advanceTimersByTime(240)
  expect([one.shown(), other.shown()]).toEqual([-1, -2])
  one.stop()
  one.drag(-5)
  jest.advanceTimersByTime(500)
  expect(one.changes).toEqual([0, -1])
  other.stop()
})

test('what is found equal stays the same object', () => {
  const read = throttledReader<{ n: number }>()
  const state = createStore().getState()
  const first = read(
    state,
    () => ({ n: 1 }),
    (a, b) => a.n === b.n,
    true,
  )
  expect(
    read(
      state,
      () => ({ n: 1 }),
      (a, b) => a.n === b.n,
      true,
    ),
  ).toBe(first)
  expect(
    read(
      state,
      () => ({ n: 2 }),
      (a, b) => a.n === b.n,
      true,
    ),
  ).toEqual({ n: 2 })
})
