import { fork } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { hostileFiles, refusalFault } from '../src/formats/hostile.test-util'

const COUNT = 1000
const SEED = 77
/** Files that one process reads; its largest size is that of the worst of them. */
const BATCH = 20
const MOST_MS = 2000
const MOST_MB = 500

/** What became of a batch: faults, and the slowest of its files. */
interface Outcome {
  faults: string[]
  slowest: number
  megabytes: number
}

/** Reads a batch in this process. */
async function readBatch(first: number): Promise<Outcome> {
  const files = hostileFiles(COUNT, SEED).slice(first, first + BATCH)
  const before = process.resourceUsage().maxRSS
  const outcome: Outcome = { faults: [], slowest: 0, megabytes: 0 }
  for (const file of files) {
    const read = file.make()
    const begun = performance.now()
    const fault = await refusalFault(read)
    const ms = performance.now() - begun
    outcome.slowest = Math.max(outcome.slowest, ms)
    if (fault) outcome.faults.push(`${file.what} ${fault}`)
    if (ms > MOST_MS) outcome.faults.push(`${file.what} took ${ms.toFixed(0)} ms`)
  }
  outcome.megabytes = (process.resourceUsage().maxRSS - before) / 1024
  if (outcome.megabytes > MOST_MB)
    outcome.faults.push(`files from ${first} on took ${outcome.megabytes.toFixed(0)} MB`)
  return outcome
}

const asked = process.argv[2]
if (asked !== undefined) process.send!(await readBatch(Number(asked)))
else {
  const all: Outcome = { faults: [], slowest: 0, megabytes: 0 }
  for (let first = 0; first < COUNT; first += BATCH) {
    const child = fork(fileURLToPath(import.meta.url), [String(first)])
    const outcome = await new Promise<Outcome>((resolve, reject) => {
      child.on('message', (message) => resolve(message as Outcome))
      child.on(
        'exit',
        (code) => code && reject(new Error(`the process of files from ${first} on ended with ${code}`)),
      )
    })
    all.faults.push(...outcome.faults)
    all.slowest = Math.max(all.slowest, outcome.slowest)
    all.megabytes = Math.max(all.megabytes, outcome.megabytes)
  }
  for (const fault of all.faults) console.log(fault)
  console.log(
    `hostile files: ${COUNT} read or refused, slowest ${all.slowest.toFixed(0)} ms (at ` +
      `most ${MOST_MS}), at most ${all.megabytes.toFixed(0)} MB (at most ${MOST_MB})`,
  )
  console.log(`${COUNT - all.faults.length} passed, ${all.faults.length} failed`)
  process.exitCode = all.faults.length ? 1 : 0
}
