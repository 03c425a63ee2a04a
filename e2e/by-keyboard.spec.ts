import { expect, type Page } from '@playwright/test'
import { heightToDb } from '../src/core/units/taper'
import { test } from './fixtures'
import { openSample, regionGroup, sessionOf, throughRing } from './support'

/** What has the focus is pressed with Enter, after it was reached. */
const enter = async (page: Page, name: RegExp | string) => {
  await page.getByRole('button', { name }).first().focus()
  await page.keyboard.press('Enter')
}
/** A field is reached, and typed into. */
const type = async (page: Page, label: string, text: string) => {
  await page.getByLabel(label, { exact: true }).focus()
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}
/** The playhead by the clock, which follows seconds. */
const place = async (page: Page, text: string) => {
  await page.getByTitle('Press to type a position for the playhead').focus()
  await page.keyboard.press('Enter')
  await type(page, 'Position of the playhead', text)
}
const rms = (x: Float32Array) => 10 * Math.log10(x.reduce((sum, v) => sum + v * v, 0) / x.length)

test.beforeEach(async ({ page }) => {
  await openSample(page)
  await page.getByTitle('Ruler and grid follow seconds').focus()
  await page.keyboard.press('Enter')
})

test('regions by keyboard alone: selected, levelled, moved, split, faded, copied and taken back', async ({
  page,
}) => {
  const regions = async () =>
    Object.values((await sessionOf(page)).regions).filter((r) => r.trackId === 'concertina')
  const [before] = await regions()
  await regionGroup(page, 'drone in D').focus()
  // The focus alone selects nothing; Enter does.
  expect(await page.evaluate(() => window.oakenThread.getState().selection.regionIds)).toEqual([])
  await page.keyboard.press('Enter')
  await page.keyboard.type('-4.2')
  await page.keyboard.press('Enter')
  await page.keyboard.press('ArrowUp')
  expect((await regions())[0]!.clipGainDb).toBe(-3.2)
  await page.keyboard.press('ArrowRight')
  const moved = (await regions())[0]!.start
  expect(moved).toBeGreaterThan(before!.start)
  expect(moved % 48_000).toBe(0)
  await place(page, '0:30')
  await page.keyboard.press('k')
  expect((await regions()).map((r) => r.start)).toContain(30 * 48_000)
  await enter(page, /^Fades of the region/)
  await regionGroup(page, 'drone in D').first().focus()
  await page.keyboard.press('Enter')
  await type(page, 'Fade in', '1.5 s')
  await type(page, 'Fade in', '+500 ms')
  await type(page, 'Start level', '20 %')
  const faded = (await regions()).find((r) => r.start === moved)!
  expect(faded.fadeIn).toMatchObject({ length: 96_000, level: 0.2 })
  const steps = await page.evaluate(() => window.oakenThread.getState().session.done)
  for (let i = 0; i < steps; i++) await page.keyboard.press('Control+z')
  expect((await regions())[0]).toEqual(before)
})

test('automation by keyboard alone: a range lowered, woven, copied elsewhere, and heard', async ({
  page,
}) => {
  await page.getByRole('region', { name: 'Mill race', exact: true }).focus()
  await page.keyboard.press('Enter')
  await enter(page, /^Volume of the track/)
  await place(page, '0:20')
  await page.keyboard.press('Shift+BracketLeft')
  await place(page, '0:24')
  await page.keyboard.press('Shift+BracketRight')
  expect(await page.evaluate(() => window.oakenThread.getState().selection.range)).toEqual({
    from: 960_000,
    to: 1_152_000,
  })
  await enter(page, 'Solo Mill race')
  const still = rms((await throughRing(page, 1_008_000, 48_000))[0]!)
  await type(page, 'Change level by', '-6')
  expect(rms((await throughRing(page, 1_008_000, 48_000))[0]!) - still).toBeCloseTo(-6, 1)
  const lane = async () => (await sessionOf(page)).tracks.race!.lanes.volume!
  expect((await lane()).knots).toHaveLength(4)
  // The knots are reached by Tab: the second one is set and moved by fields and arrow keys.
  await page.getByTestId('timeline').getByRole('slider', { name: 'Knot 2 of volume of Mill race' }).focus()
  await page.keyboard.press('Alt+ArrowUp')
  await type(page, 'Level of the knot', '-18')
  expect(heightToDb((await lane()).knots[1]!.value)).toBeCloseTo(-18, 6)
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+c')
  await place(page, '0:40')
  await page.keyboard.press('Control+v')
  expect((await lane()).knots.some((k) => k.frame === 40 * 48_000)).toBe(true)
  await enter(page, 'Weave over the marked range')
  expect((await lane()).weaves).toMatchObject([{ from: 960_000, to: 1_152_000 }])
  await page.keyboard.press('ArrowUp')
  await page.keyboard.type('-10')
  await page.keyboard.press('Enter')
  expect(heightToDb((await lane()).weaves![0]!.high)).toBeCloseTo(-10, 6)
  await page.keyboard.press('Escape')
  await page.keyboard.press('Escape')
  await enter(page, 'Whole lane')
  expect((await lane()).knots).toEqual([])
})

test('undo, redo and select all follow the letters of any keyboard', { tag: '@more' }, async ({ page }) => {
  const press = (code: string, key: string, shiftKey = false) =>
    page.evaluate(
      (init) => document.body.dispatchEvent(new KeyboardEvent('keydown', { ...init, bubbles: true })),
      { code, key, shiftKey, ctrlKey: true },
    )
  const done = () => page.evaluate(() => window.oakenThread.getState().session.done)
  const count = Object.keys((await sessionOf(page)).regions).length
  const selected = () => page.evaluate(() => window.oakenThread.getState().selection.regionIds.length)
  // On a French keyboard A lies where others have Q.
  await press('KeyA', 'q')
  expect(await selected()).toBe(0)
  await press('KeyQ', 'a')
  expect(await selected()).toBe(count)
  await page.keyboard.press('ArrowUp')
  expect(await done()).toBe(1)
  // On a German one Z and Y have changed places; a Greek one writes others, and has the usual places.
  await press('KeyY', 'z')
  expect(await done()).toBe(0)
  await press('KeyZ', 'y')
  expect(await done()).toBe(1)
  await press('KeyZ', 'ζ')
  expect(await done()).toBe(0)
  await press('KeyZ', 'Ζ', true)
  expect(await done()).toBe(1)
  await press('KeyY', 'Z', true)
  expect(await done()).toBe(1)
  await press('KeyY', 'z')
  expect(await done()).toBe(0)
})
