// Installs what is missing, builds, and serves on PORT (4173).
import { spawn } from 'node:child_process'
import { bin, ensureBuilt, ensureInstalled, root } from './lib.mjs'

ensureInstalled()
ensureBuilt()
const server = spawn(bin('tsx'), ['server/main.ts'], { cwd: root, stdio: ['inherit', 'pipe', 'inherit'] })
server.stdout.on('data', (text) => {
  process.stdout.write(text)
  const address = /http:\S+\/session\/\S+/.exec(String(text))?.[0]
  if (address) openBrowser(address)
})
server.on('exit', (code) => process.exit(code ?? 0))
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal))

/** Opens the sample session where a person sits in front of a desktop. */
function openBrowser(address) {
  if (process.env.CI || process.env.BROWSER === 'none' || !process.stdout.isTTY) return
  const opener =
    process.platform === 'darwin'
      ? 'open'
      : process.platform === 'win32'
        ? 'explorer'
        : process.env.DISPLAY || process.env.WAYLAND_DISPLAY
          ? 'xdg-open'
          : null
  if (opener)
    spawn(opener, [address], { stdio: 'ignore', detached: true })
      .on('error', () => undefined)
      .unref()
}
