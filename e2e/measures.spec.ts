import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { expect } from '@playwright/test'
import { WavEncoder, wavHeader } from '../src/formats/wav-write'
import { test } from './fixtures'
import { exported, importAudio, sessionOf } from './support'

const RATE = 48_000

/** Writes a file of 32-bit samples and returns its path. */
function written(folder: string, name: string, channels: Float32Array[]): string {
  const count = channels.length as 1 | 2
  const frames = channels[0]!.length
  const info = { format: 'wav32f', channels: count, sampleRate: RATE, frames, seed: 1 } as const
  const file = path.join(folder, `${name}.wav`)
  fs.writeFileSync(file, Buffer.concat([wavHeader(info), new WavEncoder(info).encode(channels)]))
  return file
}

/** A stereo file of 1 kHz whose right side is inverted, and half as loud. */
function cancelling(folder: string, seconds: number): string {
  const left = Float32Array.from({ length: seconds * RATE }, (_, n) =>
    Math.fround(0.1 * Math.sin((2 * Math.PI * 1000 * n) / RATE)),
  )
  const right = left.map((x) => -x / 2)
  return written(folder, 'cancelling', [left, right])
}

test(
  'a pair of channels that cancel is found, heard cured, evened out and cured, and the meters agree with the file',
  { tag: '@more' },
  async ({ page }) => {
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-sides-'))
    await page.goto('/?test')
    await importAudio(page, cancelling(folder, 8))
    await expect(page.getByTestId('timeline')).toBeVisible()
    const region = page.getByRole('group', { name: /cancelling/ }).first()
    await region.click({ position: { x: 40, y: 30 } })
    await page.getByRole('button', { name: 'cancel', exact: true }).click()
    const panel = page.getByRole('dialog', { name: 'Left and right, and phase' })
    await expect(panel.getByRole('status')).toHaveText('Left is 6.0 dB above right.')
    await expect(panel.getByRole('region', { name: 'Left and right cancel' })).toContainText(
      'correlation −1.00',
    )

    // Heard cured, it is no step yet; pressed again it is as it was.
    const sidesOf = async () => Object.values((await sessionOf(page)).regions)[0]!.sides
    await panel.getByRole('button', { name: 'Hear it cured' }).click()
    await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible()
    await panel.getByRole('button', { name: 'Heard cured' }).click()
    expect(await sidesOf()).toBeUndefined()
    await page.getByRole('button', { name: 'Pause' }).click()

    await panel.getByRole('button', { name: 'Even out' }).click()
    await expect(panel.getByRole('status')).toHaveText('Left and right are even.')
    await panel.getByRole('button', { name: 'Invert the right side' }).click()
    await expect(panel.getByText('Left and right cancel nowhere in it.')).toBeVisible()
    expect(await sidesOf()).toEqual({ gainDb: [-3.01, 3.01], polarity: [1, -1] })
    await panel.getByRole('button', { name: 'Close' }).last().click()

    // Both sides are a sine of -23.01 dBFS now: -23.0 LUFS.
    await page.getByRole('button', { name: 'Meters' }).click()
    const meters = page.getByRole('complementary', { name: 'Meters' })
    await page.getByRole('button', { name: 'Return to the start' }).click()
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    const figure = (name: string) =>
      meters.locator('dt', { hasText: name }).locator('xpath=following-sibling::dd[1]')
    await expect(figure('short-term')).toHaveText(/^−2[23]\.[019]$/)
    await expect(figure('integrated')).toHaveText('−23.0')
    await expect(figure('true peak')).toHaveText('−23.0')
    await expect(figure('left against right')).toHaveText('1.00')
    // What is only for the ears says so, and no file has it.
    await page.getByRole('button', { name: 'Monitor' }).click()
    await page.getByRole('radio', { name: 'Left only' }).click()
    await page.keyboard.press('Escape')
    await expect(page.getByRole('button', { name: 'Monitor: left only' })).toBeVisible()

    const { channels } = await exported(page, 'WAV, 32-bit float')
    const factors = [10 ** (-3.01 / 20), -(10 ** (3.01 / 20))]
    let most = 0
    for (let i = 0; i < 4 * RATE; i++) {
      const left = 0.1 * Math.sin((2 * Math.PI * 1000 * i) / RATE)
      most = Math.max(
        most,
        Math.abs(channels[0]![i]! - left * factors[0]!),
        Math.abs(channels[1]![i]! - (-left / 2) * factors[1]!),
      )
    }
    expect(most).toBeLessThan(1e-6)
  },
)

/** A mono file of thuds of noise, so many frames late, perhaps inverted. */
function thuds(folder: string, name: string, late: number, sign: 1 | -1): string {
  let seed = 5
  const random = () => (seed = (seed * 48271) % 2147483647) / 2147483647 - 0.5
  let y = 0
  const sound = Float32Array.from({ length: 6 * RATE }, (_, n) => {
    y = 0.9 * y + 0.1 * random()
    return y * Math.exp(-(n % RATE) / 8000)
  })
  const samples = sound.map((_, n) => sign * (sound[n - late] ?? 0))
  return written(folder, name, [samples])
}

test(
  'two tracks of one event that cancel are brought together; a stereo track is evened out before its inserts',
  { tag: '@more' },
  async ({ page }) => {
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'oaken-phase-'))
    await page.goto('/?test')
    await importAudio(page, [
      thuds(folder, 'close', 0, 1),
      thuds(folder, 'room', 4, -1),
      cancelling(folder, 6),
    ])
    await expect(page.getByTestId('timeline')).toBeVisible()
    const head = (name: string) => page.getByRole('region', { name, exact: true })
    const corner = { position: { x: 8, y: 8 } }
    await head('close').click(corner)
    await head('room').click({ ...corner, modifiers: ['Shift'] })
    await head('room').click({ ...corner, button: 'right' })
    await page.getByRole('menuitem', { name: 'Phase of these two tracks…' }).click()
    const panel = page.getByRole('dialog', { name: 'Left and right, and phase' })
    const both = panel.getByRole('region', { name: 'Phase of both' })
    await expect(both.getByRole('status')).toContainText('they cancel each other.They cancel')
    await both.getByRole('button', { name: /^Invert “room”/ }).click()
    await both.getByRole('button', { name: /^Shift “room” by 4 samples earlier \(1\.00\)/ }).click()
    await expect(both.getByRole('status')).toContainText('Correlation of both 1.00: they go together.')
    const moved = await sessionOf(page)
    const track = (name: string) => Object.values(moved.tracks).find((t) => t.name === name)!
    expect(track('room').polarity).toBe(-1)
    // It cannot come earlier than the start: the other one is 4 frames later.
    const start = (name: string) =>
      Object.values(moved.regions).find((r) => r.trackId === track(name).id)!.start
    expect([start('close'), start('room')]).toEqual([4, 0])

    await head('cancelling').click(corner)
    await expect(panel.getByRole('status')).toHaveText('Left is 6.0 dB above right.')
    await panel.getByRole('button', { name: 'Even out' }).click()
    await expect(panel.getByRole('status')).toHaveText('Left and right are even.')
    await panel.getByRole('button', { name: 'Invert the right side' }).click()
    await expect(panel.getByText('Left and right cancel nowhere in it.')).toBeVisible()
    const evened = Object.values((await sessionOf(page)).tracks).find((t) => t.name === 'cancelling')!
    expect(evened.sides).toEqual({ gainDb: [-3.01, 3.01], polarity: [1, -1] })
  },
)
