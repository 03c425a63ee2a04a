import { once } from 'node:events'
import { readFileSync } from 'node:fs'
import fs from 'node:fs/promises'
import http from 'node:http'
import os from 'node:os'
import path from 'node:path'
import type { AddressInfo } from 'node:net'
import { fileURLToPath } from 'node:url'
import { expect, type Locator, type Page } from '@playwright/test'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import type { Session } from '../src/core/model/session'
import { bytesOf } from '../src/formats/bytes'
import { decodeWav, readWavHeader } from '../src/formats/wav-read'
import type { TestPlayer } from '../src/engine/playback'
import { keepSeed, sow } from './seed'
import type { RootState } from '../src/store/store'
import { ROW_HEIGHT } from '../src/store/view'

/** Height of a track's row, in pixels. */
export const ROW = ROW_HEIGHT.first

declare global {
  interface Window {
    oakenThread: {
      getPlayer(): TestPlayer
      whenSaved(): Promise<void>
      getState(): RootState
      loadAhead(): Promise<number>
    }
  }
}

/** Opens the sample session as it comes, with its processing, and waits until its pictures are there. */
export const openProcessedSample = (page: Page): Promise<void> =>
  openSeeded(page, 'processed', () => page.goto('/session/tide-mill?test'))

/** Opens the sample session as it was stored when it was opened first in this browser, or so by `first`. */
async function openSeeded(page: Page, seed: string, first: () => Promise<unknown>): Promise<void> {
  const known = await sow(page, seed)
  if (known) await page.goto('/session/tide-mill?test')
  else await first()
  await expect(page.getByTestId('timeline')).toBeVisible()
  await expect(page.getByRole('heading', { name: 'The Tide Mill' })).toBeVisible()
  if (!known) await keepSeed(page, seed)
}

let plain: Uint8Array<ArrayBuffer> | null = null

/** The sample session without inserts, sends and buses: what plays depends on its own frame alone, so formulas say what it is. */
function plainSample(): Uint8Array<ArrayBuffer> {
  if (plain) return plain
  const files = unzipSync(readFileSync(fromRoot('public/sample/tide-mill.oaken.zip')))
  const session = JSON.parse(strFromU8(files['session.json']!)) as Session
  for (const track of Object.values(session.tracks))
    Object.assign(track, { inserts: [], sends: [], output: 'mix' })
  Object.assign(session, { busIds: [], buses: {} })
  files['session.json'] = strToU8(JSON.stringify(session))
  return (plain = zipSync(files, { level: 0 }))
}

/** Opens the sample session without its processing, and waits until its pictures are there. */
export const openSample = (page: Page): Promise<void> =>
  openSeeded(page, 'plain', () => openPackage(page, plainSample()))

const SAMPLE = '**/sample/tide-mill.oaken.zip'

/**
 * Opens a package in place of the sample session. It comes from a server of its own, since what a test hands
 * to the browser itself must be small.
 */
export async function openPackage(page: Page, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
  const server = http.createServer((_request, response) => response.end(bytes)).listen(0, '127.0.0.1')
  await once(server, 'listening')
  const { port } = server.address() as AddressInfo
  await page.route(SAMPLE, (route) => route.fallback({ url: `http://127.0.0.1:${port}/` }))
  await page.goto('/session/tide-mill?test')
  await expect(page.getByTestId('timeline')).toBeVisible({ timeout: 240_000 })
  await page.unroute(SAMPLE)
  server.close()
}

/** A file as Playwright takes it. */
export interface ChosenFile {
  name: string
  mimeType: string
  buffer: Buffer
}

/** Imports audio files by the file dialog, and as the dialog after it proposes. */
export async function importAudio(
  page: Page,
  files: ChosenFile | ChosenFile[] | string | string[],
): Promise<void> {
  await page.getByLabel('Import audio files').setInputFiles(files)
  await page.getByRole('button', { name: /^(Make the session|Import)$/ }).click()
}

/** Opens a copy of a session by the file dialog. It goes over the disk: what a test sends to the page itself is slow. */
export async function chooseCopy(page: Page, name: string, bytes: Uint8Array): Promise<void> {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'oaken-copy-'))
  await fs.writeFile(path.join(folder, name), bytes)
  await page.getByLabel('Copies of sessions').setInputFiles(path.join(folder, name))
  // The page may read it until it is closed.
  page.once('close', () => void fs.rm(folder, { recursive: true, force: true }))
}

