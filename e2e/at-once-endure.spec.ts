import { expect } from '@playwright/test'
import { writePackage } from '../src/formats/package.test-util'
import { test } from './fixtures'
import { manyTracks, overAndOver } from './many-tracks'
import { openPackage } from './support'

const TRACKS = 16

test(
  'two exports, a measurement and playing go on at once without a gap',
  { tag: ['@endure', '@alone'] },
  async ({ page }) => {
    test.setTimeout(300_000)
    const many = manyTracks(TRACKS, 20, 1)
    // Twenty minutes: the sound of each track over and over.
    const session = overAndOver(many.session, 60, 20)
    await openPackage(page, writePackage(session, many.audio))
    await page.getByRole('link', { name: 'Export' }).click()
    await page.getByRole('button', { name: 'Render the mix' }).click()
    await page.getByRole('radio', { name: 'FLAC, 24 bit' }).check()
    await page.getByRole('button', { name: /^Render (?!again)/ }).click()
    await expect(page.getByText('waits for its turn')).toBeVisible()
    await page.getByRole('link', { name: 'Back to the session' }).click()

    await expect(page.getByTestId('timeline')).toBeVisible()
    await page.keyboard.press('Control+k')
    await page.getByRole('combobox').waitFor()
    await page.keyboard.type('loudness over time')
    await page.keyboard.press('Enter')
    const panel = page.getByRole('dialog', { name: 'Loudness over time' })
    await expect(panel.getByText(/^Measuring/)).toBeVisible()
    await page.evaluate(() => window.oakenThread.getPlayer().seek(60 * 48_000))
    await page.evaluate(() => window.oakenThread.getPlayer().play())
    await page.waitForTimeout(30_000)
    const { position, gaps } = await page.evaluate(() => ({
      position: window.oakenThread.getPlayer().position(),
      gaps: window.oakenThread.getPlayer().underruns,
    }))
    const { exports } = await page.evaluate(() => window.oakenThread.getState().jobs)
    console.log(
      `played on ${(position / 48_000 - 60).toFixed(1)} s beside exports (${exports.map((e) => e.state).join(', ')}): ${gaps} gaps`,
    )
    expect(gaps).toBe(0)
    expect(position).toBeGreaterThan(80 * 48_000)
    // Both files are good, and so is the measurement.
    await expect(panel.getByRole('status')).toContainText('Integrated', { timeout: 200_000 })
    await page.getByRole('button', { name: 'Pause' }).click()
    await panel.getByRole('button', { name: 'Close' }).last().click()
    await page.getByRole('link', { name: 'Export' }).click()
    await expect(page.getByText('Read again: it is what was rendered.')).toHaveCount(2, { timeout: 200_000 })
  },
)
