import AxeBuilder from '@axe-core/playwright'
import { expect, test } from '@playwright/test'
import { openSample, regionGroup } from './support'

test('axe finds nothing on any page', async ({ page }) => {
  const check = async (what: string, part?: string) => {
    const axe = new AxeBuilder({ page })
    const { violations } = await (part ? axe.include(part) : axe).analyze()
    expect([what, violations.map((v) => `${v.id}: ${v.nodes[0]!.html.slice(0, 160)}`)]).toEqual([what, []])
  }
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Sessions' })).toBeVisible()
  await check('sessions')
  await openSample(page)
  await regionGroup(page, 'drone in G').click({ position: { x: 60, y: 30 } })
  await page.getByRole('button', { name: 'History' }).click()
  await check('editor with a region and the history')
  await page.keyboard.press('Escape')
  await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
  for (const [key, name] of [['e', 'Match levels'], ['Shift+E', 'Even out'], ['x', 'Silence'], ['Shift+F', 'Fades'], ['Shift+C', 'Crossfades'], ['v', 'Seams'], ['g', 'Give way']] as const) {
    await page.keyboard.press(key)
    const dialog = page.getByRole('dialog', { name })
    await expect(dialog).toBeVisible()
    await page.waitForTimeout(400)
    await check(name, '[role="dialog"]')
    await dialog.getByRole('button', { name: 'Close' }).click()
  }
  await page.getByRole('button', { name: 'Join of drone in D and drone in G' }).press('Enter')
  await expect(page.getByRole('radio', { name: /^Level/ })).toBeVisible()
  await check('a crossfade in the bench', 'main')
  await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
  for (const bead of [/^Gain thread/, /^Fades of/, /^Volume of the track/, /^Pan of the track/, /^Mix all/]) {
    await page.getByRole('button', { name: bead }).click()
    await check(String(bead), 'section[aria-label="Bench"]')
  }
  await page.getByRole('link', { name: 'Deliver' }).click()
  await expect(page.getByRole('button', { name: 'Render the mix' })).toBeVisible()
  await check('deliver')
  await page.goto('/help')
  await check('help')
})
