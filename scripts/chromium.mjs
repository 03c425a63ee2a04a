import { spawnSync } from 'node:child_process'
import fs from 'node:fs'

// The headless shell is the same engine without windows: its tests are a fifth quicker.
const places = [
  '/usr/bin/chromium-headless-shell',
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
  '/Applications/Chromium.app/Contents/MacOS/Chromium',
  '/Applications/Google Chrome.app/Contents/MacOS/Google Chrome',
]

const found = () => [process.env.CHROMIUM, ...places].find((p) => p && fs.existsSync(p)) ?? null

/**
 * The path of a Chromium; installs Debian's package when there is none and the user may. null when there is
 * none in the end.
 */
export function ensureChromium() {
  const known = found()
  if (known) return known
  const apt = spawnSync('apt-get', ['--version']).status === 0
  const prefix =
    process.getuid?.() === 0 ? [] : spawnSync('sudo', ['-n', 'true']).status === 0 ? ['sudo', '-n'] : null
  if (!apt || !prefix) return null
  console.log('Installing Chromium …')
  const [command, ...before] = [...prefix, 'apt-get']
  const run = (...args) =>
    spawnSync(command, [...before, ...args], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    })
  run('update', '-qq')
  // Older releases of Debian have no package of the shell.
  for (const name of ['chromium-headless-shell', 'chromium']) {
    run('install', '-y', '-qq', '--no-install-recommends', name)
    if (found()) break
  }
  return found()
}
