import { createHash, randomUUID } from 'node:crypto'
import fs from 'node:fs/promises'
import path from 'node:path'
import express, { Router, type NextFunction, type Request, type Response } from 'express'
import { SoundMeter } from '../src/core/measure/sound-meter'
import { judge, type Target } from '../src/core/measure/target'
import { shownText } from '../src/core/model/check/shown'
import { gainToDb } from '../src/core/units/decibel'
import type { Receipt } from '../src/engine/export'
import type { ByteSource } from '../src/formats/bytes'
import { openSoundFile } from '../src/formats/sound-file'

/*
 * A stand-in for a service that receives finished files, to try deliveries with: a file comes in parts, in order, each of them whole
 * or not at all; it is checked when all of it is there, and answered with a receipt or with the reasons why it was refused. On the disk
 * files have names of our own; what a file is called by the one who sends it is only told.
 */

/** What is received, and how much of it is kept. */
export interface DropOffRules {
  folder: string
  /** What a file has to keep; null takes any loudness and peak. */
  target: Target | null
  /** Bytes of a file, of a part, and of all files together. */
  mostBytes: number
  partBytes: number
  mostBytesOfAll: number
  /** Files that are kept, and for how long, in milliseconds; unfinished ones a day at most. */
  mostFiles: number
  mostAgeMs: number
  /** Names and ports under which the service is reached besides those of this machine, as a Host header has them. */
  hosts?: readonly string[]
}

type Checked = Receipt | { reasons: string[] }

export const usualRules = (folder: string, target: Target | null): DropOffRules => ({
  folder,
  target,
  mostBytes: 4e9,
  partBytes: 4 * 1024 ** 2,
  mostBytesOfAll: 20e9,
  mostFiles: 200,
  mostAgeMs: 30 * 24 * 3_600_000,
})

/** What is known of a delivery, beside its bytes. */
interface Delivery {
  id: string
  name: string
  bytes: number
  sha256: string
  receipt: Receipt | null
  /** Why it was refused; told again to one who did not hear it. */
  reasons?: string[]
}

const DAY_MS = 24 * 3_600_000
const MOST_NAME = 200

const isId = (text: unknown): text is string => typeof text === 'string' && /^[0-9a-f-]{36}$/.test(text)

