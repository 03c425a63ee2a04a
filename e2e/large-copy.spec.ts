import { createHash } from 'node:crypto'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { chromium, expect, test, type Page } from '@playwright/test'
import { createSession } from '../src/core/model/create'
import { addSounds } from '../src/core/edit'
import { seededRandom } from '../src/core/units/random'
import { writePackageTo } from '../src/formats/package-write'
import { browserMegabytes, browserMemory, settled } from './browser-memory'

const RATE = 48000

/** Ten hours of 24-bit stereo noise take 10.4 GB; with another number of hours each new most of memory is printed. */
const HOURS = Number(process.env.LARGE_HOURS ?? 10)

/** A second of noise, and the n-th second of a source: the same with one sample of its own. */
const random = seededRandom(3)
const noise = [0, 1].map(() =>
  Float32Array.from({ length: RATE }, () => Math.round((random() - 0.5) * 8e6) / 8388608),
)
function second(source: number, n: number): Float32Array[] {
  noise[0]![0] = (n + 1) / 8388608
  noise[1]![0] = (source + 1) / 8388608
  return noise
}

/** SHA-256 of an hour of such a source, as sessions file sounds. */
function hashOf(source: number): string {
  const hash = createHash('sha256')
  const interleaved = new Float32Array(RATE * 2)
  for (let n = 0; n < 3600; n++) {
    const [left, right] = second(source, n)
    for (let i = 0; i < RATE; i++) {
      interleaved[2 * i] = left![i]!
      interleaved[2 * i + 1] = right![i]!
    }
    hash.update(new Uint8Array(interleaved.buffer))
  }
  return hash.digest('hex')
}

/** Writes a package of so many hours, each a track. */
async function writeLarge(file: string): Promise<void> {
  const sounds = Array.from({ length: HOURS }, (_, n) => ({
    source: {
      id: `s${n}`,
      name: `hour ${n}.wav`,
      channels: 2 as const,
      frames: 3600 * RATE,
      sampleRate: RATE,
      sha256: hashOf(n),
    },
    trackId: `t${n}`,
    regionId: `r${n}`,
  }))
  const session = addSounds.apply(createSession('hours', 'Ten hours', RATE), { sounds, start: 0 })
  const out = fs.openSync(file, 'w')
  await writePackageTo(session, {
    write: (bytes) => void fs.writeSync(out, bytes),
    async *sound({ id }) {
      for (let n = 0; n < 3600; n++) yield second(Number(id.slice(1)), n)
    },
  })
  fs.closeSync(out)
}

/** The most memory that the browser takes until something is true. */
async function mostUntil(page: Page, profile: string, done: () => Promise<boolean>): Promise<number> {
  let most = 0
  while (!(await done())) {
    const now = browserMegabytes(profile)
    if (now > most && process.env.LARGE_HOURS)
      console.log(Math.round(now), JSON.stringify(browserMemory(profile).kinds))
    most = Math.max(most, now)
    await page.waitForTimeout(1000)
  }
  return most
}

test(
  'a copy of ten gigabytes is opened and saved in 300 MB',
  { tag: '@endure' },
  async ({ baseURL, launchOptions }) => {
    test.setTimeout(5_400_000)
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-large-'))
    const file = path.join(folder, 'ten hours.oaken')
    const profile = path.join(folder, 'profile')
    try {
      await writeLarge(file)
      const bytes = fs.statSync(file).size
      expect(bytes).toBeGreaterThan(HOURS * 1e9)
      const context = await chromium.launchPersistentContext(profile, {
        ...launchOptions,
        ...(baseURL ? { baseURL } : {}),
      })
      const page = context.pages()[0] ?? (await context.newPage())
      // The origin's private file system stands in for a file that is chosen.
      await page.addInitScript(() =>
        Object.assign(window, {
          showSaveFilePicker: async () =>
            (await navigator.storage.getDirectory()).getFileHandle('copy.oaken', { create: true }),
        }),
      )
      await page.goto('/?test')
      await expect(page.getByRole('heading', { name: 'Sessions' })).toBeVisible()
      const empty = await settled(page, profile)
      await page.getByLabel('Copies of sessions').setInputFiles(file)
      const began = Date.now()
      const opening = await mostUntil(page, profile, async () => /\/session\//.test(page.url()))
      const opened = (Date.now() - began) / 1000
      await expect(page.getByTestId('timeline')).toBeVisible({ timeout: 120_000 })
      expect(await page.evaluate(() => window.oakenThread.getState().session.missing)).toEqual([])
      // From the list: in the editor the search for overloads and the pictures take memory of their own meanwhile.
      await page.goto('/?test')
      const saving = Date.now()
      await page.getByRole('button', { name: /^What to do with/ }).click()
      await page.getByRole('menuitem', { name: 'Save a copy…' }).click()
      const said = page.getByText('was saved as “copy.oaken”').first()
      const most = await mostUntil(page, profile, async () => (await said.count()) > 0)
      const size = await page.evaluate(
        async () =>
          (await (await (await navigator.storage.getDirectory()).getFileHandle('copy.oaken')).getFile()).size,
      )
      console.log(
        `a copy of ${(bytes / 1e9).toFixed(1)} GB, MB above the empty page of ${Math.round(empty)}: ` +
          `${Math.round(opening - empty)} while opening (${Math.round(opened)} s), ` +
          `${Math.round(most - empty)} while saving (${Math.round((Date.now() - saving) / 1000)} s)`,
      )
      expect(size).toBe(bytes)
      expect(opening - empty).toBeLessThan(300)
      expect(most - empty).toBeLessThan(300)
      await context.close()
    } finally {
      fs.rmSync(folder, { recursive: true, force: true })
    }
  },
)
