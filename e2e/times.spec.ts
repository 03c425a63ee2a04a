import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { drag, openSample, regionGroup, reload, sessionOf, throughRing, whenSaved, ROW } from './support'

const state = (page: Page) => page.evaluate(() => window.oakenThread.getState())
const position = (page: Page) => page.evaluate(() => window.oakenThread.getPlayer().position())
const bead = (page: Page, name: RegExp) => page.getByRole('button', { name }).click()
const press = (page: Page, name: string) => regionGroup(page, name).click({ position: { x: 30, y: 20 } })
const type = async (page: Page, label: string, text: string) => {
  await page.getByLabel(label, { exact: true }).fill(text)
  await page.keyboard.press('Enter')
}
/** Sweeps over the timeline with a hand that a key lends, from one frame to another, on a row. */
async function sweep(page: Page, key: string, from: number, to: number, y: number, dy = 0): Promise<void> {
  const area = (await page.getByTestId('timeline').boundingBox())!
  const { left, framesPerPixel } = (await state(page)).navigation.view
  const x = (frame: number) => area.x + (frame - left) / framesPerPixel
  await page.keyboard.down(key)
  await page.waitForTimeout(350)
  await drag(page, { x: x(from), y: area.y + y }, { dx: x(to) - x(from), dy })
  await page.keyboard.up(key)
}

test('start, end and length of a region, of the range and the playhead’s place are typed, as values and as changes', async ({
  page,
}) => {
  await openSample(page)
  await press(page, 'drone in D')
  const c1 = async () => (await sessionOf(page)).regions.c1!
  const before = await c1()
  await type(page, 'Start', '+500 ms')
  expect((await c1()).start).toBe(before.start + 24_000)
  await type(page, 'Length', '4 s')
  expect((await c1()).length).toBe(4 * 48_000)
  await type(page, 'End', 'by -1 s')
  expect((await c1()).length).toBe(3 * 48_000)
  await type(page, 'End', '0:01')
  await expect(page.getByRole('alert')).toBeVisible()
  await page.keyboard.press('Escape')
  await type(page, 'Fade in', '100 ms')
  await type(page, 'Fade in', '+20 ms')
  expect((await c1()).fadeIn?.length).toBe(5760)

  await sweep(page, 'r', 10 * 48_000, 14 * 48_000, 30)
  await type(page, 'Range start', '10.5 s')
  await type(page, 'Range length', '2 s')
  await type(page, 'Range end', '+250 ms')
  expect((await state(page)).selection.range).toEqual({ from: 504_000, to: 612_000 })

  // The clock that the ruler follows becomes a field when it is pressed: bar 5, beat 3 at 96 bpm is 18 beats on.
  await page.getByTitle(/^Bar \| beat\. Press/).click()
  await type(page, 'Position of the playhead', '5|3')
  expect(await position(page)).toBe(18 * 30_000)
  await page.getByTitle('Ruler and grid follow seconds').click()
  await page.getByTitle('Press to type a position for the playhead').click()
  await type(page, 'Position of the playhead', '+1.5')
  expect(await position(page)).toBe(18 * 30_000 + 72_000)
})

test(
  'plateaus, ranges and the playhead catch on bars and edges, knots of a lane too; a plateau’s depth is typed at once',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const { framesPerPixel } = (await state(page)).navigation.view
    await bead(page, /^Volume of the track/)
    // Beside bar 9 (8 bars of 120 000 frames) and beside the end of the drone’s first region.
    const c1 = (await sessionOf(page)).regions.c1!
    const end = c1.start + c1.length
    await sweep(page, 'p', 960_000 + 4 * framesPerPixel, end - framesPerPixel, 3 * ROW + 30, 30)
    const knots = async () => (await sessionOf(page)).tracks.concertina!.lanes.volume!.knots
    // All that was swept is whole; the shoulders lie outside.
    expect((await knots()).slice(1, 3).map((k) => k.frame)).toEqual([960_000, end])
    // Its upper knots stay selected: Enter types their level.
    await page.keyboard.press('Enter')
    await page.keyboard.type('-30')
    await page.keyboard.press('Enter')
    const levels = (await knots()).slice(1, 3).map((k) => 60 * Math.log10(k.value) + 12)
    for (const level of levels) expect(level).toBeCloseTo(-30, 6)
    await page.keyboard.press('Escape')
    // A range catches on the knots of the lane that is current.
    const inner = (await knots())[1]!.frame
    await sweep(page, 'r', inner + 3 * framesPerPixel, inner + 60 * framesPerPixel, 3 * ROW + 62)
    expect((await state(page)).selection.range?.from).toBe(inner)
    // A press on the ruler beside a bar is that bar; with Alt it is where it was.
    const ruler = (await page.getByTestId('timeline').boundingBox())!
    const { left } = (await state(page)).navigation.view
    const x = ruler.x + (480_000 - left) / framesPerPixel + 4
    await page.mouse.click(x, ruler.y - 30)
    expect(await position(page)).toBe(480_000)
    await page.keyboard.down('Alt')
    await page.mouse.click(x, ruler.y - 30)
    await page.keyboard.up('Alt')
    expect(await position(page)).not.toBe(480_000)
  },
)

