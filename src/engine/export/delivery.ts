import { Cancelled, type OnProgress } from '../worker'

/** What a service that receives files asks of them. */
export interface ReceivingRules {
  receives: string[]
  target: { name: string; loudness: number; tolerance: number; ceiling: number } | null
  mostBytes: number
  partBytes: number
}

/** Says that a file came whole and good. */
export interface Receipt {
  id: string
  name: string
  bytes: number
  sha256: string
  receivedAt: string
  integrated: number | null
  truePeakDb: number | null
}

/** A file was refused, for these reasons. */
export class Refused extends Error {
  constructor(readonly reasons: readonly string[]) {
    super(reasons.join(' '))
  }
}

/** What was begun and can be gone on with, after a failure. */
export interface Begun {
  id: string
}

export interface DeliveryOptions {
  /** Where the service answers. */
  base: string
  onProgress: OnProgress
  signal: AbortSignal
  /** A delivery that was begun before; it goes on where it stopped. */
  begun?: Begun | null
  onBegun?(begun: Begun): void
  /** Milliseconds between two tries after a broken connection, and how many tries in a row may fail. */
  waitMs?: number
  tries?: number
  /** How long an answer may take, in milliseconds. */
  patienceMs?: number
  fetch?: typeof fetch
}

/** Whether something receives files at an address, and what it asks of them; null for none. */
export async function receivingRules(
  base: string,
  ask: typeof fetch = fetch,
): Promise<ReceivingRules | null> {
  try {
    const answer = await ask(`${base}/`, { headers: { accept: 'application/json' } })
    return answer.ok ? ((await answer.json()) as ReceivingRules) : null
  } catch {
    return null
  }
}

/** The longest wait between two tries, as a multiple of the first. */
const MOST_WAITS = 32

interface Answer {
  received?: number
  receipt?: Receipt | null
  reasons?: string[]
  id?: string
  partBytes?: number
}

/**
 * Delivers a file in parts, in order; a connection that breaks is taken up where it broke. Rejects with `Refused` for what the
 * service does not take, with `Cancelled` when the signal stops it, and with an Error in words when it cannot be reached any more: what
 * has arrived stays there, and `begun` goes on with it.
 */
export async function deliver(
  file: Blob,
  { name, sha256 }: { name: string; sha256: string },
  options: DeliveryOptions,
): Promise<Receipt> {
  const { base, onProgress, signal, waitMs = 1000, tries = 6, patienceMs = 60_000 } = options
  const send = options.fetch ?? fetch
  let failures = 0

  /** One request; tried again while the connection fails. */
  const request = async (path: string, init: RequestInit = {}): Promise<[number, Answer]> => {
    for (;;) {
      if (signal.aborted) throw new Cancelled()
      try {
        const answer = await send(`${base}${path}`, {
          ...init,
          signal: AbortSignal.any([signal, AbortSignal.timeout(patienceMs)]),
        })
        const body = (await answer.json()) as Answer
        if (answer.status >= 500 && answer.status !== 507) throw new Error(`status ${answer.status}`)
        failures = 0
        return [answer.status, body]
      } catch {
        if (signal.aborted) throw new Cancelled()
        if (++failures >= tries)
          throw new Error(
            'The service does not answer any more. What has arrived stays there; try again, and it goes on from there.',
          )
        onProgress({ done: done(), doing: `The connection broke; trying again (${failures})` })
        await new Promise((resolve) =>
          setTimeout(resolve, waitMs * Math.min(MOST_WAITS, 2 ** (failures - 1))),
        )
      }
    }
  }
  let received = 0
  const done = () => (file.size ? received / file.size : 0)
  const refused = (answer: Answer) => new Refused(answer.reasons ?? ['It was refused without a reason.'])

  let id = options.begun?.id ?? null
  if (id !== null) {
    const [status, state] = await request(`/deliveries/${id}`)
    if (state.receipt) return state.receipt
    if (status === 200) received = state.received ?? 0
    else id = null
  }
  if (id === null) {
    const [status, answer] = await request('/deliveries', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name, bytes: file.size, sha256 }),
    })
    if (status !== 201 || !answer.id) throw refused(answer)
    id = answer.id
    options.onBegun?.({ id })
  }
  const [, asked] = await request('/')
  const partBytes = Math.max(1, asked.partBytes ?? 1 << 20)
  for (;;) {
    while (received < file.size) await sendPart()
    onProgress({ done: 1, doing: `“${name}” is being checked` })
    const [status, answer] = await request(`/deliveries/${id}/finish`, { method: 'POST' })
    if (answer.receipt) return answer.receipt
    if (status !== 409) throw refused(answer)
    // A part of which no answer came is still being received, or never was.
    received = answer.received ?? received
    await new Promise((resolve) => setTimeout(resolve, waitMs))
  }

  /** Sends the next part. */
  async function sendPart(): Promise<void> {
    onProgress({ done: done(), doing: `Delivering “${name}”` })
    const from = received
    const [status, answer] = await request(`/deliveries/${id}?from=${from}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/octet-stream' },
      body: file.slice(from, Math.min(file.size, from + partBytes)),
    })
    // It may have arrived though its answer did not.
    if (status === 409 && typeof answer.received === 'number') received = answer.received
    else if (status === 409) await new Promise((resolve) => setTimeout(resolve, waitMs))
    else if (status === 200) received = answer.received ?? received
    else throw refused(answer)
  }
}
