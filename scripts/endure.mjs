// What takes longer than `npm test` may: all browser tests, properties with other seeds and more runs, hostile files, many tracks with
// sounds of their own, hours. Prints a line per figure.
import { spawnSync } from 'node:child_process'
import { bin, ensureBuilt, ensureInstalled, root } from './lib.mjs'
import { ensureChromium } from './chromium.mjs'

ensureInstalled()
ensureBuilt()
const chromium = ensureChromium()
const only = process.argv.slice(2)
const wants = (name) => only.length === 0 || only.includes(name)
let failed = 0

function step(name, command, args, env = {}) {
  if (!wants(name)) return
  console.log(`\n── ${name}`)
  const begun = Date.now()
  const { status } = spawnSync(command, args, {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, ...env },
  })
  if (status !== 0) failed++
  console.log(
    `── ${name}: ${status === 0 ? 'good' : 'failed'} after ${((Date.now() - begun) / 1000).toFixed(0)} s`,
  )
}

const whole = ['test', '-c', 'e2e/playwright.config.ts']
const browser = (grep) => [...whole, '--workers', '1', '--grep', grep]
const long = { ENDURE: '1', CHROMIUM: chromium ?? '' }
step('unit', bin('jest'), [], long)
step('browser', bin('playwright'), [...whole, '--grep-invert', '@alone|@endure'], long)
step(
  'timing',
  bin('playwright'),
  [...whole, '--workers', '1', '--grep', '@alone', '--grep-invert', '@endure'],
  long,
)
step('kernels', bin('tsx'), ['endure/kernels.ts'])
step('hostile', bin('tsx'), ['endure/hostile.ts'])
step('long memory', bin('tsx'), ['endure/long-memory.ts'])
step('tracks', bin('playwright'), browser('tracks, each with|edited for|sample session play without'), long)
step('kills', bin('playwright'), browser('is killed|fails at any write|really full'), long)
step('random hands', bin('playwright'), browser('a random hand'), long)
step('dying pages', bin('playwright'), [...browser('a page that dies'), '--repeat-each', '25'], long)
step('memory', bin('playwright'), browser('the memory of'), long)
step('overview', bin('playwright'), browser('the overview of an hour'), long)
step('at once', bin('playwright'), browser('two exports, a measurement'), long)
step('large copy', bin('playwright'), browser('ten gigabytes'), long)

console.log(failed ? `\n${failed} of them failed` : '\nall good')
process.exit(failed ? 1 : 0)
