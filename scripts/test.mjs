// Everything that must hold: types, formatting, lint, the import rule, unit tests, browser tests. Ends with
// "N passed, N failed".
import { spawn, spawnSync } from 'node:child_process'
import fs from 'node:fs'
import { bin, ensureBuilt, ensureInstalled, inRoot, root } from './lib.mjs'
import { ensureChromium } from './chromium.mjs'

ensureInstalled()
const chromium = ensureChromium()
ensureBuilt()

const total = { passed: 0, failed: 0, skipped: 0 }
const results = inRoot('.cache', 'results')
fs.rmSync(results, { recursive: true, force: true })
fs.mkdirSync(results, { recursive: true })

function step(name, command, args, env = {}) {
  const begun = Date.now()
  console.log(`\n── ${name}`)
  const { status } = spawnSync(command, args, {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, ...env },
  })
  console.log(
    `── ${name}: ${status === 0 ? 'good' : 'failed'} after ${((Date.now() - begun) / 1000).toFixed(1)} s`,
  )
  return status === 0
}

/** Checks that have one outcome each, all at once; what each says is shown when it is done. */
async function checks(list) {
  await Promise.all(
    list.map(
      ([name, command, args]) =>
        new Promise((resolve) => {
          const begun = Date.now()
          const said = []
          const running = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] })
          for (const out of [running.stdout, running.stderr]) out.on('data', (text) => said.push(text))
          running.on('error', (error) => said.push(Buffer.from(`${error.message}\n`)))
          running.on('close', (status) => {
            console.log(
              `\n── ${name}\n${Buffer.concat(said).toString()}── ${name}: ` +
                `${status === 0 ? 'good' : 'failed'} after ` +
                `${((Date.now() - begun) / 1000).toFixed(1)} s`,
            )
            total[status === 0 ? 'passed' : 'failed']++
            resolve()
          })
        }),
    ),
  )
}

/** A runner that writes what it counted; one that ends without counting has failed. */
function counted(name, command, args, file, count, env = {}) {
  const good = step(name, command, args, env)
  let counts = null
  try {
    counts = count(JSON.parse(fs.readFileSync(file, 'utf8')))
  } catch {
    console.error(`${name} left no result.`)
  }
  total.passed += counts?.passed ?? 0
  total.skipped += counts?.skipped ?? 0
  total.failed += Math.max(counts?.failed ?? 0, good ? 0 : 1)
}

const only = process.argv.slice(2)
const wants = (name) => only.length === 0 || only.includes(name)

await checks([
  ...(wants('types') ? [['types', bin('tsc'), ['--noEmit']]] : []),
  ...(wants('format') ? [['format', bin('prettier'), ['--check', '--log-level', 'warn', '.']]] : []),
  ...(wants('lint') ? [['lint', bin('eslint'), ['.']]] : []),
  ...(wants('imports')
    ? [
        [
          'import rule',
          bin('depcruise'),
          ['--config', '.dependency-cruiser.cjs', 'src', 'cli', 'server', 'demo', 'bench'],
        ],
      ]
    : []),
])
if (wants('unit')) {
  const file = inRoot('.cache', 'results', 'jest.json')
  counted('unit tests', bin('jest'), ['--json', `--outputFile=${file}`], file, (r) => ({
    passed: r.numPassedTests,
    failed: r.numFailedTests + r.numRuntimeErrorTestSuites,
    skipped: r.numPendingTests + r.numTodoTests,
  }))
}
if (wants('browser')) {
  if (!chromium) {
    console.error(
      '\nThe browser tests need Chromium, and it could not be installed here. Install Debian’s ' +
        'package “chromium”, or set CHROMIUM to the path of one.',
    )
    total.failed++
  } else {
    // What is measured in time runs by itself: beside another test it would measure that one too.
    for (const [name, args] of [
      ['browser tests', ['--grep-invert', '@alone|@endure']],
      ['browser tests that measure time', ['--grep', '@alone', '--grep-invert', '@endure', '--workers', '1']],
    ]) {
      const file = inRoot('.cache', 'results', `${name.replaceAll(' ', '-')}.json`)
      counted(
        name,
        bin('playwright'),
        ['test', '-c', 'e2e/playwright.config.ts', ...args],
        file,
        ({ stats }) => ({
          passed: stats.expected,
          failed: stats.unexpected + stats.flaky,
          skipped: stats.skipped,
        }),
        { E2E_JSON: file, CHROMIUM: chromium },
      )
    }
  }
}

console.log(
  `\n${total.passed} passed, ${total.failed} failed${total.skipped ? `, ${total.skipped} skipped` : ''}`,
)
process.exit(total.failed === 0 ? 0 : 1)
