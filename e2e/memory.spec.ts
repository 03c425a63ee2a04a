import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { chromium, expect, test } from '@playwright/test'
import { createBus } from '../src/core/model/create'
import type { Session } from '../src/core/model/session'
import { seededRandom } from '../src/core/units/random'
import { writePackage } from '../src/formats/package.test-util'
import { wavHeader } from '../src/formats/wav-write'
import { browserMegabytes, browserMemory, settled } from './browser-memory'
import { manyTracks, overAndOver } from './many-tracks'
import { importAudio, openPackage } from './support'

/** A WAV file of so many seconds of stereo noise, 24 bit. */
function writeNoise(file: string, seconds: number): void {
  const frames = seconds * 48000
  const out = fs.openSync(file, 'w')
  fs.writeSync(out, wavHeader({ format: 'wav24', channels: 2, sampleRate: 48000, frames, seed: 1 }))
  const random = seededRandom(5)
  const second = Buffer.from(
    Uint8Array.from({ length: 48000 * 6 }, (_, i) => (i % 3 === 2 ? 0 : random() * 256)),
  )
  for (let s = 0; s < seconds; s++) {
    second.writeUInt32LE(s, 0)
    fs.writeSync(out, second)
  }
  fs.closeSync(out)
}

test(
  'the memory of an hour: importing it, having it, exporting it',
  { tag: '@endure' },
  async ({ baseURL, launchOptions }) => {
    test.setTimeout(1_500_000)
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-hour-'))
    const file = path.join(folder, 'hour.wav')
    const profile = path.join(folder, 'profile')
    writeNoise(file, 3600)
    // A profile on disk: in a context of its own the browser would keep all storage in memory.
    const context = await chromium.launchPersistentContext(profile, {
      ...launchOptions,
      baseURL,
    })
    const page = context.pages()[0] ?? (await context.newPage())
    await page.goto('/?test')
    await expect(page.getByRole('heading', { name: 'Sessions' })).toBeVisible()
    const empty = await settled(page, profile)
    await importAudio(page, file)
    let importing = 0
    while (!/\/session\//.test(page.url())) {
      importing = Math.max(importing, browserMegabytes(profile))
      await page.waitForTimeout(300)
    }
    await expect(page.getByTestId('timeline')).toBeVisible({ timeout: 120_000 })
    const resting = await settled(page, profile)
    console.log('at rest:', JSON.stringify(browserMemory(profile).kinds))
    await page.getByRole('link', { name: 'Export' }).click()
    await page.getByRole('radio', { name: 'WAV, 32-bit float' }).check()
    await page.getByRole('button', { name: 'Render the mix' }).click()
    const said = page.getByRole('status').filter({ hasText: 'Highest peak' })
    let exporting = 0
    while ((await said.count()) === 0) {
      exporting = Math.max(exporting, browserMegabytes(profile))
      await page.waitForTimeout(300)
    }
    await context.close()
    fs.rmSync(folder, { recursive: true })
    const over = (megabytes: number) => Math.round(megabytes - empty)
    console.log(
      `an hour of stereo, MB above the empty page of ${Math.round(empty)}: ` +
        `${over(importing)} while importing, ${over(resting)} at rest, ` +
        `${over(exporting)} while exporting`,
    )
    expect(over(importing)).toBeLessThan(350)
    expect(over(resting)).toBeLessThan(200)
    expect(over(exporting)).toBeLessThan(500)
  },
)

const HOURS = 12

