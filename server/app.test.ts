import { spawn, spawnSync } from 'node:child_process'
import fs from 'node:fs'
import http from 'node:http'
import net, { type AddressInfo } from 'node:net'
import os from 'node:os'
import path from 'node:path'
import zlib from 'node:zlib'
import { createApp } from './app'

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-web-'))
fs.mkdirSync(path.join(root, 'assets'))
fs.writeFileSync(path.join(root, 'index.html'), '<script nonce="CSP_NONCE" src="/assets/a.js"></script>')
fs.writeFileSync(path.join(root, 'assets', 'a.js'), '1')
const script = 'export const level = -6\n'.repeat(100)
fs.writeFileSync(path.join(root, 'assets', 'b.js'), script)
fs.writeFileSync(path.join(root, 'assets', 'b.js.br'), zlib.brotliCompressSync(script))
fs.writeFileSync(path.join(root, 'assets', 'b.js.gz'), zlib.gzipSync(script))
const server = createApp(root).listen(0)
const url = (at: string) => `http://127.0.0.1:${(server.address() as AddressInfo).port}${at}`
/** A request whose path is sent as it is written. */
const rawGet = (at: string) =>
  new Promise<{ status: number; body: string }>((resolve, reject) => {
    http
      .get({ host: '127.0.0.1', port: (server.address() as AddressInfo).port, path: at }, (answer) => {
        let body = ''
        answer.on('data', (piece: Buffer) => (body += piece.toString()))
        answer.on('end', () => resolve({ status: answer.statusCode ?? 0, body }))
      })
      .on('error', reject)
  })
afterAll(() => {
  server.close()
  fs.rmSync(root, { recursive: true })
})

test('every answer carries the headers that shared memory needs, and the page a policy that allows only its own scripts', async () => {
  for (const at of ['/', '/session/x', '/assets/a.js']) {
    const { headers } = await fetch(url(at))
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin')
    expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp')
    expect(headers.get('cross-origin-resource-policy')).toBe('same-origin')
    const policy = headers.get('content-security-policy')!
    expect(policy).toContain("default-src 'none'")
    expect(policy).toContain("script-src 'self' 'wasm-unsafe-eval';")
    expect(policy).not.toMatch(/'unsafe-(inline|eval)'/)
    expect(headers.get('x-powered-by')).toBeNull()
  }
})

test('every page gets a nonce of its own', async () => {
  const pages = await Promise.all(
    [0, 1].map(async () => {
      const answer = await fetch(url('/session/tide-mill/export'))
      const nonce = /nonce="([^"]+)"/.exec(await answer.text())![1]!
      expect(answer.headers.get('content-security-policy')).toContain(`'nonce-${nonce}'`)
      return nonce
    }),
  )
  expect(pages[0]).not.toBe(pages[1])
})

test('the page is only served with its nonce, and asks the browser for nothing but MIDI and the choice of a device', async () => {
  const answer = await fetch(url('/index.html'))
  expect(answer.redirected).toBe(true)
  expect(await answer.text()).not.toContain('CSP_NONCE')
  // However it is written.
  for (const raw of [
    '/%69ndex.html',
    '/./index.html',
    '//index.html',
    '/x/../index.html',
    '/%2e/index%2ehtml',
  ]) {
    const { status, body } = await rawGet(raw)
    expect([raw, status, body.includes('CSP_NONCE')]).toEqual([raw, 308, false])
  }
  const policy = answer.headers.get('permissions-policy')!
  expect(policy).toContain('midi=(self)')
  expect(policy).toContain('speaker-selection=(self)')
  expect(policy).toContain('microphone=()')
})

test('a request that cannot be answered gets its status, and nothing that names this machine', async () => {
  const range = await fetch(url('/assets/a.js'), { headers: { Range: 'bytes=100-200' } })
  expect([range.status, await range.text()]).toEqual([416, 'Range Not Satisfiable'])
})

test('it listens on this machine alone, unless it is asked for', async () => {
  const main = (env: object) =>
    spawn(
      process.execPath,
      [path.join(__dirname, '../node_modules/tsx/dist/cli.mjs'), path.join(__dirname, 'main.ts')],
      { env: { ...process.env, PORT: '0', ...env } },
    )
  const running = main({})
  const said = await new Promise<string>((resolve) =>
    running.stdout.once('data', (text) => resolve(String(text))),
  )
  const port = Number(/localhost:(\d+)/.exec(said)![1])
  expect((await fetch(`http://127.0.0.1:${port}/`)).status).toBeLessThan(600)
  const other = Object.values(os.networkInterfaces())
    .flat()
    .find((at) => at && !at.internal && at.family === 'IPv4')
  const elsewhere = other?.address ?? '127.0.0.2'
  await expect(fetch(`http://${elsewhere}:${port}/`)).rejects.toThrow()
  running.kill()
}, 30_000)

test('files are sent compressed to who takes it, whole or by ranges of the file itself', async () => {
  const get = async (headers: Record<string, string>) => {
    const answer = await fetch(url('/assets/b.js'), { headers })
    return {
      status: answer.status,
      encoding: answer.headers.get('content-encoding'),
      type: answer.headers.get('content-type'),
      cached: answer.headers.get('cache-control'),
      text: await answer.text(),
    }
  }
  const whole = {
    status: 200,
    type: expect.stringMatching(/^text\/javascript; charset=utf-8$/i),
    text: script,
  }
  expect(await get({ 'Accept-Encoding': 'gzip, deflate, br' })).toMatchObject({
    ...whole,
    encoding: 'br',
    cached: 'public, max-age=31536000, immutable',
  })
  expect(await get({ 'Accept-Encoding': 'gzip' })).toMatchObject({ ...whole, encoding: 'gzip' })
  expect(await get({ 'Accept-Encoding': 'identity' })).toMatchObject({ ...whole, encoding: null })
  expect(await get({ 'Accept-Encoding': 'br', Range: 'bytes=13-17' })).toMatchObject({
    status: 206,
    encoding: null,
    text: 'level',
  })
})

test('what is missing among the files is not found, and nothing outside is served', async () => {
  expect((await fetch(url('/assets/c.js'))).status).toBe(404)
  expect((await fetch(url('/sample/x.zip'))).status).toBe(404)
  expect(await (await fetch(url('/..%2f..%2fetc/passwd'))).text()).not.toContain('root:')
})

test('a taken port and a port that is none each give one clear line and an exit code', async () => {
  const start = (PORT: string) =>
    spawnSync(
      process.execPath,
      [path.join(__dirname, '../node_modules/tsx/dist/cli.mjs'), path.join(__dirname, 'main.ts')],
      { encoding: 'utf8', env: { ...process.env, PORT } },
    )
  const taken = net.createServer().listen(0)
  await new Promise((resolve) => taken.once('listening', resolve))
  const { port } = taken.address() as AddressInfo
  const refused = start(String(port))
  taken.close()
  expect([refused.status, refused.stdout, refused.stderr]).toEqual([
    1,
    '',
    `Port ${port} is taken by another program. Choose another one, for instance: PORT=${port + 1} npm start\n`,
  ])
  expect(start('many')).toMatchObject({
    status: 2,
    stdout: '',
    stderr: 'PORT is “many”; it must be a whole number from 0 to 65535.\n',
  })
}, 30_000)
