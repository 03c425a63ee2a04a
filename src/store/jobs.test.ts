import { Cancelled } from '../engine/worker'
import { cancelJob, runJob } from './jobs'
import { createStore } from './store'

const running = (store: ReturnType<typeof createStore>) => store.getState().jobs.running

test('a job tells how far it is as long as it runs, and resolves to what it made', async () => {
  const store = createStore()
  let go = () => {}
  const outcome = store.dispatch(
    runJob('export', 's', async (onProgress) => {
      onProgress({ done: 0.25, doing: 'Rendering the mix' })
      await new Promise<void>((resolve) => (go = resolve))
      return 'file'
    }),
  )
  expect(running(store)).toMatchObject([
    { kind: 'export', progress: { done: 0.25, doing: 'Rendering the mix' } },
  ])
  go()
  expect(await outcome).toEqual({ done: true, value: 'file' })
  expect(running(store)).toEqual([])
})

test('a cancelled job says so, one that fails says why, and neither stays', async () => {
  const store = createStore()
  const stopped = store.dispatch(
    runJob(
      'import',
      null,
      (_, signal) =>
        new Promise((_resolve, reject) => signal.addEventListener('abort', () => reject(new Cancelled()))),
    ),
  )
  cancelJob('import')
  expect(await stopped).toEqual({
    done: false,
    cancelled: true,
    message: 'The import was cancelled; nothing was added.',
  })
  const full = () => Promise.reject(new DOMException('', 'QuotaExceededError'))
  expect(await store.dispatch(runJob('render', 's', full))).toMatchObject({
    done: false,
    cancelled: false,
    message: expect.stringContaining('storage is full') as string,
  })
  expect(running(store)).toEqual([])
})

test('of a kind one job runs at a time; others run beside it', async () => {
  const store = createStore()
  let go = () => {}
  const first = store.dispatch(runJob('export', 's', () => new Promise<void>((resolve) => (go = resolve))))
  const second = jest.fn(() => Promise.resolve(1))
  expect(await store.dispatch(runJob('export', 's', second))).toMatchObject({ done: false, cancelled: false })
  expect(second).not.toHaveBeenCalled()
  expect(store.getState().transport.notices).toMatchObject([{ id: 'job-export' }])
  expect(await store.dispatch(runJob('render', 's', () => Promise.resolve(2)))).toEqual({
    done: true,
    value: 2,
  })
  go()
  await first
})