/** The router of the stand-in, to be mounted where it answers. */
export function dropOff(rules: DropOffRules): Router {
  const router = Router()
  const place = (id: string, kind: 'json' | 'part' | 'sound') => path.join(rules.folder, `${id}.${kind}`)
  /** Deliveries of which a part is being written, so that two do not mix. */
  const busy = new Set<string>()
  /** Checks that are going on: all who ask for one get its answer. */
  const checking = new Map<string, Promise<Checked>>()
  /** What is known of all deliveries, read from the disk once. */
  let known: Promise<Map<string, Delivery>> | null = null
  const deliveries = () => (known ??= readAll(rules.folder, place))
  const find = async (id: unknown): Promise<Delivery | null> =>
    isId(id) ? ((await deliveries()).get(id) ?? null) : null

  const write = async (delivery: Delivery) => {
    const file = place(delivery.id, 'json')
    await fs.writeFile(`${file}.new`, JSON.stringify(delivery))
    await fs.rename(`${file}.new`, file)
    ;(await deliveries()).set(delivery.id, delivery)
  }
  const received = async ({ id, bytes, receipt }: Delivery): Promise<number> =>
    receipt ? bytes : (await fs.stat(place(id, 'part')).catch(() => ({ size: 0 }))).size
  const remove = async (id: string) => {
    const kinds = ['json', 'part', 'sound'] as const
    await Promise.all(kinds.map((kind) => fs.rm(place(id, kind), { force: true })))
    await fs.rm(`${place(id, 'json')}.new`, { force: true })
    ;(await deliveries()).delete(id)
  }

  /** Removes what is too old; resolves to how much is left. Refused deliveries take a place, but no bytes. */
  const swept = async (): Promise<{ files: number; bytes: number }> => {
    let bytes = 0
    for (const { id, receipt, reasons, bytes: size } of [...(await deliveries()).values()]) {
      const stat = await fs.stat(place(id, 'json')).catch(() => null)
      const most = receipt ? rules.mostAgeMs : Math.min(DAY_MS, rules.mostAgeMs)
      if (!stat || Date.now() - stat.mtimeMs > most) await remove(id)
      else if (!reasons) bytes += size
    }
    return { files: (await deliveries()).size, bytes }
  }

  let last: Promise<unknown> = Promise.resolve()
  /** Does something when all that was begun before is done: places are counted and taken by one at a time. */
  const inTurn = <T>(work: () => Promise<T>): Promise<T> => {
    const done = last.then(work, work)
    last = done.catch(() => undefined)
    return done
  }

  const refuse = (response: Response, status: number, ...reasons: string[]) =>
    void response.status(status).json({ reasons })

  router.use((request, response, next) => {
    // Only pages that are served from here, under a name that is ours, may deliver: a foreign name that leads here is none.
    const { origin, host } = request.headers
    if (!isOwnHost(host, request.socket.localPort, rules.hosts))
      return refuse(response, 403, 'This address is not one of this service.')
    if (origin !== undefined && origin.replace(/^https?:\/\//, '').toLowerCase() !== host?.toLowerCase())
      return refuse(response, 403, 'This page may not deliver here.')
    response.setHeader('Cache-Control', 'no-store')
    next()
  })

  router.get('/', (_request, response) => {
    const { target, mostBytes, partBytes } = rules
    response.json({ receives: ['WAV', 'FLAC', 'AIFF'], target, mostBytes, partBytes })
  })

  router.post(
    '/deliveries',
    express.json({ limit: '10kb' }),
    async (request: Request, response: Response) => {
      const { name, bytes, sha256 } = (request.body ?? {}) as Record<string, unknown>
      const reasons: string[] = []
      if (typeof name !== 'string' || name.trim() === '' || name.length > MOST_NAME)
        reasons.push(`The name must have 1 to ${MOST_NAME} characters.`)
      if (typeof bytes !== 'number' || !Number.isSafeInteger(bytes) || bytes < 1 || bytes > rules.mostBytes)
        reasons.push(`The size must be from 1 to ${rules.mostBytes} bytes.`)
      if (typeof sha256 !== 'string' || !/^[0-9a-f]{64}$/.test(sha256))
        reasons.push('The checksum must be a SHA-256 in hexadecimal.')
      if (reasons.length) return refuse(response, 422, ...reasons)
      const delivery: Delivery = {
        id: randomUUID(),
        name: shownText(name as string, MOST_NAME),
        bytes: bytes as number,
        sha256: sha256 as string,
        receipt: null,
      }
      const taken = await inTurn(async () => {
        await fs.mkdir(rules.folder, { recursive: true })
        const kept = await swept()
        if (kept.files >= rules.mostFiles || kept.bytes + delivery.bytes > rules.mostBytesOfAll) return false
        try {
          await write(delivery)
        } catch (error) {
          await remove(delivery.id).catch(() => undefined)
          throw error
        }
        return true
      })
      if (!taken)
        return refuse(response, 507, 'The place is full: try again when something has been taken away.')
      response.status(201).json({ id: delivery.id, received: 0 })
    },
  )

  router.get('/deliveries/:id', async (request, response) => {
    const delivery = await find(request.params.id)
    if (!delivery) return refuse(response, 404, 'There is no such delivery.')
    response.json({ received: await received(delivery), receipt: delivery.receipt })
  })

  router.put(
    '/deliveries/:id',
    // A part is taken when all of it has come; one that breaks off leaves nothing.
    express.raw({ type: 'application/octet-stream', limit: rules.partBytes }),
    async (request: Request, response: Response) => {
      const delivery = await find(request.params.id)
      if (!delivery || delivery.receipt || delivery.reasons)
        return refuse(response, 404, 'There is no such delivery.')
      const body: unknown = request.body
      if (!Buffer.isBuffer(body) || body.length === 0) return refuse(response, 400, 'The part is empty.')
      if (busy.has(delivery.id)) return refuse(response, 409, 'Another part is being received.')
      busy.add(delivery.id)
      try {
        const at = await received(delivery)
        if (Number(request.query.from) !== at) return void response.status(409).json({ received: at })
        if (at + body.length > delivery.bytes) return refuse(response, 422, 'More came than was told.')
        try {
          await fs.appendFile(place(delivery.id, 'part'), body)
        } catch (error) {
          // Of a part that did not fit nothing is kept.
          await fs.truncate(place(delivery.id, 'part'), at).catch(() => undefined)
          throw error
        }
        response.json({ received: at + body.length })
      } finally {
        busy.delete(delivery.id)
      }
    },
  )

  router.post('/deliveries/:id/finish', async (request, response) => {
    const delivery = await find(request.params.id)
    if (!delivery) return refuse(response, 404, 'There is no such delivery.')
    if (delivery.receipt) return void response.json({ receipt: delivery.receipt })
    if (delivery.reasons) return refuse(response, 422, ...delivery.reasons)
    if (busy.has(delivery.id) && !checking.has(delivery.id))
      return refuse(response, 409, 'A part is being received.')
    const at = await received(delivery)
    if (at < delivery.bytes) return void response.status(409).json({ received: at })
    const going = checking.get(delivery.id) ?? finish(delivery)
    checking.set(delivery.id, going)
    const checked = await going.finally(() => checking.delete(delivery.id))
    if ('reasons' in checked) return refuse(response, 422, ...checked.reasons)
    response.json({ receipt: checked })
  })

  /** Checks a delivery that has come whole, and keeps it, or only why it was refused. */
  async function finish(delivery: Delivery): Promise<Checked> {
    busy.add(delivery.id)
    try {
      const part = place(delivery.id, 'part')
      const checked = await check(part, delivery, rules.target)
      if ('reasons' in checked) {
        await fs.rm(part, { force: true })
        await write({ ...delivery, reasons: checked.reasons })
      } else {
        await fs.rename(part, place(delivery.id, 'sound'))
        await write({ ...delivery, receipt: checked })
      }
      return checked
    } finally {
      busy.delete(delivery.id)
    }
  }

  router.use((_request, response) => refuse(response, 404, 'There is nothing here.'))
  router.use((error: Failure, _request: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) return next(error)
    const full = error.code === 'ENOSPC' || error.code === 'EDQUOT'
    const status = full ? 507 : (error.status ?? 500)
    refuse(
      response,
      status,
      full
        ? 'The disk of the service is full: nothing of this part was kept. Try again when there is room.'
        : status === 413
          ? 'The part is too large.'
          : status < 500
            ? 'The request could not be understood.'
            : 'The service has failed; try again.',
    )
  })
  return router
}

type Failure = Error & { status?: number; code?: string }

/** The record of every delivery in the folder; what cannot be read is no delivery. */
async function readAll(
  folder: string,
  place: (id: string, kind: 'json') => string,
): Promise<Map<string, Delivery>> {
  const all = new Map<string, Delivery>()
  for (const name of await fs.readdir(folder).catch(() => [])) {
    const id = name.replace(/\.json$/, '')
    if (id === name || !isId(id)) continue
    try {
      all.set(id, JSON.parse(await fs.readFile(place(id, 'json'), 'utf8')) as Delivery)
    } catch {
      // Cut off in the middle, perhaps.
    }
  }
  return all
}

/** Names of this machine, under which it is always reached. */
const OWN_NAMES = ['localhost', '127.0.0.1', '[::1]']

/** Whether a Host header names this service: by a name of this machine and the port that answers, or by one that was configured. */
export function isOwnHost(
  host: string | undefined,
  port: number | undefined,
  configured: readonly string[] = [],
): boolean {
  if (host === undefined) return false
  const asked = host.toLowerCase()
  if (configured.some((own) => own.toLowerCase() === asked)) return true
  const [, name, at] = /^(\[[0-9a-f:.]+\]|[^:]+)(?::(\d+))?$/.exec(asked) ?? []
  return name !== undefined && OWN_NAMES.includes(name) && Number(at ?? 80) === port
}

/** Reads a file that has come whole, and holds it against what was told of it and what is asked. */
async function check(
  file: string,
  { id, name, bytes, sha256 }: Delivery,
  target: Target | null,
): Promise<Checked> {
  const handle = await fs.open(file)
  try {
    const hash = createHash('sha256')
    for await (const piece of handle.createReadStream({ autoClose: false, start: 0 }))
      hash.update(piece as Buffer)
    if (hash.digest('hex') !== sha256)
      return { reasons: ['The checksum is another one: the file was changed on its way.'] }
    const source: ByteSource = {
      size: bytes,
      async read(from, to) {
        const buffer = new Uint8Array(Math.max(0, Math.min(to, bytes) - from))
        const { bytesRead } = await handle.read(buffer, 0, buffer.length, from)
        return buffer.subarray(0, bytesRead)
      },
    }
    const sound = await openSoundFile(source)
    if (!sound) return { reasons: ['It is no WAV, FLAC or AIFF file.'] }
    const meter = new SoundMeter(sound.sampleRate, sound.channels)
    for await (const block of sound.blocks(1 << 16)) meter.add(block)
    const measure = meter.finish()
    const missed = target ? judge(target, measure).filter(({ passes }) => !passes) : []
    if (missed.length)
      return { reasons: missed.map(({ what, asked, is }) => `${what}: ${is}, asked ${asked}.`) }
    const level = (value: number) => (Number.isFinite(value) ? Math.round(value * 100) / 100 : null)
    return {
      id,
      name,
      bytes,
      sha256,
      receivedAt: new Date().toISOString(),
      integrated: level(measure.loudness.integrated),
      truePeakDb: level(gainToDb(measure.truePeak)),
    }
  } catch (error) {
    return { reasons: [`It cannot be read: it ${(error as Error).message}`] }
  } finally {
    await handle.close()
  }
}
