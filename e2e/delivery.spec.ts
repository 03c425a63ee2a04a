import fs from 'node:fs/promises'
import { expect, type Page } from '@playwright/test'
import { unzipSync } from 'fflate'
import type { SessionReport } from '../src/core/suggest/report'
import { bytesOf } from '../src/formats/bytes'
import { openSoundFile } from '../src/formats/sound-file'
import { test } from './fixtures'
import { openSample, sessionOf } from './support'

/** What a download holds. */
async function downloaded(
  page: Page,
  press: () => Promise<void>,
): Promise<{ name: string; bytes: Uint8Array }> {
  const waiting = page.waitForEvent('download')
  await press()
  const file = await waiting
  return { name: file.suggestedFilename(), bytes: new Uint8Array(await fs.readFile((await file.path())!)) }
}

/** All samples of a file of sound, an array a channel. */
async function decoded(bytes: Uint8Array): Promise<Float32Array[]> {
  const file = (await openSoundFile(bytesOf(bytes)))!
  const channels = Array.from({ length: file.channels }, () => new Float32Array(file.frames))
  let at = 0
  for await (const block of file.blocks(1 << 16)) {
    block.forEach((samples, c) => channels[c]!.set(samples, at))
    at += block[0]!.length
  }
  return channels
}

/** The largest difference of two sounds. */
function worst(a: readonly Float32Array[], b: readonly Float32Array[]): number {
  let most = 0
  for (let c = 0; c < a.length; c++)
    for (let i = 0; i < a[c]!.length; i++) most = Math.max(most, Math.abs(a[c]![i]! - b[c]![i]!))
  return most
}

test(
  'a mix is measured, brought to its target, delivered as mix and stems, and reported on',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await page.getByRole('link', { name: 'Export' }).click()
    // As it is it is too soft for the service that receives files, which says so.
    const good = page.getByText('Read again: it is what was rendered.')
    await page.getByLabel('File name').fill('too soft')
    await page.getByRole('button', { name: 'Render the mix' }).click()
    await expect(good).toHaveCount(1)
    await page.getByRole('button', { name: 'Drop off' }).click()
    const refused = page.getByRole('status', { name: 'Delivery of too soft.wav' })
    await expect(refused).toContainText(/Loudness: −\d+\.\d LUFS, asked −23\.0 LUFS ±0\.5\./)
    await expect(refused.getByRole('button', { name: 'Render again' })).toBeVisible()
    await expect(refused.getByRole('button', { name: 'Try again' })).toHaveCount(0)
    await page.getByLabel('File name').fill('')

    await page.getByRole('radio', { name: 'EBU R 128 programme' }).check()
    await page.getByRole('button', { name: 'Measure the mix' }).click()
    const against = page.getByRole('status', { name: 'The mix and its target' })
    await expect(against).toContainText(/fail\s*Loudness −\d+\.\d LUFS, asked −23\.0 LUFS ±0\.5/)
    // The gain is offered for the file, and keeps what it promises; the session stays as it is.
    const before = await sessionOf(page)
    const gain = against.getByRole('radio', { name: /^\+\d+\.\d dB on this file/ })
    await gain.check()
    const promised = /−23\.0 LUFS, true peak (−\d+\.\d) dBTP/.exec((await against.textContent())!)![1]!
    await page.getByRole('radio', { name: 'WAV, 32-bit float' }).check()
    await page.getByRole('button', { name: /^Render the mix, \+\d+\.\d dB$/ }).click()
    const mixCard = page.getByRole('status', { name: 'Rendered: The Tide Mill - mix.wav' })
    await expect(mixCard).toContainText(`True peak ${promised} dBTP, loudness −23.0 LUFS`)
    await expect(mixCard.getByText('pass')).toHaveCount(2)
    expect(await sessionOf(page)).toEqual(before)
    // Measured with it, it is what the target asks for.
    await against.getByRole('button', { name: 'Measure with this change' }).click()
    await expect(against.getByText('pass')).toHaveCount(2)

    await against.getByRole('radio', { name: /^No change/ }).check()
    await page.getByRole('radio', { name: 'No target' }).check()
    await page.getByLabel('File name').fill('plain mix')
    await page.getByRole('button', { name: 'Render the mix' }).click()
    await page.getByLabel('File name').fill('')
    await page.getByRole('radio', { name: 'EBU R 128 programme' }).check()
    // The queue goes on: the stems are asked for at once.
    await page.getByRole('radio', { name: /^Stems/ }).check()
    await expect(page.getByText('“01 Narrator.wav”, “02 Mill wheel.wav” …')).toBeVisible()
    await page.getByRole('button', { name: 'Render 7 stems' }).click()
    await expect(page.getByText('waits for its turn').first()).toBeVisible()
    await expect(good).toHaveCount(10, { timeout: 90_000 })
    await mixCard.getByRole('button', { name: 'Drop off' }).click()
    await expect(page.getByRole('status', { name: 'Delivery of The Tide Mill - mix.wav' })).toContainText(
      /checked there: the same checksum, −2[23]\.\d LUFS/,
    )

    const zip = await downloaded(page, () => page.getByRole('button', { name: 'All as one ZIP' }).click())
    expect(zip.name).toBe('The Tide Mill.zip')
    const files = unzipSync(zip.bytes)
    expect(Object.keys(files)).toHaveLength(10)
    const mix = await decoded(files['plain mix.wav']!)
    const sum = mix.map((side) => new Float32Array(side.length))
    for (const [name, bytes] of Object.entries(files)) {
      if (!/^0\d /.test(name)) continue
      const stem = await decoded(bytes)
      stem.forEach((side, c) => side.forEach((x, i) => (sum[c]![i] = sum[c]![i]! + x)))
    }
    expect(worst(sum, mix)).toBeLessThan(1e-6)

    // The same as FLAC of 24 bits: within the step and a half of rounding and dither.
    await page.getByRole('radio', { name: /^The mix/ }).check()
    await page.getByRole('radio', { name: 'FLAC, 24 bit' }).check()
    await page.getByRole('button', { name: 'Render the mix' }).click()
    await expect(good).toHaveCount(11)
    const flac = await downloaded(page, () =>
      page.getByRole('link', { name: /^Download The Tide Mill - mix\.flac/ }).click(),
    )
    const off = worst(await decoded(flac.bytes), mix)
    expect(off).toBeLessThan(1.51 * 2 ** -23)
    expect(off).toBeGreaterThan(0)

    await page.getByRole('link', { name: 'Report' }).click()
    await expect(page.getByText('No sample passes full scale.')).toBeVisible()
    const json = await downloaded(page, () => page.getByRole('button', { name: 'Download JSON' }).click())
    const report = JSON.parse(new TextDecoder().decode(json.bytes)) as SessionReport
    // The report is of the session, which was left as it is.
    expect(report.requirements.map(({ passes }) => passes)).toEqual([false, true])
    expect(report.files).toHaveLength(11)
    expect(report.files.every(({ good: is, sha256 }) => is && /^[0-9a-f]{64}$/.test(sha256))).toBe(true)
    // The loudest passage leads to its place in the editor.
    await page
      .getByRole('button', { name: /^\d:\d\d\.\d$/ })
      .first()
      .click()
    await expect(page.getByTestId('timeline')).toBeVisible()
  },
)

