import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { exported, openSample, peakOf, whenSaved } from './support'

// A browser of its own: what others have loaded does not count.
test.use({ fresh: true })

// Without a dialog of the machine copies are downloads.
test.beforeEach(({ page }) => page.addInitScript(() => delete (window as Partial<Window>).showSaveFilePicker))

const saveCopy = (page: Page) =>
  page.getByRole('button', { name: 'Save a copy of the session, with all its sound' }).click()

test(
  'what is needed to save, copy and export is loaded ahead: it works when the server is gone',
  { tag: '@more' },
  async ({ page, context }) => {
    await openSample(page)
    expect(await page.evaluate(() => window.oakenThread.loadAhead())).toBeGreaterThan(8)
    await context.setOffline(true)
    await page.getByRole('button', { name: 'Mute Narrator' }).click()
    await whenSaved(page)
    const saving = page.waitForEvent('download')
    await saveCopy(page)
    const kept = await saving
    expect(kept.suggestedFilename()).toContain('Tide Mill')
    const { channels } = await exported(page, 'WAV, 24 bit')
    expect(peakOf(channels[0]!)).toBeGreaterThan(0.1)
  },
)

test('a part that cannot be loaded ends the job in words, and can be tried again', async ({ page }) => {
  await page.addInitScript(() => {
    const Loaded = Worker
    Object.assign(window, {
      partsAreGone: true,
      Worker: class extends Loaded {
        constructor(url: URL, options: WorkerOptions) {
          const gone = 'partsAreGone' in window && /(save-copy|export)\.worker/.test(String(url))
          super(gone ? '/assets/gone.js' : url, options)
        }
      },
    })
  })
  await openSample(page)
  await saveCopy(page)
  await expect(page.getByText('A part of the program could not be loaded').first()).toBeVisible()
  await expect(page.getByText('Preparing the copy')).toHaveCount(0)
  await page.getByRole('link', { name: /^Export/ }).click()
  await page.getByRole('button', { name: /^Render the mix/ }).click()
  await expect(
    page.getByRole('alert').filter({ hasText: 'A part of the program could not be loaded' }),
  ).toBeVisible()
  await page.evaluate(() => delete (window as { partsAreGone?: true }).partsAreGone)
  await page.getByRole('button', { name: 'Render again' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'Highest peak' })).toBeVisible()
})

test(
  'a dialog and a page whose code cannot be loaded say so, and open when it can be',
  { tag: '@more' },
  async ({ page, context }) => {
    const parts = /\/assets\/(large-dialog|help-page)-/
    await context.route(parts, (route) => route.abort())
    await openSample(page)
    await page.keyboard.press('v')
    const failure = page.getByRole('dialog', { name: 'This part could not be loaded' })
    await expect(failure).toBeVisible()
    await context.unroute(parts)
    await failure.getByRole('button', { name: 'Try again' }).click()
    await expect(page.getByRole('dialog', { name: 'Seams' })).toBeVisible()
    await page.keyboard.press('Escape')
    await context.route(parts, (route) => route.abort())
    await page.goto('/help')
    await expect(page.getByRole('heading', { name: 'This page could not be loaded.' })).toBeVisible()
    await context.unroute(parts)
    await page.getByRole('button', { name: 'Open it again' }).click()
    await expect(page.getByRole('heading', { name: 'Help', exact: true })).toBeVisible()
  },
)
