import v8 from 'node:v8'
import vm from 'node:vm'
import { changeClipGain } from '../core/edit'
import { testRegion, testSession } from '../core/model/fixture.test-util'
import { commit, jumpTo } from './edits'
import { opened } from './session-slice'
import { createStore } from './store'

test('10,000 edits of a session with 300 regions stay under 200 MB, and all can be taken back', () => {
  v8.setFlagsFromString('--expose-gc')
  const collect = vm.runInNewContext('gc') as () => void
  const first = testSession(Array.from({ length: 300 }, (_, i) => testRegion(`r${i}`, { start: i * 50000 })))
  const store = createStore()
  store.dispatch(opened({ session: first, steps: [], done: 0, savedAt: 0, readOnly: false }))
  collect()
  const before = process.memoryUsage().heapUsed
  for (let i = 0; i < 10_000; i++)
    store.dispatch(
      commit(changeClipGain, { regionIds: [`r${i % 300}`, `r${(i * 7) % 300}`], byDb: i % 2 ? 0.5 : -0.7 }),
    )
  collect()
  const megabytes = (process.memoryUsage().heapUsed - before) / 1e6
  expect(megabytes).toBeLessThan(200)
  expect(store.getState().session.steps).toHaveLength(10_000)
  store.dispatch(jumpTo(0))
  expect(store.getState().session.session).toEqual(first)
}, 120_000)
