import http from 'node:http'
import { once } from 'node:events'
import type { AddressInfo } from 'node:net'
import { chromium, type Page } from '@playwright/test'
import { ensureChromium } from '../scripts/chromium.mjs'
import { ensureBuilt, serveBuilt } from '../scripts/lib.mjs'
import type { Session } from '../src/core/model/session'
import { exactWav } from '../src/formats/package'
import { writePackage } from '../src/formats/package.test-util'
import { samplesHash } from '../src/formats/samples-hash.test-util'
import { movingSession, RATE, type Stretches } from './sessions'
import { openYardstick } from './yardstick'

/** Long enough that starting workers does not count. */
const SECONDS = 240
const TIMES = 3

interface Bench {
  oakenThread: {
    getState(): { session: { session: Session | null } }
    renderTime(session: Session, threads: number): Promise<{ frames: number; ms: number }>
    getPlayer(): { position(): number; underruns: number }
  }
}

/** Seconds of the sound, which is played again and again: so it is in memory soon, as that of the yardstick is. */
const SOUND_SECONDS = 5

/** A package of the session in which all tracks play one sound, as those of the yardstick do. */
function packed(session: Session): Uint8Array<ArrayBuffer> {
  const noise = [0, 1].map(() =>
    Float32Array.from({ length: SOUND_SECONDS * RATE }, () => Math.random() - 0.5),
  )
  const sha256 = samplesHash(noise)
  const sources = {
    s: { ...Object.values(session.sources)[0]!, id: 's', sha256, frames: SOUND_SECONDS * RATE },
  }
  const length = SOUND_SECONDS * RATE
  const regions = Object.fromEntries(
    Object.values(session.regions).flatMap((r) =>
      Array.from({ length: SECONDS / SOUND_SECONDS }, (_, n) => {
        const id = `${r.id}-${n}`
        return [id, { ...r, id, sourceId: 's', start: n * length, length }]
      }),
    ),
  )
  return writePackage(
    { ...session, id: 'tide-mill', sources, regions },
    new Map([[sha256, exactWav(noise, RATE)]]),
  )
}

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]!
const round = (x: number) => Math.round(x * 100) / 100

const executablePath = ensureChromium()
if (!executablePath) {
  console.error('Without Chromium nothing can be measured in a page.')
  process.exit(0)
}
ensureBuilt()
const port = 4398
const server = await serveBuilt(port)
const browser = await chromium.launch({
  executablePath,
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--autoplay-policy=no-user-gesture-required',
  ],
})
const yardstick = await openYardstick(executablePath)

/** A page with a session opened in place of the sample. */
async function opened(session: Session): Promise<Page> {
  const bytes = packed(session)
  const files = http.createServer((_request, response) => response.end(bytes)).listen(0, '127.0.0.1')
  await once(files, 'listening')
  const context = await browser.newContext({ baseURL: `http://localhost:${port}` })
  const page = await context.newPage()
  await page.route('**/sample/tide-mill.oaken.zip', (route) =>
    route.continue({ url: `http://127.0.0.1:${(files.address() as AddressInfo).port}/` }),
  )
  await page.goto('/session/tide-mill?test')
  await page.getByTestId('timeline').waitFor({ timeout: 240_000 })
  files.close()
  // What was begun in the background is done first: the search for overloads, the loudness of the whole.
  const complete = '[aria-description="level, and as a line short-term loudness"]'
  await page.locator(complete).waitFor({ timeout: 240_000 })
  await page.waitForTimeout(2000)
  return page
}

const timesRealTime = (page: Page, threads: number) =>
  page.evaluate(async (shared) => {
    const { oakenThread } = window as unknown as Bench
    const { frames, ms } = await oakenThread.renderTime(oakenThread.getState().session.session!, shared)
    return (frames / 48_000 / ms) * 1000
  }, threads)

const straight: Stretches = { shape: 'line', bend: 0 }
for (const { what, session, processed = false } of [
  { what: '24 tracks moving', session: movingSession(24, SECONDS, straight) },
  {
    what: '24 tracks moving, bent lines (yardstick: straight ones)',
    session: movingSession(24, SECONDS, { shape: 'line', bend: 0.6 }),
  },
  {
    what: '24 tracks moving, four filters and a compressor each',
    session: movingSession(24, SECONDS, straight, { processed: true }),
    processed: true,
  },
]) {
  const page = await opened(session)
  const cores = await page.evaluate(() => navigator.hardwareConcurrency)
  const ours: number[] = []
  const alone: number[] = []
  const theirs: number[] = []
  for (let i = 0; i < TIMES; i++) {
    ours.push(await timesRealTime(page, cores))
    alone.push(await timesRealTime(page, 0))
    const graph = { tracks: 24, seconds: 10, sampleRate: RATE, processed }
    theirs.push((10 * 1000) / (await yardstick.milliseconds(graph)))
  }
  const row = { bench: 'page', what, theirs: round(median(theirs)), unit: 'times real time' }
  for (const [where, values] of [
    [`page, ${cores} threads`, ours],
    ['page, one thread', alone],
  ] as const)
    console.log(
      JSON.stringify({
        ...row,
        where,
        ours: round(median(values)),
        ratio: round(median(values) / median(theirs)),
      }),
    )
  await page.context().close()
}
await yardstick.close()
await browser.close()
server.kill()
