import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { drag, middleOf, openSample, regionGroup, sessionOf } from './support'

const state = (page: Page) => page.evaluate(() => window.oakenThread.getState())
const path = (page: Page) => page.getByRole('complementary', { name: 'Path' })
const bench = (page: Page) => page.getByRole('region', { name: 'Bench' })
const head = (page: Page, name: string) =>
  page.getByRole('complementary', { name: 'Tracks' }).getByRole('region', { name, exact: true })
const press = (page: Page, name: string, modifiers: ('Shift' | 'Control')[] = []) =>
  regionGroup(page, name).click({ position: { x: 60, y: 30 }, modifiers })
/** Presses a track's head beside what stands on it. */
const pressHead = (page: Page, name: string, modifiers: ('Shift' | 'Control')[] = []) =>
  head(page, name).click({ position: { x: 8, y: 10 }, modifiers })

test(
  'regions pressed after the mix was typed into get what is typed next',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await page.getByLabel('Mix volume').fill('-2')
    await page.keyboard.press('Enter')
    await press(page, 'drone in D')
    await press(page, 'drone in G', ['Shift'])
    await page.keyboard.type('+2')
    await expect(page.getByText('2 regions, +2.0 dB each')).toBeVisible()
    await page.keyboard.press('Enter')
    const { mix, regions } = await sessionOf(page)
    expect([mix.volumeDb, regions.c1!.clipGainDb, regions.c2!.clipGainDb]).toEqual([-2, 2, 2])
    // A minus alone sets a value, as a sign does everywhere.
    await page.keyboard.type('-4.2')
    await page.keyboard.press('Enter')
    const after = (await sessionOf(page)).regions
    expect([after.c1!.clipGainDb, after.c2!.clipGainDb, Object.keys(after).length]).toEqual([
      -4.2,
      -4.2,
      Object.keys(regions).length,
    ])
  },
)

test('a track’s head leads once it is pressed: path, bench, keys and typing are about it, and several heads go together', async ({
  page,
}) => {
  await openSample(page)
  await press(page, 'drone in D')
  await expect(path(page)).toContainText('Path of “Concertina”')
  await pressHead(page, 'Mill race')
  await expect(path(page)).toContainText('Path of “Mill race”')
  await expect(bench(page)).toContainText('Mill race')
  await page.keyboard.press('ArrowUp')
  expect((await sessionOf(page)).tracks.race!.volumeDb).toBe(-14)
  expect((await sessionOf(page)).regions.c1!.clipGainDb).toBe(0)
  // Mute and solo change what is heard, not what is current.
  await page.getByRole('button', { name: 'Mute Narrator' }).click()
  await expect(path(page)).toContainText('Path of “Mill race”')
  await pressHead(page, 'Concertina', ['Control'])
  await expect(page.getByRole('textbox', { name: 'Volume of 2 tracks' })).toBeVisible()
  await page.keyboard.type('+-3')
  await page.keyboard.press('Enter')
  const { tracks } = await sessionOf(page)
  expect([tracks.race!.volumeDb, tracks.concertina!.volumeDb]).toEqual([-17, -20])
  // The region that is still selected leads again when it is pressed.
  expect((await state(page)).selection.regionIds).toEqual(['c1'])
  await press(page, 'drone in D')
  await page.keyboard.press('ArrowUp')
  expect((await sessionOf(page)).regions.c1!.clipGainDb).toBe(1)
})

test(
  'a change that cannot be made is refused in words, and shows what it would do while it is typed',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await press(page, 'drone in D')
    const field = page.getByLabel('Clip gain', { exact: true })
    await page.keyboard.type('7.5')
    await expect(page.getByText('0.0 dB → +7.5 dB')).toBeVisible()
    await page.keyboard.press('Enter')
    await field.focus()
    await expect(field).toHaveValue('7.5 dB')
    await field.fill('+2')
    await expect(page.getByText('+7.5 dB → +9.5 dB')).toBeVisible()
    await page.keyboard.press('Escape')
    for (const [typed, words] of [
      ['+10 %', 'in the unit of the field'],
      ['+60', 'out of range'],
    ] as const) {
      await field.fill(typed)
      await page.keyboard.press('Enter')
      await expect(page.getByRole('alert')).toContainText(words)
      await page.keyboard.press('Escape')
    }
    expect((await sessionOf(page)).regions.c1!.clipGainDb).toBe(7.5)
    await page.getByLabel('Volume of Narrator').fill('-inf')
    await page.keyboard.press('Enter')
    await page.getByLabel('Volume of Narrator').fill('+2')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('alert')).toContainText('It is silent')
  },
)

