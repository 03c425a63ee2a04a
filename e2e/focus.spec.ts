import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { openSample, regionGroup, sessionOf } from './support'

const focused = (page: Page) => page.locator(':focus')
const press = async (page: Page, keys: readonly string[]) => {
  for (const key of keys) await page.keyboard.press(key)
}

test('after a typed value and after a dialog, keys go on with what was edited', async ({ page }) => {
  await openSample(page)
  const gain = async () =>
    Object.values((await sessionOf(page)).regions).find((r) => r.name === 'drone in D')!.clipGainDb
  const region = regionGroup(page, 'drone in D')
  await region.focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type('-4')
  await page.keyboard.press('Enter')
  await expect(region).toBeFocused()
  await page.keyboard.press('ArrowUp')
  expect(await gain()).toBe(-3)
  // Space plays, even from a field in which nothing has been typed.
  const playing = () => page.evaluate(() => window.oakenThread.getState().transport.playing)
  await page.keyboard.press('Space')
  expect(await playing()).toBe(true)
  await page.getByLabel('Clip gain', { exact: true }).focus()
  await page.keyboard.press('Space')
  expect(await playing()).toBe(false)
  await press(page, ['Escape'])
  await expect(region).toBeFocused()

  // A dialog gives the focus back, however it was opened.
  await page.keyboard.press('Control+k')
  await page.keyboard.type('rename')
  await expect(page.getByRole('option', { name: /^Rename the selected regions/ })).toBeVisible()
  await page.getByRole('option', { name: /^Rename the selected regions/ }).click()
  await expect(page.getByLabel('Name of the region')).toBeFocused()
  await page.keyboard.type('low drone')
  await page.keyboard.press('Enter')
  await expect(regionGroup(page, 'low drone')).toBeFocused()
  await page.keyboard.press('Control+k')
  await page.keyboard.press('Escape')
  await expect(regionGroup(page, 'low drone')).toBeFocused()

  // A value of a track is typed from its head, and goes on there.
  const head = page.getByRole('region', { name: 'Mill race', exact: true })
  await head.focus()
  await press(page, ['Enter'])
  await page.keyboard.type('-9')
  await press(page, ['Enter', 'ArrowDown'])
  await expect(head).toBeFocused()
  expect((await sessionOf(page)).tracks.race!.volumeDb).toBe(-10)
  // A field of the head gives the focus to the head.
  await head.getByLabel('Volume of Mill race').focus()
  await page.keyboard.type('-8')
  await page.keyboard.press('Enter')
  await expect(head).toBeFocused()
})

test('the name of a version takes what is typed at once', { tag: '@more' }, async ({ page }) => {
  await openSample(page)
  const state = () => page.evaluate(() => JSON.stringify(window.oakenThread.getState().session.session))
  const before = await state()
  await page.getByRole('button', { name: 'History', exact: true }).click()
  await page.getByRole('button', { name: 'Keep this as a version…' }).click()
  await expect(page.getByLabel('Keep this as')).toBeFocused()
  await page.keyboard.type('mixed')
  await page.waitForTimeout(100)
  await expect(page.getByLabel('Keep this as')).toHaveValue('mixed')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+k')
  await page.keyboard.type('keep this as a version')
  await page.keyboard.press('Enter')
  await page.keyboard.type('m')
  await expect(page.getByLabel('Keep this as')).toHaveValue('m')
  expect(await state()).toBe(before)
})

test(
  'a walk by arrow keys changes nothing; what it came to is taken hold of with Enter',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    // The last head that was pressed leads; an overload is seen on another track.
    const head = page.getByRole('region', { name: 'Narrator', exact: true })
    await regionGroup(page, 'drone in D').focus()
    await page.keyboard.press('Enter')
    await page.keyboard.type('+30')
    await page.keyboard.press('Enter')
    await head.focus()
    await page.keyboard.press('Enter')
    const flag = page.getByRole('button', { name: /^Concertina.* overloads at/ }).first()
    await expect(flag).toBeVisible()
    const before = JSON.stringify(await sessionOf(page))
    const unchanged = async () => expect(JSON.stringify(await sessionOf(page))).toBe(before)
    for (const key of ['ArrowDown', 'ArrowUp', 'ArrowRight', 'ArrowLeft']) {
      await flag.focus()
      await press(page, Array<string>(12).fill(key))
      await unchanged()
    }
    // Along the controls of the heads, over their faders and fields, and past the ends.
    await page.getByRole('region', { name: 'Mill wheel', exact: true }).focus()
    for (const key of ['ArrowRight', 'ArrowDown', 'ArrowLeft', 'ArrowUp', 'ArrowRight', 'ArrowUp']) {
      await press(page, Array<string>(10).fill(key))
      await unchanged()
    }
    const fader = page.getByRole('slider', { name: 'Fader of Mill wheel' })
    await page.getByRole('region', { name: 'Mill wheel', exact: true }).focus()
    for (let i = 0; i < 12 && !(await fader.evaluate((e) => e === document.activeElement)); i++)
      await page.keyboard.press('ArrowRight')
    await expect(fader).toBeFocused()
    await unchanged()
    await press(page, ['Enter', 'ArrowUp'])
    await expect(focused(page)).toHaveAttribute('role', 'slider')
    expect((await sessionOf(page)).tracks.wheel!.volumeDb).not.toBe(JSON.parse(before).tracks.wheel.volumeDb)
  },
)
