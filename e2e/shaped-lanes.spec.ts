import { expect, type Page } from '@playwright/test'
import { dbToHeight, heightToDb } from '../src/core/units/taper'
import { test } from './fixtures'
import { drag, firstDifference, middleOf, openSample, sessionOf, throughRing, ROW } from './support'

const state = (page: Page) => page.evaluate(() => window.oakenThread.getState())
const bead = (page: Page, name: RegExp) => page.getByRole('button', { name }).click()
const type = async (page: Page, label: string | RegExp, text: string) => {
  await page.getByLabel(label, { exact: true }).fill(text)
  await page.keyboard.press('Enter')
}
/** Presses beside what stands on a track's head. */
const pressHead = (page: Page, name: string) =>
  page
    .getByRole('complementary', { name: 'Tracks' })
    .getByRole('region', { name, exact: true })
    .click({ position: { x: 8, y: 10 } })
async function weaveOver(page: Page, seconds: [number, number], row: number, y: [number, number]) {
  const area = (await page.getByTestId('timeline').boundingBox())!
  const { left, framesPerPixel } = (await state(page)).navigation.view
  const x = (s: number) => area.x + (s * 48_000 - left) / framesPerPixel
  await page.keyboard.down('w')
  await page.waitForTimeout(350)
  await drag(
    page,
    { x: x(seconds[0]), y: area.y + row * ROW + y[0] },
    { dx: x(seconds[1]) - x(seconds[0]), dy: y[1] - y[0] },
  )
  await page.keyboard.up('w')
}

test('a weave stays what it is: scaled, left for another, picked again and changed; drawn over it is two; detached it is knots', async ({
  page,
}) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Fold the Path to one line' }).click()
  await bead(page, /^Volume of the track/)
  await weaveOver(page, [30, 45], 3, [40, 66])
  const lane = async () => (await sessionOf(page)).tracks.concertina!.lanes.volume!
  const made = (await lane()).weaves![0]!
  await page.keyboard.press('Escape')
  await pressHead(page, 'Concertina')
  await type(page, 'Scale about 0 dB', '50 %')
  const scaled = (await lane()).weaves![0]!
  expect(heightToDb(scaled.low)).toBeCloseTo(heightToDb(made.low) / 2, 6)
  // After another lane was woven, the first one is there to be picked by a press on its frame.
  await weaveOver(page, [30, 40], 4, [30, 60])
  await page
    .getByRole('button', { name: /^Weave of volume of Concertina/ })
    .click({ position: { x: 40, y: 10 } })
  await page.getByLabel('Note value').selectOption('1/4')
  const slower = (await lane()).weaves![0]!
  expect([slower.low, slower.high, slower.period]).toEqual([scaled.low, scaled.high, { beats: 1 }])
  await type(page, 'Low', '-24')
  await type(page, 'High', '+-2')
  const changed = (await lane()).weaves![0]!
  expect(heightToDb(changed.low)).toBeCloseTo(-24, 6)
  expect(heightToDb(changed.high)).toBeCloseTo(heightToDb(scaled.high) - 2, 2)
  // A quarter is 30 000 frames at 96 bpm: a triangle is low at the beat and high half a beat later, and so it sounds.
  const { knots } = await lane()
  const inside = knots.filter((k) => k.frame > changed.from && k.frame < changed.to)
  expect(new Set(inside.map((k, i, all) => (i ? k.frame - all[i - 1]!.frame : 15_000)))).toEqual(
    new Set([15_000]),
  )
  const at = changed.from + 10 * 30_000
  await page.getByRole('button', { name: 'Solo Concertina' }).click()
  const [sound] = await throughRing(page, at, 30_000)
  const rms = (from: number, to: number) =>
    Math.sqrt(sound!.slice(from, to).reduce((sum, v) => sum + v * v, 0) / (to - from))
  expect(20 * Math.log10(rms(14_000, 16_000) / rms(0, 1000))).toBeGreaterThan(10)
  // Its knots cannot be picked; a line drawn over its middle divides it.
  await page.keyboard.press('Escape')
  const area = (await page.getByTestId('timeline').boundingBox())!
  const { left, framesPerPixel } = (await state(page)).navigation.view
  const x = (frame: number) => area.x + (frame - left) / framesPerPixel
  await drag(
    page,
    { x: x(changed.from) - 20, y: area.y + 3 * ROW + 6 },
    { dx: x(changed.to) - x(changed.from), dy: 70 },
  )
  expect((await state(page)).selection.knots?.indices.length ?? 0).toBeLessThanOrEqual(1)
  await page.keyboard.down('d')
  await page.waitForTimeout(350)
  await drag(page, { x: x(changed.from + 300_000), y: area.y + 3 * ROW + 30 }, { dx: 30 })
  await page.keyboard.up('d')
  const pieces = (await lane()).weaves!
  expect(pieces).toHaveLength(2)
  expect(pieces.map((w) => w.origin)).toEqual([changed.from, changed.from])
  const detached = page.getByRole('button', { name: /^Weave of volume of Concertina/ }).first()
  await detached.focus()
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Detach', exact: true }).click()
  expect((await lane()).weaves).toHaveLength(1)
})

