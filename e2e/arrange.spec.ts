import { expect } from '@playwright/test'
import { test } from './fixtures'
import {
  drag,
  middleOf,
  openSample,
  peakOf,
  playedLive,
  regionGroup,
  sessionOf,
  throughRing,
} from './support'

test('move with snapping, trim, split, join, duplicate, copy, delete: each one step, and all undone', async ({
  page,
}) => {
  await openSample(page)
  const first = await sessionOf(page)
  const region = async (id: string) => (await sessionOf(page)).regions[id]!
  const before = await throughRing(page, 20 * 48000, 15 * 48000)

  // A drag by a bit more than two bars catches on the bar line; with Shift it stays where the hand is.
  const view = await page.evaluate(() => window.oakenThread.getState().navigation.view)
  const bar = 120000 / view.framesPerPixel
  const keeper = regionGroup(page, 'the keeper, take 3')
  const at = await middleOf(keeper)
  await drag(page, { x: at.x, y: at.y - 25 }, { dx: 2 * bar + 2 })
  expect((await region('n4')).start).toBe(first.regions.n4!.start + 240000)
  const moved = await middleOf(keeper)
  await page.mouse.move(moved.x, moved.y - 25)
  await page.mouse.down()
  await page.keyboard.down('Shift')
  await page.mouse.move(moved.x + 7, moved.y - 25, { steps: 3 })
  await page.mouse.up()
  await page.keyboard.up('Shift')
  expect((await region('n4')).start).toBe(
    first.regions.n4!.start + 240000 + Math.round(7 * view.framesPerPixel),
  )

  // Trim the end of the first take back by its edge, to the playhead by key, and out again.
  await regionGroup(page, 'walk-in, take 1').click({ position: { x: 40, y: 20 } })
  const edge = await middleOf(page.getByRole('slider', { name: 'End of walk-in, take 1' }))
  await drag(page, edge, { dx: -30 })
  const shorter = (await region('n1')).length
  expect(shorter).toBeLessThan(first.regions.n1!.length)
  await page.evaluate(() => window.oakenThread.getPlayer().seek(10 * 48000))
  await page.keyboard.press('BracketRight')
  expect((await region('n1')).length).toBe(5 * 48000)

  // Split at the playhead: the sound stays as it was. Joining gives the region back.
  await page.evaluate(() => window.oakenThread.getPlayer().seek(25 * 48000))
  await regionGroup(page, 'wheel pit, take 2').click({ position: { x: 40, y: 20 } })
  await page.keyboard.press('k')
  const split = await sessionOf(page)
  expect([split.regions.n2!.length, split.regions['n2~1']!.start]).toEqual([5 * 48000, 25 * 48000])
  const after = await throughRing(page, 20 * 48000, 15 * 48000)
  expect(Buffer.from(after[0]!.buffer).equals(Buffer.from(before[0]!.buffer))).toBe(true)
  await page
    .getByRole('group', { name: /^wheel pit, take 2/ })
    .last()
    .click({ position: { x: 30, y: 20 }, modifiers: ['Shift'] })
  await page.keyboard.press('j')
  expect((await region('n2')).length).toBe(first.regions.n2!.length)

  // Duplicate, copy to the playhead on the same track, delete.
  await keeper.click({ position: { x: 20, y: 20 } })
  await page.keyboard.press('Control+c')
  await page.evaluate(() => window.oakenThread.getPlayer().seek(80 * 48000))
  await page.keyboard.press('Control+v')
  expect((await region('n4~1')).start).toBe(80 * 48000)
  await page.keyboard.press('Delete')
  expect((await sessionOf(page)).regions['n4~1']).toBeUndefined()

  const { steps } = await page.evaluate(() => window.oakenThread.getState().session)
  expect(steps.map((s) => s.label.replace(/ “.*/, ''))).toEqual([
    'Move',
    'Move',
    'Trim end of',
    'Trim end of',
    'Split',
    'Join 2 regions',
    'Paste',
    'Delete',
  ])
  for (let i = 0; i < steps.length; i++) await page.keyboard.press('Control+z')
  expect(await sessionOf(page)).toEqual(first)
})

