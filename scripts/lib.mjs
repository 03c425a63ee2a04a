// What the scripts share. Plain Node: it must run before anything is installed.
import { spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { once } from 'node:events'
import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { compressWeb } from './web-files.mjs'

export const root = fileURLToPath(new URL('..', import.meta.url))
export const inRoot = (...parts) => path.join(root, ...parts)

/** Runs a command with its output shown; ends this program with its exit code when it fails. */
export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options })
  if (result.error) {
    console.error(`${command} could not be run: ${result.error.message}`)
    process.exit(1)
  }
  if (result.status !== 0) process.exit(result.status ?? 1)
}

export const bin = (name) => inRoot('node_modules', '.bin', name)

/** A hash of files: names and contents, in order. */
export function hashOf(paths) {
  const hash = createHash('sha256')
  const visit = (file) => {
    const stat = fs.statSync(file, { throwIfNoEntry: false })
    if (!stat) return
    if (stat.isDirectory()) for (const name of fs.readdirSync(file).sort()) visit(path.join(file, name))
    else hash.update(path.relative(root, file)).update('\0').update(fs.readFileSync(file)).update('\0')
  }
  for (const p of paths) visit(inRoot(p))
  return hash.digest('hex')
}

/** Does something unless a stamp says that it was done for the same inputs and its result is there. */
export function unlessDone(stampFile, hash, result, action) {
  const stamp = inRoot(stampFile)
  if (fs.existsSync(inRoot(result)) && fs.existsSync(stamp) && fs.readFileSync(stamp, 'utf8') === hash)
    return false
  action()
  fs.mkdirSync(path.dirname(stamp), { recursive: true })
  fs.writeFileSync(stamp, hash)
  return true
}

/** Installs the packages that the lock file names, when they are missing or others. */
export function ensureInstalled() {
  const [major] = process.versions.node.split('.').map(Number)
  if (major < 20) {
    console.error(`Oaken Thread needs Node 20 or newer; this is Node ${process.versions.node}.`)
    process.exit(1)
  }
  const hash = hashOf(['package.json', 'package-lock.json'])
  unlessDone('node_modules/.oaken-stamp', hash, 'node_modules/.bin/tsx', () => {
    console.log('Installing packages …')
    // Not `npm ci`: it refuses a lock file that leaves out optional packages for other systems.
    run('npm', ['install', '--no-save', '--include=dev', '--no-audit', '--no-fund', '--loglevel=error'])
  })
}

/** Makes the sample session's package where the build serves it from. */
export function ensureSample() {
  const hash = hashOf(['demo', 'src/core', 'src/formats', 'package-lock.json'])
  unlessDone('.cache/sample-stamp', hash, 'public/sample/tide-mill.oaken.zip', () => {
    console.log('Making the sample session …')
    run(bin('tsx'), ['cli/main.ts', 'demo', 'public/sample'])
  })
}

/** Builds the web application when its sources have changed. */
export function ensureBuilt() {
  ensureSample()
  const hash = hashOf([
    'src',
    'public',
    'index.html',
    'vite.config.ts',
    'scripts/licences.mjs',
    'scripts/web-files.mjs',
    'LICENSE',
    'package-lock.json',
  ])
  unlessDone('.cache/build-stamp', hash, 'dist/web/index.html', () => {
    console.log('Building …')
    run(bin('vite'), ['build', '--logLevel', 'warn'])
    compressWeb(inRoot('dist', 'web'))
  })
}

/** Serves the built application on a port, until it is killed. */
export async function serveBuilt(port) {
  const server = spawn(bin('tsx'), ['server/main.ts'], {
    cwd: root,
    env: { ...process.env, PORT: String(port) },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  await once(server.stdout, 'data')
  return server
}
