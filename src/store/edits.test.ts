import { changeClipGain, setTitle } from '../core/edit'
import { defineEdit } from '../core/edit'
import { createSession } from '../core/model/create'
import { testRegion, testSession } from '../core/model/fixture.test-util'
import type { Patch } from '../core/model/patch'
import { LIMITS, type Session } from '../core/model/session'
import { commit, dropPreview, jumpTo, preview, redo, undo } from './edits'
import { opened } from './session-slice'
import { createStore } from './store'

function open(readOnly = false) {
  const store = createStore()
  store.dispatch(
    opened({ session: testSession([testRegion('a')]), steps: [], done: 0, savedAt: 0, readOnly }),
  )
  return store
}

const gain = (store: ReturnType<typeof open>) => store.getState().session.session!.regions.a!.clipGainDb
const louder = { regionIds: ['a'], byDb: 2 }

test('a drag is one step, however many previews it took, and undo goes back before it', () => {
  const store = open()
  const before = store.getState().session.session
  for (const byDb of [0.5, 1, 1.5]) store.dispatch(preview(changeClipGain, { regionIds: ['a'], byDb }))
  expect(gain(store)).toBe(1.5)
  expect(store.getState().session.steps).toHaveLength(0)
  store.dispatch(commit(changeClipGain, louder))
  expect(store.getState().session.steps.map((s) => s.label)).toEqual(['Clip gain of “a” 0.0 → +2.0 dB'])
  expect(gain(store)).toBe(2)
  store.dispatch(undo())
  expect(store.getState().session.session).toEqual(before)
  store.dispatch(redo())
  expect(gain(store)).toBe(2)
})

test('a gesture given up, or one that comes back to where it began, leaves no step', () => {
  const store = open()
  store.dispatch(preview(changeClipGain, louder))
  store.dispatch(dropPreview())
  expect(gain(store)).toBe(0)
  store.dispatch(preview(changeClipGain, louder))
  expect(store.dispatch(commit(changeClipGain, { regionIds: ['a'], byDb: 0 }))).toBe(false)
  expect([gain(store), store.getState().session.base, store.getState().session.steps.length]).toEqual([
    0,
    null,
    0,
  ])
})

test('one can jump anywhere in the history; a step after that drops what was undone, under a new number', () => {
  const store = open()
  for (let i = 0; i < 5; i++) store.dispatch(commit(changeClipGain, louder))
  store.dispatch(jumpTo(2))
  expect(gain(store)).toBe(4)
  store.dispatch(jumpTo(5))
  expect(gain(store)).toBe(10)
  store.dispatch(jumpTo(0))
  const used = store.getState().session.steps.map((s) => s.number)
  store.dispatch(commit(setTitle, { title: 'Other' }))
  const { steps, done } = store.getState().session
  expect([steps.length, done, gain(store)]).toEqual([1, 1, 0])
  expect(used).not.toContain(steps[0]!.number)
})

test('a read-only session takes no edit', () => {
  const store = open(true)
  expect(store.dispatch(commit(changeClipGain, louder))).toBe(false)
  store.dispatch(preview(changeClipGain, louder))
  expect(gain(store)).toBe(0)
})

test('an edit that would make the session too large to be opened again changes nothing and says so', () => {
  const store = createStore()
  const many = Object.fromEntries(
    Array.from({ length: LIMITS.regions }, (_, i) => [
      `r${i}`,
      testRegion(`r${i}`, { start: i * 2, length: 1 }),
    ]),
  )
  const session = { ...testSession([]), regions: many }
  store.dispatch(opened({ session, steps: [], done: 0, savedAt: 0, readOnly: false }))
  const oneMore = defineEdit({
    name: 'oneMore',
    label: () => 'One more',
    apply: (s: Session) => ({
      ...s,
      regions: { ...s.regions, x: testRegion('x', { start: 9e6, length: 1 }) },
    }),
  })
  expect(store.dispatch(commit(oneMore, undefined))).toBe(false)
  expect(store.getState().session.session).toBe(session)
  expect(
    store
      .getState()
      .transport.notices.map((n) => n.text)
      .join(),
  ).toMatch(/^Nothing was changed, .* 200001/)
})

test('a step of an earlier visit that does not fit any more is said, and nothing changes', () => {
  const store = createStore()
  const session = createSession('s', 'Whole', 48000)
  const step = (inverse: Patch[]) => ({ number: 1, label: 'Odd', at: 0, forward: [], inverse })
  for (const inverse of [
    [{ path: ['tracks', 'nobody', 'name'], value: 'x' }],
    [{ path: ['mix', 'volumeDb'], value: 'loud' }],
  ]) {
    store.dispatch(opened({ session, steps: [step(inverse)], done: 1, savedAt: 0, readOnly: false }))
    store.dispatch(undo())
    expect(store.getState().session).toMatchObject({ session, done: 1 })
    expect(store.getState().transport.notices).toMatchObject([{ id: 'history' }])
  }
})
