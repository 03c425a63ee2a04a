import { hostileFiles, refusalFault } from './hostile.test-util'

/** More of them, and how much memory they take, are looked at by `npm run endure`. */
test('hostile files are read or refused in one sentence each, soon', async () => {
  const faults: string[] = []
  for (const file of hostileFiles(50, 2026)) {
    const read = file.make()
    const begun = performance.now()
    const fault = await refusalFault(read)
    const ms = performance.now() - begun
    if (fault) faults.push(`${file.what} ${fault}`)
    // Here everything is several times slower than outside of tests.
    if (ms > 8000) faults.push(`${file.what} took ${ms.toFixed(0)} ms`)
  }
  expect(faults).toEqual([])
}, 120_000)
