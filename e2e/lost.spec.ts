import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { openSample, sessionOf } from './support'

/** What the player plays, as the page sees it. */
const playing = (page: Page) =>
  page.evaluate(() => {
    const player = window.oakenThread.getPlayer()
    return { wanted: player.playing, at: player.position(), played: player.framesPlayed() }
  })

/** Plays from a place, does something to the player, and tells when that was said. */
async function after(page: Page, harm: (player: object) => void): Promise<{ at: number; ms: number }> {
  await page.evaluate(() => window.oakenThread.getPlayer().seek(480_000))
  await page.keyboard.press('Space')
  await expect.poll(async () => (await playing(page)).at).toBeGreaterThan(500_000)
  await page.evaluate(`(${harm.toString()})(window.oakenThread.getPlayer())`)
  const { at } = await playing(page)
  const begun = Date.now()
  await expect(page.getByText('goes on where it was').first()).toBeVisible()
  return { at, ms: Date.now() - begun }
}

test('a render worker that dies while it plays is replaced where it stood, and the session stays as it is', async ({
  page,
}) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Mute Narrator' }).click()
  const before = await sessionOf(page)
  const { at, ms } = await after(page, (player) => (player as { worker: Worker }).worker.terminate())
  // Said within a second of the last sound; machines that others share take their time.
  expect(ms).toBeLessThan(4000)
  await expect.poll(async () => (await playing(page)).at).toBeGreaterThan(at + 48_000)
  const now = await playing(page)
  expect(now.wanted).toBe(true)
  expect(now.at).toBeLessThan(at + 20 * 48_000)
  expect(await sessionOf(page)).toEqual(before)
  // What is edited is heard by the new one.
  await page.getByRole('button', { name: 'Mute Mill race' }).click()
  await page.keyboard.press('Space')
  expect((await playing(page)).wanted).toBe(false)
})

test('sound that the browser stops is started anew where it stood', { tag: '@more' }, async ({ page }) => {
  await openSample(page)
  const { at } = await after(page, (player) => void (player as { context: AudioContext }).context.suspend())
  await expect.poll(async () => (await playing(page)).at).toBeGreaterThan(at + 48_000)
  expect((await playing(page)).wanted).toBe(true)
})
