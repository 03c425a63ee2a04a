import { createHash } from 'node:crypto'
import fs from 'node:fs'
import fsPromises from 'node:fs/promises'
import http from 'node:http'
import net, { type AddressInfo } from 'node:net'
import os from 'node:os'
import path from 'node:path'
import { EBU_R128 } from '../src/core/measure/target'
import { seededRandom } from '../src/core/units/random'
import { deliver, receivingRules, Refused } from '../src/engine/export'
import { WavEncoder, wavHeader } from '../src/formats/wav-write'
import { createApp } from './app'
import { usualRules, type DropOffRules } from './drop-off'
import { runs } from '../src/core/units/runs.test-util'

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-drop-'))
const closed: (() => void)[] = []
afterAll(() => {
  for (const close of closed) close()
  fs.rmSync(folder, { recursive: true })
})

/** A service with some rules of its own, and its address. */
function service(name: string, rules: Partial<DropOffRules>): { base: string; port: number; kept: string } {
  const kept = path.join(folder, name)
  const server = createApp(folder, { ...usualRules(kept, null), ...rules }).listen(0)
  closed.push(() => server.close())
  const { port } = server.address() as AddressInfo
  return { base: `http://127.0.0.1:${port}/drop-off`, port, kept }
}

/** A tone as a WAV file of 24 bits. */
function tone(db: number, seconds: number): Buffer<ArrayBuffer> {
  const samples = Float32Array.from(
    { length: seconds * 48_000 },
    (_, n) => 10 ** (db / 20) * Math.sin((2 * Math.PI * 1000 * n) / 48_000),
  )
  const info = { format: 'wav24', channels: 2, sampleRate: 48_000, frames: samples.length, seed: 1 } as const
  return Buffer.concat([wavHeader(info), new WavEncoder(info).encode([samples, samples])])
}

const sha256 = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex')
const quick = { onProgress: () => undefined, signal: new AbortController().signal, waitMs: 1 }
const sound = (bytes: Buffer<ArrayBuffer>) => new Blob([bytes])

test('a good file comes as a whole, with a receipt; asked again it is the same one', async () => {
  const { base, kept } = service('good', { partBytes: 100_000, target: EBU_R128 })
  expect(await receivingRules(base)).toMatchObject({ target: { loudness: -23 }, partBytes: 100_000 })
  const file = tone(-23, 4)
  let begun: { id: string } | null = null
  const receipt = await deliver(
    sound(file),
    { name: 'mix.wav', sha256: sha256(file) },
    { ...quick, base, onBegun: (now) => (begun = now) },
  )
  expect(receipt).toMatchObject({
    name: 'mix.wav',
    bytes: file.length,
    integrated: expect.closeTo(-23, 1) as number,
  })
  expect(sha256(fs.readFileSync(path.join(kept, `${receipt.id}.sound`)))).toBe(sha256(file))
  const again = await deliver(
    sound(file),
    { name: 'mix.wav', sha256: sha256(file) },
    { ...quick, base, begun },
  )
  expect(again).toEqual(receipt)
})

test('what misses the target, is no sound, or was changed on its way is refused with reasons, and not kept', async () => {
  const { base, kept } = service('refused', { target: EBU_R128 })
  const refusal = (bytes: Buffer<ArrayBuffer>, told = sha256(bytes)) =>
    deliver(sound(bytes), { name: 'x', sha256: told }, { ...quick, base }).then(
      () => 'taken',
      (error: unknown) => (error instanceof Refused ? error.reasons : error),
    )
  expect(await refusal(tone(-10, 1))).toEqual(['Loudness: −10.0 LUFS, asked −23.0 LUFS ±0.5.'])
  expect(await refusal(tone(-0.2, 1))).toHaveLength(2)
  expect(await refusal(Buffer.from('no sound at all'))).toEqual(['It is no WAV, FLAC or AIFF file.'])
  expect(await refusal(tone(-23, 1), '0'.repeat(64))).toEqual([
    'The checksum is another one: the file was changed on its way.',
  ])
  expect(fs.readdirSync(kept).filter((name) => !name.endsWith('.json'))).toEqual([])
})