test(
  `the memory of ${HOURS} hours: exporting them, and cancelling that`,
  { tag: '@endure' },
  async ({ baseURL, launchOptions }) => {
    test.setTimeout(3_600_000)
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-hours-'))
    const profile = path.join(folder, 'profile')
    const context = await chromium.launchPersistentContext(profile, { ...launchOptions, baseURL })
    const page = context.pages()[0] ?? (await context.newPage())
    await page.goto('/?test')
    await expect(page.getByRole('heading', { name: 'Sessions' })).toBeVisible()
    const empty = await settled(page, profile)
    const one = manyTracks(1, 60, 1)
    const session = overAndOver(one.session, 60 * HOURS, 60)
    await openPackage(page, writePackage(session, one.audio))
    await page.getByRole('link', { name: 'Export' }).click()
    await page.getByRole('radio', { name: 'WAV, 24 bit' }).check()
    const good = page.getByText('Read again: it is what was rendered.')
    const most = async (until: () => Promise<boolean>) => {
      let megabytes = 0
      while (!(await until())) {
        megabytes = Math.max(megabytes, browserMegabytes(profile))
        await page.waitForTimeout(500)
      }
      return megabytes - empty
    }
    const stored = () => page.evaluate(async () => (await navigator.storage.estimate()).usage ?? 0)
    const before = await stored()
    await page.getByRole('button', { name: 'Render the mix' }).click()
    const begun = Date.now()
    const soon = await most(() => Promise.resolve(Date.now() - begun > 30_000))
    await page
      .getByRole('button', { name: /^Cancel/ })
      .first()
      .click()
    await expect.poll(stored, { timeout: 60_000 }).toBeLessThan(before + 50e6)

    await page.getByRole('button', { name: 'Render the mix' }).click()
    const again = Date.now()
    const whole = await most(async () => (await good.count()) > 0)
    const seconds = (Date.now() - again) / 1000
    await context.close()
    fs.rmSync(folder, { recursive: true })
    console.log(
      `${HOURS} hours exported in ${seconds.toFixed(0)} s: ${Math.round(whole)} MB above the empty page of ${Math.round(empty)}, ` +
        `${Math.round(soon)} MB in its first half minute`,
    )
    expect(whole).toBeLessThan(500)
  },
)

test(
  'the memory of delays: an hour of 60 tracks, 30 delays of 4 s and 10 buses, played, looped, sought and edited',
  { tag: '@endure' },
  async ({ baseURL, launchOptions }) => {
    test.setTimeout(900_000)
    const profile = fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-delays-'))
    const context = await chromium.launchPersistentContext(profile, { ...launchOptions, baseURL })
    const page = context.pages()[0] ?? (await context.newPage())
    await page.goto('/?test')
    await expect(page.getByRole('heading', { name: 'Sessions' })).toBeVisible()
    const empty = await settled(page, profile)
    const seconds = 20
    const many = manyTracks(60, seconds, 1)
    const delay = { id: 'delay', kind: 'delay' as const, bypassed: false }
    const session: Session = {
      // An hour of each track: its sound every minute.
      ...overAndOver(many.session, 60, 60),
      busIds: Array.from({ length: 10 }, (_, b) => `bus${b}`),
      buses: Object.fromEntries(
        Array.from({ length: 10 }, (_, b) => [
          `bus${b}`,
          {
            ...createBus(`bus${b}`, `Bus ${b + 1}`, b),
            inserts: [{ ...delay, values: { timeMs: 4000, feedback: 0.6 } }],
          },
        ]),
      ),
      tracks: Object.fromEntries(
        Object.entries(many.session.tracks).map(([id, track], t) => [
          id,
          {
            ...track,
            output: `bus${t % 10}`,
            inserts: t % 3 === 0 ? [{ ...delay, values: { timeMs: 4000, mix: 0.4 } }] : [],
          },
        ]),
      ),
    }
    await openPackage(page, writePackage(session, many.audio))
    let most = 0
    const watch = async (ms: number) => {
      for (const end = Date.now() + ms; Date.now() < end; await page.waitForTimeout(300))
        most = Math.max(most, browserMegabytes(profile))
    }
    await watch(30_000)
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await watch(20_000)
    await page.keyboard.press('l')
    await watch(20_000)
    for (const volume of ['-6', '0']) {
      await page.getByLabel('Mix volume', { exact: true }).fill(volume)
      await page.keyboard.press('Enter')
      await watch(10_000)
    }
    console.log('playing:', JSON.stringify(browserMemory(profile).kinds))
    await context.close()
    fs.rmSync(profile, { recursive: true })
    console.log(
      `60 tracks, 30 delays, 10 buses: ${Math.round(most - empty)} MB above the empty page of ${Math.round(empty)}`,
    )
    expect(most - empty).toBeLessThan(500)
  },
)