test(
  'the whole lane is set, shifted by its fader, bypassed where it is seen, and pans of both channels begin where the balance was',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await bead(page, /^Volume of the track/)
    await pressHead(page, 'Mill race')
    await type(page, 'Set the lane to (now at the playhead)', '-20')
    const race = async () => (await sessionOf(page)).tracks.race!
    await page.evaluate(() => window.oakenThread.getPlayer().seek(960_000))
    await page.getByRole('button', { name: 'From here' }).click()
    const knots = (await race()).lanes.volume!.knots
    expect(knots.map((k) => [k.frame, Math.round(heightToDb(k.value) * 10) / 10])).toEqual([
      [960_000, -15],
      [960_240, -20],
    ])
    // An arrow key moves all of it, as does the fader, which offers to replace it.
    await pressHead(page, 'Mill race')
    await page.keyboard.press('ArrowUp')
    expect((await race()).lanes.volume!.knots.map((k) => Math.round(heightToDb(k.value) * 10) / 10)).toEqual([
      -14, -19,
    ])
    expect((await race()).volumeDb).toBe(-15)
    // It moves on from where the lane is, even if that has just been undone and is not drawn yet.
    const fader = page.getByRole('slider', { name: 'Fader of Mill race' }).first()
    await expect(fader).toHaveAttribute('aria-valuenow', String(Math.round(dbToHeight(-14) * 1000)))
    await fader.focus()
    await fader.evaluate((thumb) => {
      const press = (init: KeyboardEventInit) => {
        thumb.dispatchEvent(new KeyboardEvent('keydown', { ...init, bubbles: true, cancelable: true }))
        thumb.dispatchEvent(new KeyboardEvent('keyup', { ...init, bubbles: true }))
      }
      press({ key: 'z', code: 'KeyZ', ctrlKey: true })
      press({ key: 'PageDown', code: 'PageDown' })
    })
    const shifts = (await race()).lanes.volume!.knots.map((k, i) => heightToDb(k.value) - [-15, -20][i]!)
    const page10 = heightToDb(dbToHeight(-15) - 10 / 1000) + 15
    expect(Math.abs(shifts[0]! - page10)).toBeLessThan(0.1)
    expect(shifts[1]).toBeCloseTo(shifts[0]!, 6)
    await page.getByRole('button', { name: /^Replace by/ }).click()
    expect((await race()).lanes.volume!.knots).toEqual([])
    expect((await race()).volumeDb).toBeLessThan(-15)
    // While it plays without riding, a move of it says what to do and changes nothing.
    await page.keyboard.press('Control+z')
    expect((await race()).lanes.volume!.knots).toEqual(knots)
    const steps = await page.evaluate(() => window.oakenThread.getState().session.done)
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await fader.focus()
    await page.keyboard.press('ArrowLeft')
    await expect(page.getByText('Choose touch or latch under “ride”')).toBeVisible()
    await page.getByRole('button', { name: 'Pause', exact: true }).click()
    expect(await page.evaluate(() => window.oakenThread.getState().session.done)).toBe(steps)

    // A bypass shows in the lane's head, the Path and the rail, and goes with the lane.
    await page.getByRole('button', { name: 'Lanes of Mill race' }).click()
    await page.getByRole('menuitemcheckbox', { name: /^Volume/ }).click()
    await page.keyboard.press('Escape')
    await pressHead(page, 'Mill race')
    await page.getByLabel('Bypass lane').check()
    await expect(page.getByRole('img', { name: 'A lane of Mill race is bypassed' })).toBeVisible()
    await expect(page.getByRole('complementary', { name: 'Path' }).getByText('bypassed')).toBeVisible()
    await expect(
      page.getByRole('group', { name: 'Volume lane of Mill race' }).getByText('bypassed'),
    ).toBeVisible()
    await page.getByRole('button', { name: 'Reset the lane' }).click()
    expect((await race()).lanes.volume).toMatchObject({ knots: [], bypassed: false })

    // A balance of R20 becomes the nearest places of both channels, and is kept.
    await bead(page, /^Pan of the track/)
    await pressHead(page, 'Mill race')
    await page.keyboard.type('R20')
    await type(page, 'Pan', 'R20')
    const heard = await throughRing(page, 480_000, 4800)
    await page.getByText('Both channels', { exact: true }).click()
    await expect(page.getByText('only the centre sounds the same').first()).toBeVisible()
    const pair = await race()
    expect([pair.lanes.panLeft!.knots[0]!.value, pair.lanes.panRight!.knots[0]!.value]).toEqual([
      expect.closeTo(-0.6, 9),
      1,
    ])
    await page.getByText('Balance', { exact: true }).click()
    expect(firstDifference((await throughRing(page, 480_000, 4800))[0]!, heard[0]!)).toBe(-1)
  },
)

