import { createServer } from 'node:http'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { createApp } from '../server/app'
import { usualRules } from '../server/drop-off'
import { EBU_R128 } from '../src/core/measure/target'

/*
 * The web server of the browser tests: the application, and a place to which a page hands sound over and from which a test fetches
 * it. Through the browser's own channel for tests that takes longer than rendering it.
 */

const root = fileURLToPath(new URL('../dist/web', import.meta.url))
const app = createApp(root, usualRules(path.resolve(process.env.DROP_OFF!), EBU_R128))
const handed = new Map<string, Buffer>()

createServer((request, response) => {
  const [, place, id] = request.url!.split('/')
  if (place !== 'handed-over') return void app(request, response)
  if (request.method === 'POST') {
    const parts: Buffer[] = []
    request.on('data', (part: Buffer) => parts.push(part))
    request.on('end', () => {
      handed.set(id!, Buffer.concat(parts))
      response.end()
    })
    return
  }
  response.end(handed.get(id!))
  handed.delete(id!)
}).listen(Number(process.env.PORT), '127.0.0.1')
