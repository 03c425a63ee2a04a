import { createHash } from 'node:crypto'
import fs from 'node:fs'
import net, { type AddressInfo } from 'node:net'
import os from 'node:os'
import path from 'node:path'
import { EBU_R128 } from '../src/core/measure/target'
import { seededRandom } from '../src/core/units/random'
import { deliver, receivingRules, Refused } from '../src/engine/delivery'
import { WavEncoder, wavHeader } from '../src/formats/wav-write'
import { createApp } from './app'
import { usualRules, type DropOffRules } from './drop-off'

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

test('of 200 deliveries whose connections are cut at random each ends as the whole file, or as none', async () => {
  const { base, port, kept } = service('cut', { partBytes: 5000, mostFiles: 1000 })
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
  const through = base.replace(String(port), String((line.address() as AddressInfo).port))
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
  for (let n = 0; n < 200; n += 10) await Promise.all(Array.from({ length: 10 }, (_, k) => one(n + k)))
  expect(cuts).toBeGreaterThan(100)
  expect(whole).toBeGreaterThanOrEqual(180)
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

test('where nothing is received, that is said', async () => {
  const server = createApp(folder).listen(0)
  closed.push(() => server.close())
  expect(
    await receivingRules(`http://127.0.0.1:${(server.address() as AddressInfo).port}/drop-off`),
  ).toBeNull()
})
