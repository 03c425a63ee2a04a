import AxeBuilder from '@axe-core/playwright'
import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { openSample, regionGroup, scrollRows } from './support'

async function check(page: Page, what: string, part?: string, rules?: string): Promise<void> {
  // What passes is not told one by one, which takes most of the time.
  const axe = new AxeBuilder({ page }).options({ resultTypes: ['violations'] })
  if (part) axe.include(part)
  if (rules) axe.withRules(rules)
  const { violations } = await axe.analyze()
  expect([what, violations.map((v) => `${v.id}: ${v.nodes[0]!.html.slice(0, 160)}`)]).toEqual([what, []])
}

test('axe finds nothing on the pages', async ({ page }) => {
  await page.goto('/?test')
  await expect(page.getByRole('heading', { name: 'Sessions' })).toBeVisible()
  await check(page, 'sessions')
  await openSample(page)
  await regionGroup(page, 'drone in G').click({ position: { x: 60, y: 30 } })
  await page.getByRole('button', { name: 'History' }).click()
  await check(page, 'editor with a region and the history')
  await page.keyboard.press('Escape')
  await page.getByRole('link', { name: 'Export' }).click()
  await expect(page.getByRole('button', { name: 'Render the mix' })).toBeVisible()
  await check(page, 'export')
  await page.goto('/help')
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await check(page, 'help')
  // The licences of all that is shipped, of the page and of its workers, come with the build.
  await page.getByRole('link', { name: /^Licences of Oaken Thread/ }).click()
  const texts = page.getByRole('region', { name: 'Texts of the licences' })
  for (const packet of [
    'Oaken Thread',
    'react-dom 1',
    'zod 4',
    'hash-wasm 4',
    'libflacjs 5',
    '@fontsource-variable/',
  ])
    await expect(texts).toContainText(packet)
  await expect(texts).toContainText('Permission is hereby granted')
  await check(page, 'licences')
  // In the evening, and with the command search open.
  await page.emulateMedia({ colorScheme: 'dark' })
  await openSample(page)
  await regionGroup(page, 'drone in G').click({ position: { x: 60, y: 30 } })
  // Other colours are all that is other there.
  await check(page, 'editor in the evening', undefined, 'color-contrast')
  await page.keyboard.press('Control+k')
  await check(page, 'command search', '[role="dialog"]')
  await page.emulateMedia({ colorScheme: null })
})

test('axe finds nothing in the dialogs and in the bench', { tag: '@more' }, async ({ page }) => {
  await openSample(page)
  await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
  for (const [key, name] of [
    ['e', 'Match levels'],
    ['Shift+E', 'Even out'],
    ['x', 'Silence'],
    ['Shift+F', 'Fades'],
    ['Shift+C', 'Crossfades'],
    ['v', 'Seams'],
    ['g', 'Give way'],
  ] as const) {
    await page.keyboard.press(key)
    const dialog = page.getByRole('dialog', { name })
    await expect(dialog).toBeVisible()
    await page.waitForTimeout(400)
    await check(page, name, '[role="dialog"]')
    await dialog.getByRole('button', { name: 'Close' }).click()
  }
  await page.getByRole('button', { name: 'Add a bus' }).click()
  await scrollRows(page, -3000)
  await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
  await page.keyboard.press('Shift+X')
  const panel = page.getByRole('dialog', { name: 'Inserts and ways of “Concertina”' })
  await panel.getByRole('button', { name: 'Add an insert' }).click()
  await page.getByRole('menuitem', { name: /^Delay/ }).click()
  await panel.getByRole('button', { name: 'Add a send' }).click()
  await page.getByRole('menuitem', { name: 'Bus 1' }).click()
  await expect(panel.getByRole('listitem', { name: 'Send to Bus 1' })).toBeVisible()
  await check(page, 'inserts, output and sends', '[role="dialog"]')
  await panel.getByRole('button', { name: 'Close' }).first().click()
  await check(page, 'the rail with a bus', 'aside[aria-label="Tracks"]')
  // Joins are handles of the regions’ own stages.
  await page.getByRole('button', { name: /^Clip gain of the region/ }).click()
  await page.getByRole('button', { name: 'Join of drone in D and drone in G' }).press('Enter')
  await expect(page.getByRole('radio', { name: /^Level/ })).toBeVisible()
  await check(page, 'a crossfade in the bench', 'main')
  await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
  for (const bead of [/^Gain thread/, /^Fades of/, /^Volume of the track/, /^Pan of the track/, /^Mix all/]) {
    await page.getByRole('button', { name: bead }).click()
    await check(page, String(bead), 'section[aria-label="Bench"]')
  }
  // Inserts as beads, and large in the bench with their pictures.
  for (const kind of ['Equaliser', 'Compressor', 'Four bands', 'Saturator']) {
    await page.getByRole('button', { name: 'Add an insert to Concertina', exact: true }).click()
    await page.getByRole('menuitem', { name: new RegExp(`^${kind}`) }).click()
    if (kind === 'Equaliser') await page.getByRole('button', { name: 'Add a band' }).click()
    await check(page, `${kind} in the bench`, 'section[aria-label="Bench"]')
  }
  await page.getByRole('button', { name: 'alone', exact: true }).click()
  await check(page, 'the Path with inserts, listening at one', 'aside[aria-label="Path"]')
  await page.getByRole('button', { name: /here, alone/ }).click()
  await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
  await page.keyboard.press('Shift+G')
  await expect(page.getByRole('dialog', { name: 'Move gain past the inserts' })).toBeVisible()
  await check(page, 'moving gain', '[role="dialog"]')
})

test(
  'axe finds nothing where weaves are picked, lanes bypassed and overloads flagged',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
    // A marked range, a weave that is picked, several knots, a lane below its track, and its overloads.
    await page.getByRole('button', { name: /^Volume of the track/ }).click()
    await page.keyboard.press('Home')
    await page.keyboard.press('Shift+BracketLeft')
    await page.getByRole('button', { name: 'Weave over the marked range' }).click()
    await page.getByRole('button', { name: 'Lanes of Concertina' }).click()
    await page.getByRole('menuitemcheckbox', { name: /^Volume/ }).click()
    await page.keyboard.press('Escape')
    await page.getByLabel('Bypass lane').check()
    await page.getByLabel('Mix volume').fill('12')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('group', { name: 'Overloads of the mix' })).toBeVisible()
    for (const part of [
      'section[aria-label="Bench"]',
      'aside[aria-label="Tracks"]',
      '[data-testid="timeline"]',
    ])
      await check(page, `a picked weave, a bypassed lane and overloads: ${part}`, part)
    await page.getByRole('button', { name: /^Ride: off/ }).click()
    await check(page, 'riding', '[role="dialog"]')
    await page.keyboard.press('Escape')
    await page.getByTitle(/Press to type a position/).click()
    await check(page, 'the playhead’s place', 'header')
  },
)
