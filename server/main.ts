import { createServer } from 'node:http'
import { fileURLToPath } from 'node:url'
import path from 'node:path'
import { EBU_R128 } from '../src/core/measure/target'
import { createApp } from './app'
import { usualRules } from './drop-off'

const stated = process.env.PORT ?? '4173'
const port = Number(stated)
if (!Number.isInteger(port) || port < 0 || port > 65535) {
  console.error(`PORT is “${stated}”; it must be a whole number from 0 to 65535.`)
  process.exit(2)
}

// A folder for finished files makes it receive some: for trying out deliveries.
const folder = process.env.DROP_OFF
// Where it is reached under another name than that of this machine: "studio.example:8443", several with commas.
const hosts = (process.env.DROP_OFF_HOSTS ?? '').split(',').flatMap((name) => name.trim() || [])
const server = createServer(
  createApp(
    fileURLToPath(new URL('../dist/web', import.meta.url)),
    folder ? { ...usualRules(path.resolve(folder), EBU_R128), hosts } : null,
  ),
)

// Only this machine, unless it is asked for.
const host = process.env.HOST ?? '127.0.0.1'

server.listen(port, host, () => {
  const address = server.address()
  const used = typeof address === 'object' && address ? address.port : port
  console.log(
    `Oaken Thread is running.\n\n  The sample session:  ` +
      `http://localhost:${used}/session/tide-mill\n  All sessions:        ` +
      `http://localhost:${used}/\n` +
      (folder ? `  Files are received in ${path.resolve(folder)}\n` : '') +
      '\nStop it with Ctrl+C.',
  )
})

server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE'
      ? `Port ${port} is taken by another program. Choose another one, for instance: PORT=${port + 1} npm start`
      : `The server could not start: ${error.message}`,
  )
  process.exit(1)
})

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => server.close(() => process.exit(0)))