test('hostile names, sizes and headers are refused, and no name leads anywhere', async () => {
  const { base, kept } = service('hostile', { mostBytes: 1e6 })
  const post = async (body: unknown, headers: Record<string, string> = {}) =>
    (
      await fetch(`${base}/deliveries`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', ...headers },
        body: JSON.stringify(body),
      })
    ).status
  const good = { name: 'a', bytes: 10, sha256: '0'.repeat(64) }
  for (const bad of [
    {},
    null,
    { ...good, name: '' },
    { ...good, name: 'x'.repeat(5000) },
    { ...good, bytes: -1 },
    { ...good, bytes: 1e9 },
    { ...good, bytes: '10' },
    { ...good, bytes: 1.5 },
    { ...good, sha256: '../../etc' },
    { ...good, sha256: ['0'.repeat(64)] },
  ])
    expect(await post(bad)).toBeGreaterThanOrEqual(400)
  expect(await post(good, { origin: 'https://elsewhere.example' })).toBe(403)
  expect(await post({ ...good, name: '../../../../tmp/x\u0000\u001b[2J' })).toBe(201)
  expect(fs.readdirSync(kept).every((name) => /^[0-9a-f-]{36}\.json$/.test(name))).toBe(true)
  for (const id of ['..%2f..%2fx', 'constructor', '0'.repeat(36)])
    expect((await fetch(`${base}/deliveries/${id}`)).status).toBe(404)
})

test('a full place says so, and makes room of what is too old', async () => {
  const { base, kept } = service('full', { mostFiles: 2 })
  const file = tone(-20, 0.1)
  const send = () => deliver(sound(file), { name: 'a', sha256: sha256(file) }, { ...quick, base })
  const first = await send()
  await send()
  await expect(send()).rejects.toThrow('The place is full')
  const old = new Date(Date.now() - 40 * 24 * 3_600_000)
  fs.utimesSync(path.join(kept, `${first.id}.json`), old, old)
  await send()
  expect(fs.existsSync(path.join(kept, `${first.id}.sound`))).toBe(false)
})

test('of many deliveries whose connections are cut at random each ends as the whole file, or as none', async () => {
  const many = runs(60, 200)
  const hosts: string[] = []
  const { base, port, kept } = service('cut', { partBytes: 5000, mostFiles: 1000, hosts })
  const random = seededRandom(3)
  // Between both stands what cuts the line after some bytes, this way or that.
  let cuts = 0
  const line = net
    .createServer((from) => {
      const to = net.connect(port, '127.0.0.1')
      let left = random() < 0.25 ? Math.floor(random() * 9000) : Infinity
      const count = (bytes: Buffer) => {
        left -= bytes.length
        if (left > 0) return
        left = Infinity
        cuts++
        from.destroy()
        to.destroy()
      }
      from.on('data', count).on('error', () => to.destroy())
      to.on('data', count).on('error', () => from.destroy())
      from.pipe(to)
      to.pipe(from)
    })
    .listen(0)
  closed.push(() => line.close())
  const between = (line.address() as AddressInfo).port
  hosts.push(`127.0.0.1:${between}`)
  const through = base.replace(String(port), String(between))
  // A connection of its own for each request, so that each can be cut.
  const ask: typeof fetch = (at, init) =>
    fetch(at, { ...init, headers: { ...init?.headers, connection: 'close' } })
  let whole = 0
  const one = async (n: number) => {
    const file = tone(-20 - (n % 7), 0.03 + 0.03 * random())
    const told = { name: `file ${n}`, sha256: sha256(file) }
    // Some are given up in between.
    const control = new AbortController()
    if (n % 10 === 9) setTimeout(() => control.abort(), random() * 20)
    const options = { ...quick, base: through, signal: control.signal, tries: 12, fetch: ask }
    const receipt = await deliver(sound(file), told, options).catch(() => null)
    if (!receipt) return
    whole++
    expect(sha256(fs.readFileSync(path.join(kept, `${receipt.id}.sound`)))).toBe(told.sha256)
  }
  for (let n = 0; n < many; n += 10) await Promise.all(Array.from({ length: 10 }, (_, k) => one(n + k)))
  expect(cuts).toBeGreaterThan(many / 2)
  expect(whole).toBeGreaterThanOrEqual(0.9 * many)
  // Every file that is kept as one is a whole one with its right checksum.
  const files = fs.readdirSync(kept).filter((name) => name.endsWith('.sound'))
  expect(files.length).toBeGreaterThanOrEqual(whole)
  for (const name of files) {
    const told = JSON.parse(fs.readFileSync(path.join(kept, name.replace('.sound', '.json')), 'utf8')) as {
      sha256: string
      receipt: unknown
    }
    expect(sha256(fs.readFileSync(path.join(kept, name)))).toBe(told.sha256)
    expect(told.receipt).not.toBeNull()
  }
}, 60_000)