/** Loads the page anew as F5 does, with the address that lets scripts ask it. */
export async function reload(page: Page): Promise<void> {
  const url = new URL(page.url())
  url.searchParams.set('test', '')
  await page.goto(url.href)
}

export const sessionOf = (page: Page) =>
  page.evaluate((): Session => window.oakenThread.getState().session.session!)
export const whenSaved = (page: Page) => page.evaluate(() => window.oakenThread.whenSaved())

/** The region's place on the screen. */
export const regionGroup = (page: Page, name: string): Locator =>
  page.getByRole('group', { name: new RegExp(`^${name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}, `) })

/** Drags from a point by a distance, in steps, with keys held. */
export async function drag(
  page: Page,
  from: { x: number; y: number },
  by: { dx?: number; dy?: number },
  steps = 5,
): Promise<void> {
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move(from.x + (by.dx ?? 0), from.y + (by.dy ?? 0), { steps })
  await page.mouse.up()
}

export async function middleOf(locator: Locator): Promise<{ x: number; y: number }> {
  const box = (await locator.boundingBox())!
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 }
}

/** Runs in the page: hands the channels of a sound over to the test, as they are. */
const HAND_OVER = `async (channels) => {
  const id = crypto.randomUUID()
  await fetch('/handed-over/' + id, { method: 'POST', body: new Blob(channels) })
  return id
}`

/** The sound of two channels that a page has handed over. */
async function handedOver(page: Page, id: string): Promise<Float32Array[]> {
  const bytes = await (await fetch(new URL(`/handed-over/${id}`, page.url()))).arrayBuffer()
  const both = new Float32Array(bytes)
  return [both.subarray(0, both.length / 2), both.subarray(both.length / 2)]
}

/** What goes through the ring when the session is played from a frame on. */
export async function throughRing(page: Page, from: number, frames: number): Promise<Float32Array[]> {
  const id = await page.evaluate<string>(
    `window.oakenThread.getPlayer().drain(${from}, ${frames}).then(({ left, right }) => (${HAND_OVER})([left, right]))`,
  )
  return handedOver(page, id)
}

/**
 * Plays from a time on and returns the next frames that the audio thread put out, and the session frame at which they begin.
 * The clock is that of the audio thread: a busy machine takes longer, and the frames are as many.
 */
export async function playedLive(
  page: Page,
  fromSeconds: number,
  forSeconds: number,
): Promise<{ from: number; channels: Float32Array[] }> {
  await page.evaluate((s) => window.oakenThread.getPlayer().seek(s * 48000), fromSeconds)
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  await expect
    .poll(() => page.evaluate(() => window.oakenThread.getPlayer().position()))
    .toBeGreaterThan((fromSeconds + 0.05) * 48000)
  // In two calls: a promise that the page alone waits for is now and then let go by the browser.
  await page.evaluate(() => window.oakenThread.getPlayer().beginCapture())
  const captured = () => page.evaluate(() => window.oakenThread.getPlayer().capturedFrames())
  for (let frames = 0; frames < forSeconds * 48000;) {
    const before = frames
    await expect.poll(async () => (frames = await captured()), { timeout: 30_000 }).toBeGreaterThan(before)
  }
  const heard = await page.evaluate<{ from: number; id: string }>(`(async () => {
    const player = window.oakenThread.getPlayer()
    const kept = player.endCapture()
    player.pause()
    const sides = ['left', 'right'].map((side) => {
      const all = new Float32Array(kept.length * 128)
      kept.forEach((c, i) => all.set(c[side], i * 128))
      return all
    })
    return { from: kept[0].sessionFrame, id: await (${HAND_OVER})(sides) }
  })()`)
  return { from: heard.from, channels: await handedOver(page, heard.id) }
}

/**
 * Waits until what plays has come so far (seconds of the session); the position (frames) and the underruns
 * until then. The clock is that of the audio thread, which runs slower while the machine has other things to
 * do: it only may not stand still for half a minute.
 */
