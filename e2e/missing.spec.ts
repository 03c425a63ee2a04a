import fs from 'node:fs'
import { expect, type Page } from '@playwright/test'
import { unzipSync, zipSync } from 'fflate'
import type { Session } from '../src/core/model/session'
import { test } from './fixtures'
import { firstDifference, fromRoot, peakOf, sessionOf, throughRing, whenSaved, chooseCopy } from './support'

// A browser that has none of the sounds.
test.use({ fresh: true })

/** The sample session's files: its session, and its sounds by name. */
function sample() {
  const files = unzipSync(fs.readFileSync(fromRoot('public/sample/tide-mill.oaken.zip')))
  const session = JSON.parse(new TextDecoder().decode(files['session.json'])) as Session
  const named = (name: string) => Object.values(session.sources).find((s) => s.name.startsWith(name))!
  return { files, session, fileOf: (name: string) => `audio/${named(name).sha256}.wav` }
}

const choose = (page: Page, files: Record<string, Uint8Array>) =>
  chooseCopy(page, 'walk.oaken', zipSync(files, { level: 0 }))

test(
  'a copy that lacks sounds opens with silence there, and takes them from files: the very ones, or others as long',
  { tag: '@more' },
  async ({ page }) => {
    const { files, fileOf } = sample()
    const [race, bells] = [fileOf('mill race'), fileOf('harbour bell')]
    const [raceBytes, bellBytes] = [files[race]!, files[bells]!]
    delete files[race]
    delete files[bells]
    await page.goto('/?test')
    await choose(page, files)
    const question = page.getByRole('dialog', { name: '2 sounds are missing' })
    await question.getByRole('button', { name: 'Do not open it' }).click()
    await expect(page.getByText('Open the sample')).toBeVisible()
    await expect(page.getByRole('list', { name: 'Sessions' }).getByRole('listitem')).toHaveCount(1)

    await choose(page, files)
    await question.getByRole('button', { name: 'Open with silence there' }).click()
    await expect(page.getByText('2 sounds of this session are missing and silent.')).toBeVisible()
    const { regions, sources } = await sessionOf(page)
    const raceSource = Object.values(sources).find((s) => race.includes(s.sha256))!
    const region = Object.values(regions).find((r) => r.sourceId === raceSource.id)!
    // Heard alone: the silence of what is missing, not of what is muted.
    await page.getByRole('button', { name: 'Solo Mill race' }).click()
    const [silent] = await throughRing(page, region.start, 48000)
    expect(peakOf(silent!)).toBe(0)

    await page.getByRole('button', { name: 'Find them…' }).click()
    const list = page.getByRole('list', { name: 'Missing' })
    await expect(list.getByRole('listitem')).toHaveCount(2)
    const give = (name: string, bytes: Uint8Array) =>
      page
        .getByLabel('Files of missing sounds')
        .setInputFiles({ name, mimeType: 'audio/wav', buffer: Buffer.from(bytes) })
    await give('found again.wav', raceBytes)
    await expect(page.getByText(/Found: “mill race/)).toBeVisible()
    await expect(list.getByRole('listitem')).toHaveCount(1)
    const [heard] = await throughRing(page, region.start, 48000)
    expect(peakOf(heard!)).toBeGreaterThan(0.01)

    // One sample of it is another: as long, but not the same.
    const other = bellBytes.slice()
    other[other.length - 1]! ^= 1
    await give('bells, another mix.wav', other)
    await expect(page.getByText('their samples are others')).toBeVisible()
    await page.getByRole('button', { name: 'Use it instead' }).click()
    await expect(page.getByText('Nothing is missing any more.')).toBeVisible()
    await page.getByRole('button', { name: 'Close' }).first().click()
    await expect(page.getByText(/missing and silent/)).toHaveCount(0)
    await page.getByRole('button', { name: /^Undo: Use “bells, another mix.wav”/ }).click()
    await whenSaved(page)
    // What is found sounds as in a browser that had it all along.
    const elsewhere = await page
      .context()
      .browser()!
      .newContext({ baseURL: new URL(page.url()).origin })
    const whole = await elsewhere.newPage()
    await whole.goto('/session/tide-mill?test')
    await expect(whole.getByTestId('timeline')).toBeVisible()
    await whole.getByRole('button', { name: 'Solo Mill race' }).click()
    const [expected] = await throughRing(whole, region.start, 48000)
    expect(firstDifference(heard!, expected!)).toBe(-1)
    await elsewhere.close()
  },
)
