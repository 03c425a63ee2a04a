import { testRegion, testSession } from './fixture.test-util'
import { historyProblem, openKept, type Step } from './history'
import { migrated, openSession, SESSION_VERSION } from './check/open'
import { applyPatches, diff } from './patch'
import type { Session } from './session'

const before = testSession([testRegion('a')])
const after: Session = { ...before, title: 'After' }
const step: Step = { label: 'Rename', at: 1, ...diff(before, after) }
const kept = { session: after as unknown, steps: [step] as unknown[], done: 1 }

test('a session that was kept is opened with its history, whose steps can be walked', () => {
  const opened = openKept(JSON.parse(JSON.stringify(kept)))
  expect(opened).toEqual({ session: after, steps: [step], done: 1, historyDropped: null })
  expect(applyPatches(opened.session, opened.steps[0]!.inverse)).toEqual(before)
})

test('a stored session is checked like a file', () => {
  const wrong = (change: object) => () => openKept({ ...kept, session: { ...after, ...change } })
  expect(wrong({ tracks: 3 })).toThrow('The session breaks a rule, the first: shape: tracks = 3')
  expect(wrong({ regions: { a: { ...after.regions.a, trackId: 'nobody' } } })).toThrow(
    'The session breaks a rule',
  )
  expect(wrong({ version: 99 })).toThrow('saved by a newer version')
  expect(() => openKept({ ...kept, session: null })).toThrow('This is not an Oaken Thread session')
})

test('a history with a gap, in disorder or of another version is left out and said; the session is opened all the same', () => {
  const dropped = (steps: unknown[], done = 1) => openKept({ ...kept, steps, done })
  for (const [steps, done, why] of [
    [[step, null], 1, 'A step of the history is missing'],
    [[step], 2, 'not in order'],
    [[{ ...step, forward: 'x' }], 1, 'not in order'],
    [[{ ...step, inverse: [{ path: [{}] }] }], 1, 'not in order'],
  ] as const)
    expect(dropped([...steps], done)).toEqual({
      session: after,
      steps: [],
      done: 0,
      historyDropped: expect.stringContaining(why) as string,
    })
  // An older version than the program writes: the steps are about parts that may lie elsewhere now.
  expect(historyProblem(kept, SESSION_VERSION + 1)).toContain('made by an earlier version')
  expect(historyProblem({ ...kept, steps: [], done: 0 }, SESSION_VERSION + 1)).toBeNull()
})

test('migrations are walked one version at a time, from any version on', () => {
  const first = { ...before, version: 1 }
  const toTwo = (s: Readonly<Record<string, unknown>>) => ({ ...s, busIds: [] })
  const toThree = (s: Readonly<Record<string, unknown>>) => ({
    ...s,
    busIds: [...(s.busIds as string[]), 'b'],
  })
  expect(migrated(first, [toTwo, toThree])).toEqual({ ...before, version: 3, busIds: ['b'] })
  expect(migrated({ ...before, version: 2, busIds: ['a'] }, [toTwo, toThree])).toMatchObject({
    version: 3,
    busIds: ['a', 'b'],
  })
  expect(migrated({ ...before, version: 3 }, [toTwo, toThree])).toEqual({ ...before, version: 3 })
  expect(() => migrated({ ...before, version: 4 }, [toTwo, toThree])).toThrow(
    'file version 4, this program reads up to 3',
  )
  expect(openSession(before)).toBe(before)
})
