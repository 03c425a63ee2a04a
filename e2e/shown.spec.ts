import { expect } from '@playwright/test'
import { test } from './fixtures'
import { openSample, regionGroup } from './support'

test(
  'what is shown is of what it names: the Path of a track, and a pair of pans',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    // The Path of a track does not tell the gain of a region that lies on another one.
    await regionGroup(page, 'drone in D').focus()
    await page.keyboard.press('Enter')
    await page.keyboard.type('-4')
    await page.keyboard.press('Enter')
    const stages = (track: string) => page.getByRole('group', { name: `Stages of ${track}` })
    await expect(stages('Concertina')).toContainText(/Clip gain of the region.*−4\.0 dB/)
    await page.getByRole('region', { name: 'Narrator', exact: true }).focus()
    await page.keyboard.press('Enter')
    await expect(stages('Narrator')).toContainText(/Clip gain of the region\s*—/)

    // Each channel of a pair has a pan of its own, and both are told.
    await page.getByRole('button', { name: /^Pan of the track/ }).click()
    await page.getByRole('region', { name: 'Mill race', exact: true }).focus()
    await page.keyboard.press('Enter')
    await page.getByText('Both channels', { exact: true }).click()
    await expect(stages('Mill race')).toContainText('L100 / R100')
    await expect(page.getByRole('button', { name: 'Pan of Mill race, one for each channel' })).toBeVisible()
  },
)