export async function playedOn(
  page: Page,
  seconds: number,
): Promise<{ position: number; underruns: number }> {
  const now = () =>
    page.evaluate(() => ({
      position: window.oakenThread.getPlayer().position(),
      underruns: window.oakenThread.getPlayer().underruns,
    }))
  let { position } = await now()
  while (position <= seconds * 48000) {
    await expect.poll(async () => (await now()).position, { timeout: 30_000 }).toBeGreaterThan(position)
    position = (await now()).position
    await page.waitForTimeout(100)
  }
  return now()
}

/** Renders on the page for export and returns the file's sound and header. */
export async function exported(page: Page, format: 'WAV, 32-bit float' | 'WAV, 24 bit' | 'WAV, 16 bit') {
  await page.getByRole('link', { name: 'Export' }).click()
  await page.getByRole('radio', { name: format }).check()
  const all = page.getByRole('status').filter({ hasText: 'Highest peak' })
  const before = await all.count()
  await page.getByRole('button', { name: /^Render (?!again)/ }).click()
  await expect(all).toHaveCount(before + 1)
  // The newest stands first.
  const said = all.first()
  const waiting = page.waitForEvent('download')
  await said.getByRole('link', { name: /^Download/ }).click()
  const download = await waiting
  const bytes = await fs.readFile((await download.path())!)
  const header = await readWavHeader(bytesOf(bytes))
  const channels = decodeWav(
    header,
    bytes.subarray(header.dataFrom, header.dataFrom + header.frames * header.bytesPerFrame),
    0,
  )
  return { name: download.suggestedFilename(), said: await said.innerText(), header, channels }
}

/** Index of the first frame at which two sounds differ in any bit, -1 when they are the same. */
export function firstDifference(a: Float32Array, b: Float32Array): number {
  if (a.length !== b.length) return Math.min(a.length, b.length)
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return i
  return -1
}

/** A path from the project's root. */
export const fromRoot = (path: string) => fileURLToPath(new URL(`../${path}`, import.meta.url))

/** The largest absolute sample of a stretch. */
export const peakOf = (x: Float32Array) => x.reduce((peak, v) => Math.max(peak, Math.abs(v)), 0)

/** Scrolls the rows up or down. */
export async function scrollRows(page: Page, by: number) {
  const area = (await page.getByTestId('timeline').boundingBox())!
  await page.mouse.move(area.x + 300, area.y + 40)
  await page.mouse.wheel(0, by)
}

/** Picks a bead of the Path. */
export const bead = (page: Page, name: string) =>
  page.getByRole('button', { name: new RegExp(`^${name} of the track`) }).click()

/** The area of the timeline, and where seconds lie on it. */
export async function place(page: Page) {
  const area = (await page.getByTestId('timeline').boundingBox())!
  const { view } = await page.evaluate(() => window.oakenThread.getState().navigation)
  return { area, x: (seconds: number) => area.x + (seconds * 48000 - view.left) / view.framesPerPixel }
}

/**
 * Waits until the page has had thirty frames in a row within a tenth of a second each, a minute at most: what
 * is measured in time begins when nothing else holds the machine up.
 */
export const steady = (page: Page): Promise<void> =>
  page.evaluate(async () => {
    let [inTime, last] = [0, performance.now()]
    const begun = last
    while (inTime < 30 && last - begun < 60_000) {
      await new Promise(requestAnimationFrame)
      const now = performance.now()
      inTime = now - last < 100 ? inTime + 1 : 0
      last = now
    }
  })

/**
 * Types a value into a field while the session plays; the milliseconds from Enter until the audio thread puts out nothing over
 * `below` any more, by its own clock: how late a busy page hears of that does not count. What was missing meanwhile is added.
 */
export const quietAfter = (field: Locator, text: string, below: number): Promise<number> =>
  field.evaluate(
    async (element, typed) => {
      const input = element as HTMLInputElement
      const player = window.oakenThread.getPlayer() as unknown as TestPlayer
      const missing = () => player.underruns * 128
      player.beginCapture()
      input.focus()
      Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!.call(input, typed.text)
      input.dispatchEvent(new Event('input', { bubbles: true }))
      await new Promise((resolve) => setTimeout(resolve, 50))
      const begun = player.framesPlayed()
      const missed = missing()
      input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
      await new Promise((resolve) => setTimeout(resolve, 1500))
      const more = missing() - missed
      const loud = player.endCapture().filter(({ left }) => left.some((x) => Math.abs(x) >= typed.below))
      return (loud.at(-1)!.after + 128 - begun + more) / 48
    },
    { text, below },
  )