test(
  'in an opened lane copying is about the lane, and pasting what was copied',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await press(page, 'drone in D')
    await page.getByRole('button', { name: 'Lanes of Narrator' }).click()
    await page.getByRole('menuitemcheckbox', { name: /^Volume/ }).click()
    await page.keyboard.press('Escape')
    const lane = await middleOf(page.getByRole('group', { name: 'Volume lane of Narrator' }))
    const area = (await page.getByTestId('timeline').boundingBox())!
    await page.keyboard.down('p')
    await page.waitForTimeout(350)
    await drag(page, { x: area.x + 100, y: lane.y }, { dx: 60, dy: 15 })
    await page.keyboard.up('p')
    const knots = async () => (await sessionOf(page)).tracks.narrator!.lanes.volume?.knots.length ?? 0
    const made = await knots()
    const regions = Object.keys((await sessionOf(page)).regions).length
    expect(made).toBeGreaterThan(2)
    await page.keyboard.down('r')
    await page.waitForTimeout(350)
    await drag(page, { x: area.x + 80, y: lane.y }, { dx: 110 })
    await page.keyboard.up('r')
    await page.mouse.click(area.x + 400, lane.y)
    await page.keyboard.press('Control+c')
    await page.evaluate(() => window.oakenThread.getPlayer().seek(40 * 48000))
    await page.keyboard.press('Control+v')
    expect(await knots()).toBeGreaterThan(made)
    expect(Object.keys((await sessionOf(page)).regions)).toHaveLength(regions)
    expect(Object.keys((await sessionOf(page)).regions)).toHaveLength(
      Object.keys((await sessionOf(page)).regions).length,
    )
  },
)

test(
  'a hand that finds nothing to shape says why; Shift and a drag move a region off the grid, Shift and a click add it',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const area = (await page.getByTestId('timeline').boundingBox())!
    await page.getByRole('button', { name: 'Lanes of Narrator' }).click()
    await page.getByRole('menuitemcheckbox', { name: /^Volume/ }).click()
    await page.keyboard.press('Escape')
    await page.keyboard.down('p')
    await page.waitForTimeout(350)
    await drag(page, { x: area.x + 2, y: area.y + 20 }, { dx: 20 })
    await page.keyboard.up('p')
    await expect(page.getByText('There is nothing to shape here.')).toBeVisible()

    await press(page, 'drone in D')
    await press(page, 'drone in G', ['Shift'])
    expect((await state(page)).selection.regionIds).toEqual(['c1', 'c2'])
    await press(page, 'drone in D')
    const at = await middleOf(regionGroup(page, 'drone in D'))
    const start = (await sessionOf(page)).regions.c1!.start
    await page.keyboard.down('Shift')
    await drag(page, { x: at.x, y: at.y - 10 }, { dx: -7 })
    await page.keyboard.up('Shift')
    const moved = start - (await sessionOf(page)).regions.c1!.start
    expect(moved).toBeCloseTo(7 * (await state(page)).navigation.view.framesPerPixel, -3)
  },
)

test(
  'Escape goes back one step at a time; Z shows what is selected and goes back',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const area = (await page.getByTestId('timeline').boundingBox())!
    await pressHead(page, 'Mill wheel')
    await press(page, 'drone in D')
    await page.keyboard.down('r')
    await page.waitForTimeout(350)
    await drag(page, { x: area.x + 300, y: area.y + 20 }, { dx: 30 })
    await page.keyboard.up('r')
    const seen = async () => {
      const { range, regionIds: selection, trackIds } = (await state(page)).selection
      return [range !== null, selection.length, trackIds.length]
    }
    expect(await seen()).toEqual([true, 1, 1])
    const before = (await state(page)).navigation.view
    await page.keyboard.press('z')
    expect((await state(page)).navigation.view.framesPerPixel).toBeLessThan(before.framesPerPixel / 5)
    await page.keyboard.press('z')
    expect((await state(page)).navigation.view.framesPerPixel).toBe(before.framesPerPixel)
    await page.keyboard.press('Escape')
    expect(await seen()).toEqual([false, 1, 1])
    await page.keyboard.press('Escape')
    expect(await seen()).toEqual([false, 0, 1])
    await page.keyboard.press('Escape')
    expect(await seen()).toEqual([false, 0, 0])
    await page.keyboard.press('z')
    await expect(page.getByText('Select regions or mark a range first')).toBeVisible()
  },
)
