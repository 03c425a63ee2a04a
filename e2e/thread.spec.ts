import { expect } from '@playwright/test'
import { test } from './fixtures'
import { drag, firstDifference, openSample, regionGroup, sessionOf, throughRing, ROW } from './support'

const pickThread = (page: import('@playwright/test').Page) =>
  page.getByRole('button', { name: /^Gain thread/ }).click()

const rms = (x: Float32Array) => 10 * Math.log10(x.reduce((sum, v) => sum + v * v, 0) / x.length)

test('lower one word with one drag: four knots, nothing changes outside, typed and undone', async ({
  page,
}) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Solo Narrator' }).click()
  await regionGroup(page, 'wheel pit, take 2').click({ position: { x: 40, y: 20 } })
  await page.keyboard.press('z')
  const before = await throughRing(page, 20 * 48000, 12 * 48000)
  const area = (await page.getByTestId('timeline').boundingBox())!
  const { view } = await page.evaluate(() => window.oakenThread.getState().navigation)
  // The shouted line, about 25.0 to 27.1 s.
  const x = (seconds: number) => area.x + (seconds * 48000 - view.left) / view.framesPerPixel
  await page.keyboard.down('p')
  await page.waitForTimeout(350)
  await drag(page, { x: x(25.1), y: area.y + 25 }, { dx: x(27.2) - x(25.1), dy: 40 })
  await page.keyboard.up('p')
  const session = await sessionOf(page)
  const knots = session.gainThreads[session.regions.n2!.gainThreadId!]!.knots
  expect(knots).toHaveLength(4)
  const [from, to] = [knots[0]!, knots[3]!].map((k) => k.frame - session.regions.n2!.offset) as [
    number,
    number,
  ]
  const after = await throughRing(page, 20 * 48000, 12 * 48000)
  expect(firstDifference(after[0]!.slice(0, from), before[0]!.slice(0, from))).toBe(-1)
  expect(firstDifference(after[0]!.slice(to + 1), before[0]!.slice(to + 1))).toBe(-1)
  const inside = (side: Float32Array[]) => rms(side[0]!.subarray(from + 3000, to - 3000))
  expect(inside(after) - inside(before)).toBeCloseTo(-8, 5)
  expect(await page.evaluate(() => window.oakenThread.getState().selection.hand)).toBe('point')

  // Its two upper knots stay selected; Escape lets them go. The knots by keyboard: focus one, type its level, nudge it, remove it.
  await page.keyboard.press('Escape')
  await page.getByTestId('timeline').getByRole('slider', { name: 'Knot 2 of wheel pit, take 2' }).focus()
  await page.getByLabel('Level of the knot').fill('-3')
  await page.keyboard.press('Enter')
  const level = async (i: number) => {
    const s = await sessionOf(page)
    return 12 + 60 * Math.log10(s.gainThreads[s.regions.n2!.gainThreadId!]!.knots[i]!.value)
  }
  expect(await level(1)).toBeCloseTo(-3, 6)
  await page.getByTestId('timeline').getByRole('slider', { name: 'Knot 2 of wheel pit, take 2' }).focus()
  await page.keyboard.press('ArrowUp')
  expect(await level(1)).toBeCloseTo(-2, 6)
  await page.keyboard.press('Delete')
  expect((await sessionOf(page)).gainThreads[session.regions.n2!.gainThreadId!]!.knots).toHaveLength(3)
  await page.getByLabel('Shoulders').fill('two weeks')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('0 ms to 1 s')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Reset the gain thread' }).click()
  expect(firstDifference((await throughRing(page, 20 * 48000, 12 * 48000))[0]!, before[0]!)).toBe(-1)
})

test('the quiet hit of the wheel is raised once, and in all linked copies', async ({ page }) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Solo Mill wheel' }).click()
  await pickThread(page)
  const area = (await page.getByTestId('timeline').boundingBox())!
  await page.mouse.click(area.x + 262, area.y + ROW + 50)
  const [id] = await page.evaluate(() => window.oakenThread.getState().selection.regionIds)
  await page.keyboard.press('z')
  const session = await sessionOf(page)
  const region = session.regions[id!]!
  const { view } = await page.evaluate(() => window.oakenThread.getState().navigation)
  const x = (seconds: number) => area.x + (region.start + seconds * 48000 - view.left) / view.framesPerPixel
  // The third hit, at 1.27 s: up by 10 dB.
  await page.getByRole('button', { name: 'Plateau' }).click()
  await drag(page, { x: x(1.24), y: area.y + ROW + 50 }, { dx: x(1.8) - x(1.24), dy: -50 })
  await page.getByRole('button', { name: 'Point' }).click()
  const shaped = await sessionOf(page)
  expect(shaped.gainThreads['wheel-turn']!.knots).toHaveLength(4)
  const copies = Object.values(shaped.regions).filter((r) => r.gainThreadId === 'wheel-turn')
  expect(copies).toHaveLength(22)
  const hits = async (start: number) => {
    const [left] = await throughRing(page, start, 2.5 * 48000)
    return [0, 1, 2].map((beat) =>
      left!
        .subarray(Math.round((0.02 + beat * 0.625) * 48000), Math.round((0.1 + beat * 0.625) * 48000))
        .reduce((peak, v) => Math.max(peak, Math.abs(v)), 0),
    )
  }
  for (const copy of [copies[0]!, copies[12]!]) {
    const [first, second, third] = await hits(copy.start)
    expect(Math.abs(20 * Math.log10(third! / second!))).toBeLessThan(2.5)
    expect(first).toBeGreaterThan(0.01)
  }
  // A knot dragged far off is let go; a stretch moves with its two knots.
  const top = await page
    .getByRole('slider', { name: `Knot 2 of ${region.name}` })
    .nth(0)
    .boundingBox()
  expect(top).not.toBeNull()
  await page.getByRole('button', { name: /^Undo: Plateau in gain thread of “wheel turn”/ }).click()
  expect((await sessionOf(page)).gainThreads['wheel-turn']!.knots).toHaveLength(0)
})
