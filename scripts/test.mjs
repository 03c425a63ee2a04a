// What must hold after every change, in eight minutes: types, formatting, lint, the import rule, unit tests, and the browser tests of
// the main jobs. `npm run endure` runs the longer forms, and all browser tests. Ends with the ten slowest tests, and "N passed, N failed".
import { spawn, spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { bin, ensureBuilt, ensureInstalled, inRoot, root } from './lib.mjs'
import { ensureChromium } from './chromium.mjs'
import { firstLoads } from './web-files.mjs'

const started = Date.now()
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

/** How long each test took, in milliseconds. */
const times = []
const noteTime = (file, title, ms) => times.push({ what: `${file}: ${title}`, ms })

function noteSuites(suites) {
  for (const { suites: inner = [], specs = [] } of suites) {
    noteSuites(inner)
    for (const { file, title, tests } of specs)
      for (const { results } of tests)
        noteTime(
          file,
          title,
          results.reduce((sum, { duration }) => sum + duration, 0),
        )
  }
}

const only = process.argv.slice(2)
const wants = (name) => only.length === 0 || only.includes(name)

await checks([
  ...(wants('types')
    ? [
        [
          'types',
          bin('tsc'),
          ['--noEmit', '--incremental', '--tsBuildInfoFile', inRoot('.cache', 'types.tsbuildinfo')],
        ],
      ]
    : []),
  ...(wants('format')
    ? [
        [
          'format',
          bin('prettier'),
          [
            '--check',
            '--log-level',
            'warn',
            '--cache',
            '--cache-strategy',
            'content',
            '--cache-location',
            inRoot('.cache', 'prettier'),
            '.',
          ],
        ],
      ]
    : []),
  ...(wants('lint')
    ? [
        [
          'lint',
          bin('eslint'),
          [
            '--cache',
            '--cache-strategy',
            'content',
            '--cache-location',
            inRoot('.cache', 'eslint'),
            '--concurrency',
            'off',
            '.',
          ],
        ],
      ]
    : []),
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
if (wants('load')) {
  console.log('\n── first load of a page, scripts and styles compressed by gzip')
  for (const { page, bytes, most } of firstLoads(inRoot('dist', 'web'))) {
    console.log(`${page}: ${(bytes / 1000).toFixed(1)} kB of ${most / 1000} kB at most`)
    total[bytes <= most ? 'passed' : 'failed']++
  }
}
if (wants('unit')) {
  const file = inRoot('.cache', 'results', 'jest.json')
  counted('unit tests', bin('jest'), ['--json', `--outputFile=${file}`], file, (r) => {
    for (const { name, assertionResults } of r.testResults)
      for (const { title, duration } of assertionResults) noteTime(path.basename(name), title, duration ?? 0)
    return {
      passed: r.numPassedTests,
      failed: r.numFailedTests + r.numRuntimeErrorTestSuites,
      skipped: r.numPendingTests + r.numTodoTests,
    }
  })
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
      ['browser tests', ['--grep-invert', '@alone|@endure|@more']],
      [
        'browser tests that measure time',
        ['--grep', '@alone', '--grep-invert', '@endure|@more', '--workers', '1'],
      ],
    ]) {
      const file = inRoot('.cache', 'results', `${name.replaceAll(' ', '-')}.json`)
      counted(
        name,
        bin('playwright'),
        ['test', '-c', 'e2e/playwright.config.ts', ...args],
        file,
        ({ stats, suites }) => {
          noteSuites(suites)
          return {
            passed: stats.expected,
            failed: stats.unexpected + stats.flaky,
            skipped: stats.skipped,
          }
        },
        { E2E_JSON: file, CHROMIUM: chromium },
      )
    }
  }
}

console.log('\nThe ten slowest tests:')
for (const { what, ms } of times.sort((a, b) => b.ms - a.ms).slice(0, 10))
  console.log(`${(ms / 1000).toFixed(1).padStart(7)} s  ${what}`)
console.log(`\nAll of it took ${((Date.now() - started) / 60_000).toFixed(1)} minutes.`)
console.log(
  `\n${total.passed} passed, ${total.failed} failed${total.skipped ? `, ${total.skipped} skipped` : ''}`,
)
process.exit(total.failed === 0 ? 0 : 1)
