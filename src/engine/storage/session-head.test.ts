import fc from 'fast-check'
import type { Step } from '../../core/model/history'
import { diff } from '../../core/model/patch'
import { testSession } from '../../core/model/fixture.test-util'
import type { Session } from '../../core/model/session'
import { withNewerHead } from './session-store'
import type { SessionHead, SessionRecord } from './storage'

/** A history as the editor makes one: steps to new titles, undo, redo; every step under a number of its own. */
class History {
  number = 0
  done = 0
  numbers: number[] = []
  sessions: Session[] = [testSession([])]
  readonly steps = new Map<number, Step>()
  step(title: string): void {
    const before = this.sessions[this.done]!
    const after = { ...before, title }
    this.steps.set(++this.number, { label: title, at: 0, ...diff(before, after) })
    this.numbers = [...this.numbers.slice(0, this.done), this.number]
    this.sessions = [...this.sessions.slice(0, ++this.done), after]
  }
  jump(to: number): void {
    this.done = Math.min(this.numbers.length, to)
  }
  get session(): Session {
    return this.sessions[this.done]!
  }
}

const acts = fc.array(fc.oneof(fc.record({ title: fc.string() }), fc.record({ jump: fc.nat(12) })), {
  maxLength: 30,
})
const play = (history: History, list: readonly ({ title: string } | { jump: number })[]) =>
  list.forEach((a) => ('title' in a ? history.step(a.title) : history.jump(a.jump)))
const recordOf = (h: History): SessionRecord => ({
  session: h.session,
  steps: h.numbers,
  done: h.done,
  changedAt: 1,
  sounds: [],
  savedId: 'one',
})
const headOf = (h: History): SessionHead => ({
  base: 'one',
  steps: h.numbers,
  done: h.done,
  changedAt: 2,
  sounds: ['x'],
})

const stepsOf = (h: History) => async (number: number) => h.steps.get(number) ?? null

test('a record and a head together are the session as it stood, whatever was done, undone and done otherwise in between', async () => {
  await fc.assert(
    fc.asyncProperty(acts, acts, async (before, after) => {
      const history = new History()
      play(history, before)
      const record = recordOf(history)
      play(history, after)
      expect(await withNewerHead(record, headOf(history), stepsOf(history))).toEqual({
        session: history.session,
        steps: history.numbers,
        done: history.done,
        changedAt: 2,
        sounds: ['x'],
        savedId: 'one',
      })
    }),
  )
})

test('a head of another writing, and one of which a step is missing, leave the record as it was', async () => {
  const history = new History()
  history.step('first')
  const record = recordOf(history)
  history.step('second')
  const head = headOf(history)
  expect((await withNewerHead(record, head, stepsOf(history))).session.title).toBe('second')
  expect(await withNewerHead(record, { ...head, base: 'other' }, stepsOf(history))).toBe(record)
  expect(await withNewerHead(record, head, async () => null)).toBe(record)
  expect(await withNewerHead(record, null, stepsOf(history))).toBe(record)
})

test('only the steps between are read, and nobody goes on from the end of a long way', async () => {
  const history = new History()
  for (let i = 0; i < 30; i++) history.step(`before ${i}`)
  const record = recordOf(history)
  history.jump(28)
  history.step('other')
  const read: number[] = []
  const standing = await withNewerHead(
    record,
    headOf(history),
    (number) => (read.push(number), stepsOf(history)(number)),
  )
  expect(read).toEqual([30, 29, 31])
  expect(standing.savedId).toBe('one')
  for (let i = 0; i < 250; i++) history.step(`after ${i}`)
  const far = await withNewerHead(record, headOf(history), stepsOf(history))
  expect([far.session.title, far.savedId]).toEqual(['after 249', undefined])
})