test(
  'a copy goes to the next free place or is inserted; undo brings its place back into view and marks it',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const starts = async () =>
      Object.values((await sessionOf(page)).regions)
        .filter((r) => r.trackId === 'concertina')
        .map((r) => r.start)
    const { c1, c2 } = (await sessionOf(page)).regions
    await press(page, 'drone in D')
    await page.keyboard.press('q')
    expect(await starts()).toEqual([c1!.start, c2!.start, c2!.start + c2!.length])
    expect(Object.keys((await sessionOf(page)).crossfades)).toEqual([])
    await page.getByRole('button', { name: /^Insert instead/ }).click()
    expect(await starts()).toEqual([c1!.start, c2!.start + c1!.length, c1!.start + c1!.length])
    expect(await page.evaluate(() => window.oakenThread.getState().session.done)).toBe(1)
    // Far away and close up, undo shows what it changes.
    await page.keyboard.press('Home')
    for (let i = 0; i < 9; i++) await page.keyboard.press('i')
    const close = (await state(page)).navigation.view
    expect(close.left + close.width * close.framesPerPixel).toBeLessThan(c1!.start)
    await page.keyboard.press('Control+z')
    await expect(page.getByTestId('changed').first()).toBeVisible()
    const after = (await state(page)).navigation.view
    expect(after.framesPerPixel).toBe(close.framesPerPixel)
    expect(after.left + after.width * after.framesPerPixel).toBeGreaterThan(c1!.start)
    // The history opens at the present step and names values.
    await press(page, 'drone in G')
    await page.keyboard.type('-4.2')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'History' }).click()
    const present = page.getByRole('dialog', { name: 'History' }).locator('[aria-current=step]')
    await expect(present).toBeFocused()
    await expect(present).toHaveText('Clip gain of “drone in G” 0.0 → −4.2 dB')
  },
)

test(
  'stopping stays or returns, a region is heard with its surroundings, and the view outlasts a reload',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await page.evaluate(() => window.oakenThread.getPlayer().seek(480_000))
    const playFor = async (ms: number) => {
      await page.keyboard.press('Space')
      await page.waitForTimeout(ms)
      await page.keyboard.press('Space')
    }
    await page.keyboard.press('Space')
    await expect.poll(() => position(page)).toBeGreaterThan(480_000)
    await page.keyboard.press('Space')
    await page.getByRole('button', { name: /^Stop stays where it is/ }).click()
    await page.evaluate(() => window.oakenThread.getPlayer().seek(480_000))
    await page.mouse.click(1200, 250)
    await playFor(500)
    expect(await position(page)).toBe(480_000)

    await page.getByRole('button', { name: /^Seams/ }).click()
    await type(page, 'Pre- and post-roll', '300 ms')
    await page.keyboard.press('Escape')
    await press(page, 'the keeper, take 3')
    await type(page, 'Length', '200 ms')
    const { start, length } = Object.values((await sessionOf(page)).regions).find(
      (r) => r.name === 'the keeper, take 3',
    )!
    await page.keyboard.press('Shift+A')
    await expect.poll(() => position(page)).toBe(start + length + 14_400)
    expect(await page.evaluate(() => window.oakenThread.getPlayer().playing)).toBe(false)

    // Zoom, scroll and opened lanes, with their heights, are there again after a reload and another page.
    for (let i = 0; i < 4; i++) await page.keyboard.press('i')
    await page.getByRole('button', { name: 'Lanes of Narrator' }).click()
    await page.getByRole('menuitemcheckbox', { name: /^Volume/ }).click()
    await page.keyboard.press('Escape')
    const lane = (await page.getByRole('group', { name: 'Volume lane of Narrator' }).boundingBox())!
    for (const dy of [30, 25])
      await drag(page, { x: lane.x + 700, y: lane.y + lane.height + (dy === 25 ? 30 : 0) }, { dy })
    const place = async () => {
      const { view: seen, openLanes } = (await state(page)).navigation
      return { left: seen.left, framesPerPixel: seen.framesPerPixel, openLanes }
    }
    const left = await place()
    expect(left.openLanes[0]!.height).toBe(64 + 55)
    await page.waitForTimeout(600)
    await whenSaved(page)
    await reload(page)
    await expect(page.getByTestId('timeline')).toBeVisible()
    expect(await place()).toEqual(left)
    await page.getByRole('link', { name: 'All sessions' }).click()
    await page.getByRole('link', { name: /The Tide Mill/ }).click()
    await expect(page.getByTestId('timeline')).toBeVisible()
    expect(await place()).toEqual(left)
  },
)

test(
  'while a lane is shaped, a sweep from a region’s corner makes no fade',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await bead(page, /^Volume of the track/)
    const box = (await regionGroup(page, 'drone in D').boundingBox())!
    await page.mouse.move(box.x + box.width - 8, box.y + 8)
    await drag(page, { x: box.x + box.width - 8, y: box.y + 8 }, { dx: -120, dy: 30 })
    await drag(page, { x: box.x + 3, y: box.y + 25 }, { dx: 50 })
    await drag(page, { x: box.x + 100, y: box.y + box.height - 8 }, { dy: -30 })
    const session = await sessionOf(page)
    const labels = await page.evaluate(() => window.oakenThread.getState().session.steps.map((s) => s.label))
    expect(labels).toEqual([])
    expect(session.regions.c1!.clipGainDb).toBe(0)
    await expect(page.getByRole('slider', { name: /^Fade in of drone in D/ })).toHaveCount(0)
    await bead(page, /^Fades of the region/)
    await expect(page.getByRole('slider', { name: /^Fade in of drone in D/ })).toBeVisible()
    expect((await throughRing(page, 0, 4800))[0]!.length).toBe(4800)
  },
)