/** The status of a request written by hand, with any Host. */
const statusOf = (port: number, path: string, host: string) =>
  new Promise<number>((resolve, reject) => {
    http
      .get({ port, host: '127.0.0.1', path, headers: { host } }, (answer) => {
        answer.resume()
        resolve(answer.statusCode ?? 0)
      })
      .on('error', reject)
  })

test('only names that are its own lead to it, so that no foreign name can be bent to it', async () => {
  const { port } = service('hosts', { hosts: ['studio.example:8443'] })
  for (const host of [`localhost:${port}`, `127.0.0.1:${port}`, `LOCALHOST:${port}`, 'studio.example:8443'])
    expect([host, await statusOf(port, '/drop-off/', host)]).toEqual([host, 200])
  for (const host of [
    'elsewhere.example',
    `elsewhere.example:${port}`,
    `localhost:${port + 1}`,
    'localhost',
    'studio.example',
  ])
    expect([host, await statusOf(port, '/drop-off/', host)]).toEqual([host, 403])
})

test('of 300 that ask for a place at once as many get one as there are, refused files among them', async () => {
  const { base, kept } = service('many', { mostFiles: 200 })
  const declare = () =>
    fetch(`${base}/deliveries`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'a', bytes: 10, sha256: '0'.repeat(64) }),
    })
  const refused = Buffer.from('no sound at all')
  await expect(
    deliver(sound(refused), { name: 'x', sha256: sha256(refused) }, { ...quick, base }),
  ).rejects.toBeInstanceOf(Refused)
  const statuses = await Promise.all(Array.from({ length: 300 }, async () => (await declare()).status))
  expect(statuses.filter((status) => status === 201)).toHaveLength(199)
  expect(statuses.filter((status) => status === 507)).toHaveLength(101)
  expect(fs.readdirSync(kept).filter((name) => name.endsWith('.json'))).toHaveLength(200)
})

test('ten who ask at once whether it is finished get one answer', async () => {
  const { base } = service('ten', {})
  const file = tone(-20, 0.5)
  const { id } = (await (
    await fetch(`${base}/deliveries`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'a', bytes: file.length, sha256: sha256(file) }),
    })
  ).json()) as { id: string }
  const put = await fetch(`${base}/deliveries/${id}?from=0`, {
    method: 'PUT',
    headers: { 'content-type': 'application/octet-stream' },
    body: file,
  })
  expect(put.status).toBe(200)
  const answers = await Promise.all(
    Array.from({ length: 10 }, async () => {
      const answer = await fetch(`${base}/deliveries/${id}/finish`, { method: 'POST' })
      return { status: answer.status, body: await answer.json() }
    }),
  )
  expect(answers[0]).toMatchObject({ status: 200, body: { receipt: { id } } })
  for (const answer of answers) expect(answer).toEqual(answers[0])
})

test('a full disk is said with 507, and nothing of a part that did not fit is kept', async () => {
  const { base, kept } = service('disk', { partBytes: 50_000 })
  const file = tone(-20, 0.3)
  const { appendFile } = fsPromises
  let calls = 0
  const spy = jest.spyOn(fsPromises, 'appendFile').mockImplementation(async (at, data, ...rest) => {
    if (++calls === 2) {
      await appendFile(at, (data as Buffer).subarray(0, 1234), ...rest)
      throw Object.assign(new Error('no space left on device'), { code: 'ENOSPC' })
    }
    return appendFile(at, data, ...rest)
  })
  let begun: { id: string } | null = null
  const told = { name: 'a', sha256: sha256(file) }
  const first = deliver(sound(file), told, { ...quick, base, onBegun: (now) => (begun = now) })
  await expect(first).rejects.toMatchObject({
    reasons: [expect.stringContaining('disk of the service is full')],
  })
  expect(fs.statSync(path.join(kept, `${begun!.id}.part`)).size).toBe(50_000)
  spy.mockRestore()
  // With room again it goes on from the last whole part.
  const receipt = await deliver(sound(file), told, { ...quick, base, begun })
  expect(sha256(fs.readFileSync(path.join(kept, `${receipt.id}.sound`)))).toBe(told.sha256)
})

test('where nothing is received, that is said', async () => {
  const server = createApp(folder).listen(0)
  closed.push(() => server.close())
  expect(
    await receivingRules(`http://127.0.0.1:${(server.address() as AddressInfo).port}/drop-off`),
  ).toBeNull()
})