test(
  'files that wait are taken off the list, the one that is rendered is cancelled, and nothing is left of them',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await page.getByRole('link', { name: 'Export' }).click()
    await page.getByRole('radio', { name: 'Tracks after volume and pan' }).check()
    await page.getByRole('combobox', { name: 'Sample rate' }).selectOption('44100')
    await page.getByRole('button', { name: 'Render 7 tracks' }).click()
    for (const name of ['07 Bells', '06 Gulls and gates', '05 Pedal bass', '04 Concertina', '03 Mill race'])
      await page.getByRole('button', { name: `Do not render ${name}.wav` }).click()
    await page.getByRole('button', { name: 'Cancel' }).click()
    await expect(page.getByText('cancelled; nothing was written')).toBeVisible()
    await expect(page.getByRole('heading', { name: '02 Mill wheel.wav' })).toBeVisible()
    await expect(page.getByText('07 Bells.wav')).toHaveCount(0)
    // On the disk lies the one that is done, and nothing of the one that was cancelled.
    const onDisk = await page.evaluate(async () => {
      const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('exports')
      let count = 0
      for await (const _ of (folder as unknown as { keys(): AsyncIterable<string> }).keys()) count++
      return count
    })
    expect(onDisk).toBe(1)
    const first = await downloaded(page, () =>
      page.getByRole('link', { name: /^Download 02 Mill wheel/ }).click(),
    )
    const file = (await openSoundFile(bytesOf(first.bytes)))!
    expect(file).toMatchObject({ sampleRate: 44_100, channels: 2 })
    // What was chosen is there again after a reload.
    await page.reload()
    await expect(page.getByRole('combobox', { name: 'Sample rate' })).toHaveValue('44100')
  },
)