test(
  'giving way proposes speech as what is given way to, and says when that has changed',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await pressHead(page, 'Narrator')
    await page.keyboard.press('g')
    const dialog = page.getByRole('dialog', { name: 'Give way' })
    const ticked = (list: string, name: string) => dialog.getByRole('group', { name: list }).getByLabel(name)
    await expect(ticked('while these sound', 'Narrator')).toBeChecked()
    await expect(
      dialog.getByRole('group', { name: 'Music that gives way' }).getByLabel('Narrator'),
    ).toHaveCount(0)
    await ticked('Music that gives way', 'Concertina').check()
    await dialog.getByRole('button', { name: 'Give way', exact: true }).click()
    await pressHead(page, 'Concertina')
    await expect(page.getByText('Out of date')).toHaveCount(0)
    await page.getByRole('slider', { name: 'Fader of Narrator' }).first().focus()
    await page.keyboard.press('PageDown')
    await pressHead(page, 'Concertina')
    await expect(page.getByText('Out of date')).toBeVisible()
    // Of music it proposes the opposite.
    await pressHead(page, 'Mill race')
    await page.keyboard.press('g')
    await expect(ticked('Music that gives way', 'Mill race')).toBeChecked()
  },
)

test(
  'the mix’s overloads have a row: from one to the next, and all lowered in one step',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await page.getByLabel('Mix volume').fill('12')
    await page.keyboard.press('Enter')
    const row = page.getByRole('group', { name: 'Overloads of the mix' })
    await expect(row.getByRole('button').first()).toBeVisible()
    await expect.poll(() => page.getByText(/^\d+ overloads?$/).textContent()).not.toBe('1 overload')
    const flags = await row
      .getByRole('button')
      .evaluateAll((all) => all.map((b) => b.getBoundingClientRect().left))
    for (const [i, left] of flags.entries()) if (i) expect(left - flags[i - 1]!).toBeGreaterThan(50)
    await page.keyboard.press('Home')
    const at = () => page.evaluate(() => window.oakenThread.getPlayer().position())
    await page.getByRole('button', { name: 'Overload of the mix after the playhead' }).click()
    const first = await at()
    await page.getByRole('button', { name: 'Overload of the mix after the playhead' }).click()
    expect(await at()).toBeGreaterThan(first)
    // The search has ended when the count stays.
    let count = ''
    await expect
      .poll(
        async () => {
          const now = (await page.getByText(/^\d+ overloads?$/).textContent())!
          const same = now === count
          count = now
          return same
        },
        { intervals: [1500] },
      )
      .toBe(true)
    await page.getByRole('button', { name: 'Lower all' }).click()
    expect(await page.evaluate(() => window.oakenThread.getState().session.done)).toBe(2)
    await expect(row).toHaveCount(0)
    const { knots } = (await sessionOf(page)).mix.lanes.volume!
    expect(Math.min(...knots.map((k) => k.value))).toBeLessThan(dbToHeight(11))
  },
)

test(
  'the ride panel stays while it plays, and a fader takes hold where the lane stands',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await pressHead(page, 'Mill race')
    await page.getByRole('button', { name: 'Ride: off' }).click()
    await page.getByText('Latch', { exact: true }).click()
    await page.getByRole('combobox', { name: /^Fader/ }).selectOption('simulated')
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    const panel = page.getByRole('dialog', { name: 'Ride' })
    await expect(panel).toBeVisible()
    // It stands at 96 of 127, the track at -15 dB, which is 45 of 127: until it comes there nothing moves.
    const slider = panel.getByRole('slider', { name: 'Simulated volume' }).first()
    await slider.focus()
    for (let i = 0; i < 10; i++) await page.keyboard.press('ArrowLeft')
    await expect(panel.getByText(/move it past that/)).toBeVisible()
    expect(await page.evaluate(() => window.oakenThread.getState().session.base)).toBeNull()
    for (let i = 0; i < 45; i++) await page.keyboard.press('ArrowLeft')
    await expect
      .poll(() => page.evaluate(() => window.oakenThread.getState().session.base !== null))
      .toBe(true)
    const button = await middleOf(page.getByRole('button', { name: 'Pause', exact: true }))
    await page.mouse.click(button.x, button.y)
    const { knots } = (await sessionOf(page)).tracks.race!.lanes.volume!
    expect(Math.max(...knots.map((k) => k.value))).toBeLessThan(dbToHeight(-13))
  },
)
