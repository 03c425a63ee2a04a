import { expose } from 'comlink'
import { inWorker } from './worker-job'
import { callable, WorkerLost } from './worker-call'

/** A worker by a channel of messages; `answers` is what it exposes, null for one whose script never arrives. */
function worker(answers: object | null) {
  const { port1, port2 } = new MessageChannel()
  if (answers) expose(answers, port2 as never)
  port1.start()
  const ended = jest.fn(() => {
    port1.close()
    port2.close()
  })
  return Object.assign(port1, { terminate: ended }) as unknown as Worker & { terminate: jest.Mock }
}
const notLoaded = (of: Worker, message?: string) =>
  of.dispatchEvent(Object.assign(new Event('error'), message === undefined ? {} : { message }))

test('calls of a worker that answers go through; those of one that could not be loaded end in words', async () => {
  const good = worker({ double: (x: number) => 2 * x })
  expect(await callable<{ double(x: number): number }>(good).double(21)).toBe(42)
  good.terminate()

  const bad = worker(null)
  const heard = jest.fn()
  const remote = callable<{ double(x: number): number }>(bad, heard)
  const waiting = remote.double(1)
  notLoaded(bad)
  await expect(waiting).rejects.toThrow('could not be loaded')
  // And so does what is asked later.
  await expect(remote.double(2)).rejects.toBeInstanceOf(WorkerLost)
  expect(heard).toHaveBeenCalledTimes(1)
  bad.terminate()
})

test('a job whose worker cannot be loaded or comes apart ends, and its worker with it', async () => {
  for (const [message, words] of [
    [undefined, 'Are you offline'],
    ['out of memory', 'has failed (out of memory)'],
  ] as const) {
    const bad = worker(null)
    const job = inWorker<{ run(): number }, number>(
      () => bad,
      (remote) => remote.run(),
      () => undefined,
      new AbortController().signal,
    )
    notLoaded(bad, message)
    await expect(job).rejects.toThrow(words)
    expect(bad.terminate).toHaveBeenCalled()
  }
})