test('linked repeats share one thread; a region is heard alone without touching solo', async ({ page }) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Solo Mill race' }).click()
  const take = regionGroup(page, 'the keeper, take 3')
  await take.click({ button: 'right', position: { x: 20, y: 20 } })
  await page.getByRole('menuitem', { name: 'Copies' }).hover()
  await page.getByRole('menuitem', { name: 'Repeat linked…' }).press('Enter')
  await page.getByLabel('How many copies').fill('many')
  await page.getByRole('button', { name: 'Repeat', exact: true }).click()
  await expect(page.getByRole('alert')).toContainText('from 1 to 200')
  await page.getByLabel('How many copies').fill('2')
  await page.getByRole('button', { name: 'Repeat', exact: true }).click()
  const { regions } = await sessionOf(page)
  const threads = ['n4', 'n4~1', 'n4~2'].map((id) => regions[id]!.gainThreadId)
  expect(new Set(threads).size).toBe(1)
  expect(threads[0]).not.toBeNull()

  // Only the race sounds; alone, only the region does, and it ends by itself.
  await page.evaluate(() => {
    const player = window.oakenThread.getPlayer()
    player.seek(0)
  })
  await playedLive(page, 40, 0.1)
  await regionGroup(page, 'walk-in, take 1').hover({ position: { x: 40, y: 20 } })
  await page.getByRole('button', { name: 'Hear walk-in, take 1 alone' }).click()
  await page.waitForTimeout(400)
  expect(await page.evaluate(() => window.oakenThread.getPlayer().position())).toBeGreaterThan(5 * 48000)
  await page.getByRole('button', { name: 'Pause', exact: true }).click()
  await page
    .getByRole('group', { name: /^the keeper, take 3/ })
    .first()
    .click({ position: { x: 20, y: 20 } })
  await page.keyboard.press('a')
  await page.waitForTimeout(1500)
  const meters = await page.evaluate(() =>
    Array.from(window.oakenThread.getPlayer().meters() ?? []).slice(0, 16),
  )
  expect(peakOf(Float32Array.from(meters.slice(4, 6)))).toBeGreaterThan(0)
  expect(peakOf(Float32Array.from(meters.slice(12, 14)))).toBe(0)
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible()
  expect((await sessionOf(page)).tracks.race!.soloed).toBe(true)
})

test(
  'regions go to other tracks at their own time: by a hand that is not quite still, by keys, and as a copy',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const first = await sessionOf(page)
    const { start, trackId } = first.regions.n4!
    const below = first.trackIds[first.trackIds.indexOf(trackId) + 1]!
    const at = await middleOf(regionGroup(page, 'the keeper, take 3'))
    const place = async () => {
      const { regions } = await sessionOf(page)
      return [regions.n4!.start, regions.n4!.trackId]
    }
    await drag(page, { x: at.x, y: at.y - 25 }, { dx: 6, dy: 84 })
    expect(await place()).toEqual([start, below])
    await page.keyboard.press('Control+ArrowUp')
    expect(await place()).toEqual([start, trackId])
    await page.keyboard.press('Control+ArrowDown')
    expect(await place()).toEqual([start, below])
    await page.keyboard.press('Control+z')
    // Ctrl on the way leaves the region where it was.
    await page.mouse.move(at.x, at.y - 25)
    await page.mouse.down()
    await page.mouse.move(at.x + 3, at.y + 20, { steps: 3 })
    await page.keyboard.down('Control')
    await page.mouse.move(at.x + 5, at.y + 59, { steps: 3 })
    await page.mouse.up()
    await page.keyboard.up('Control')
    expect(await place()).toEqual([start, trackId])
    const copies = Object.values((await sessionOf(page)).regions).filter((r) => !first.regions[r.id])
    expect(copies).toMatchObject([{ start, trackId: below, offset: first.regions.n4!.offset }])
    const steps = await page.evaluate(() => window.oakenThread.getState().session.done)
    for (let i = 0; i < steps; i++) await page.keyboard.press('Control+z')
    expect(await sessionOf(page)).toEqual(first)
  },
)
