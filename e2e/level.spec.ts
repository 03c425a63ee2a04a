import { expect, type Page } from '@playwright/test'
import { LoudnessMeter } from '../src/core/measure/loudness'
import { test } from './fixtures'
import { firstDifference, openSample, peakOf, regionGroup, sessionOf, throughRing } from './support'

/** The integrated loudness of a stretch of what is played. */
async function loudness(page: Page, from: number, frames: number): Promise<number> {
  const sides = await throughRing(page, from, frames)
  const meter = new LoudnessMeter(48000, 2)
  meter.add(sides)
  return meter.loudness().integrated
}

async function select(page: Page, first: string, ...others: string[]): Promise<void> {
  await regionGroup(page, first).click({ position: { x: 20, y: 18 } })
  for (const name of others)
    await regionGroup(page, name).click({ position: { x: 20, y: 18 }, modifiers: ['Shift'] })
}

test('four takes are levelled against each other: shown before, one step, within 0.1 LU, undone at once', async ({
  page,
}) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Solo Narrator' }).click()
  await page.getByLabel('Volume of Narrator').fill('0')
  await page.keyboard.press('Enter')
  await select(page, 'walk-in, take 1', 'wheel pit, take 2', 'the keeper, take 3', 'slack water, take 3')
  const before = await sessionOf(page)
  await page.keyboard.press('Escape')
  await select(page, 'walk-in, take 1', 'wheel pit, take 2', 'the keeper, take 3', 'slack water, take 3')
  await page.keyboard.press('e')
  const dialog = page.getByRole('dialog', { name: 'Match levels' })
  await expect(dialog.getByRole('row')).toHaveCount(5)
  const target = dialog.getByLabel('Level in LUFS')
  await target.fill('loud')
  await target.press('Enter')
  await expect(page.getByRole('alert')).toContainText('−60.0 LUFS to 0.0 LUFS')
  // The first Escape is the field's, not the dialog's, wherever the focus is.
  await dialog.getByRole('heading', { name: 'Match levels' }).click()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('alert')).toHaveCount(0)
  await expect(target).not.toHaveValue('loud')
  await target.fill('-24')
  await target.press('Enter')
  await expect(dialog.getByRole('row').nth(3)).toContainText('−24.0 LUFS')
  await dialog.getByRole('button', { name: 'Change 4 regions' }).click()
  const after = await sessionOf(page)
  for (const id of ['n1', 'n2', 'n4', 'n5']) {
    const { start, length } = after.regions[id]!
    expect(Math.abs((await loudness(page, start, length)) + 24)).toBeLessThan(0.1)
  }
  expect(after.regions.n3).toEqual(before.regions.n3)
  await page.getByRole('button', { name: /^Undo: Match 4 regions/ }).click()
  expect((await sessionOf(page)).regions).toEqual(before.regions)

  // The loudest that does not clip: the true peak comes to the ceiling.
  await page.keyboard.press('e')
  await page.getByRole('button', { name: 'Loudest without clipping' }).click()
  await expect(dialog.getByRole('row')).toHaveCount(5)
  for (let i = 1; i <= 4; i++)
    await expect(dialog.getByRole('row').nth(i).getByRole('cell').last()).toHaveText(/−1\.[01] dBTP/)
  await dialog.getByRole('button', { name: 'Cancel' }).click()
  expect(await sessionOf(page)).toEqual({ ...before })

  // All to be as loud as the first; a typed change adds to all.
  await page.getByLabel(/^Clip gain of \d+ regions$/).fill('+2')
  await page.keyboard.press('Enter')
  const raised = await sessionOf(page)
  expect(
    ['n1', 'n2', 'n4', 'n5'].map((id) => raised.regions[id]!.clipGainDb - before.regions[id]!.clipGainDb),
  ).toEqual([2, 2, 2, 2])
})

test(
  'the phrases of a take are evened out by a thread that stays editable; breaths and gaps are not raised',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await select(page, 'wheel pit, take 2')
    await page.keyboard.press('Shift+E')
    const dialog = page.getByRole('dialog', { name: 'Even out' })
    await expect(dialog.getByRole('status')).toContainText(
      /\d phrases\. They lie [789]\.\d LU apart, then 0\.\d LU/,
    )
    // Heard and seen already, but not yet a step.
    const shown = await sessionOf(page)
    expect(shown.gainThreads[shown.regions.n2!.gainThreadId!]!.knots.length).toBeGreaterThan(3)
    expect(await page.evaluate(() => window.oakenThread.getState().session.steps.length)).toBe(0)
    await dialog.getByRole('button', { name: 'Even out', exact: true }).click()
    await expect(
      page.getByRole('button', { name: /^Undo: Even out in gain thread of “wheel pit, take 2”/ }),
    ).toBeVisible()
    await page.keyboard.press('Control+z')
    expect((await sessionOf(page)).regions.n2!.gainThreadId).toBeNull()
  },
)

test('silence is cut off the ends and taken back; a breath is drawn down; a stretch is bent and scaled', async ({
  page,
}) => {
  await openSample(page)
  const first = await sessionOf(page)
  await page.getByRole('button', { name: 'Solo Narrator' }).click()
  await select(page, 'the keeper, take 3')
  const { start, length } = first.regions.n4!
  const before = await throughRing(page, start, length)
  await page.keyboard.press('x')
  const dialog = page.getByRole('dialog', { name: 'Silence' })
  await expect(dialog.getByRole('status')).toContainText(/Removes .+ of silence\./)
  await dialog.getByRole('button', { name: 'Trim silence from the ends' }).click()
  const trimmed = (await sessionOf(page)).regions.n4!
  expect(trimmed.start).toBeGreaterThan(start)
  expect(trimmed.start + trimmed.length).toBeLessThan(start + length)
  const after = await throughRing(page, start, length)
  const [from, to] = [trimmed.start - start, trimmed.start - start + trimmed.length]
  expect(firstDifference(after[0]!.slice(from, to), before[0]!.slice(from, to))).toBe(-1)
  expect(Math.max(peakOf(before[0]!.subarray(0, from)), peakOf(before[0]!.subarray(to)))).toBeLessThan(
    10 ** (-53 / 20),
  )
  await page.keyboard.press('Control+z')

  // The breath before the line, from 0.1 s to 0.45 s, drawn down in the bench.
  await regionGroup(page, 'the keeper, take 3').dblclick({ position: { x: 20, y: 18 } })
  const area = (await page.getByTestId('bench-thread').boundingBox())!
  const x = (seconds: number) => area.x + (area.width * seconds * 48000) / length
  await page.getByRole('button', { name: 'Draw' }).click()
  await page.mouse.move(x(0.05), area.y + 120)
  await page.mouse.down()
  await page.mouse.move(x(0.5), area.y + 120, { steps: 8 })
  await page.mouse.up()
  await expect(page.getByText(/points → \d knots/).first()).toBeVisible()
  const drawn = await throughRing(page, start, length)
  const rms = (side: Float32Array, a: number, b: number) =>
    10 * Math.log10(side.subarray(a * 48000, b * 48000).reduce((sum, v) => sum + v * v, 0))
  expect(rms(drawn[0]!, 0.1, 0.45) - rms(before[0]!, 0.1, 0.45)).toBeLessThan(-10)
  expect(firstDifference(drawn[0]!.slice(24500), before[0]!.slice(24500))).toBe(-1)
  await page.getByRole('button', { name: 'Point' }).click()

  // The stretch over the rest is plain; scaling the thread to nothing gives the sound back, resetting leaves
  // no knots.
  await page.getByLabel('Scale about 0 dB').fill('a lot')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('0 % to 1000 %')
  await page.getByLabel('Scale about 0 dB').fill('0%')
  await page.keyboard.press('Enter')
  const flat = await throughRing(page, start, length)
  expect(peakOf(flat[0]!.map((v, i) => v - before[0]![i]!))).toBeLessThan(1e-6)
  await page
    .getByRole('slider', { name: /^Knot 2 of the keeper/ })
    .last()
    .focus()
  await page.getByRole('textbox', { name: 'Bend' }).fill('50 %')
  await page.keyboard.press('Enter')
  await page.getByRole('textbox', { name: 'Bend' }).fill('200 %')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('−100 % to 100 %')
  await page.keyboard.press('Escape')
  const bent = await sessionOf(page)
  expect(bent.gainThreads[bent.regions.n4!.gainThreadId!]!.knots[1]!.bend).toBe(0.5)
  await page.getByRole('button', { name: 'Reset the gain thread' }).click()
  expect(firstDifference((await throughRing(page, start, length))[0]!, before[0]!)).toBe(-1)
  const { done } = await page.evaluate(() => window.oakenThread.getState().session)
  await page.getByRole('button', { name: 'History' }).click()
  await page.getByRole('button', { name: 'As it was opened first' }).click()
  expect(done).toBeGreaterThan(3)
  expect(await sessionOf(page)).toEqual(first)
})

test(
  'the gain of a range only, markers, tempo and rendering into a region',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await page.getByRole('button', { name: 'Solo Concertina' }).click()
    const first = await sessionOf(page)
    const before = await throughRing(page, 30 * 48000, 10 * 48000)
    await select(page, 'drone in D')
    const area = (await page.getByTestId('timeline').boundingBox())!
    const { view } = await page.evaluate(() => window.oakenThread.getState().navigation)
    const x = (seconds: number) => area.x + (seconds * 48000) / view.framesPerPixel
    await page.keyboard.down('r')
    await page.waitForTimeout(350)
    await page.mouse.move(x(32), area.y + 300)
    await page.mouse.down()
    await page.mouse.move(x(36), area.y + 300, { steps: 4 })
    await page.mouse.up()
    await page.keyboard.up('r')
    await page.getByLabel('Change gain in the range by').fill('-5')
    await page.keyboard.press('Enter')
    const shaped = await sessionOf(page)
    expect(shaped.gainThreads[shaped.regions.c1!.gainThreadId!]!.knots).toHaveLength(4)
    const after = await throughRing(page, 30 * 48000, 10 * 48000)
    const ratio = (seconds: number) => after[0]![seconds * 48000]! / before[0]![seconds * 48000]!
    expect(20 * Math.log10(ratio(4))).toBeCloseTo(-5, 3)
    expect([ratio(1), ratio(9)]).toEqual([1, 1])

    // Rendered in place, all sounds as before; what it was made from is silent below, and comes back.
    await page.keyboard.press('Control+z')
    await regionGroup(page, 'drone in D').click({ button: 'right', position: { x: 80, y: 30 } })
    await page.getByRole('menuitem', { name: 'Copies' }).hover()
    await page.getByRole('menuitem', { name: 'Render the range in place', exact: true }).press('Enter')
    await expect.poll(async () => (await sessionOf(page)).trackIds.length).toBe(first.trackIds.length + 1)
    const made = await sessionOf(page)
    const kept = made.trackIds.find((id) => !first.trackIds.includes(id))!
    expect(made.tracks[kept]).toMatchObject({ name: 'Concertina, before rendering', muted: true })
    const rendered = await throughRing(page, 30 * 48000, 10 * 48000)
    expect(peakOf(rendered[0]!.map((v, i) => v - before[0]![i]!))).toBeLessThan(1e-6)
    await page.keyboard.press('Control+k')
    await page.keyboard.type('put back')
    await page.keyboard.press('Enter')
    await expect.poll(async () => (await sessionOf(page)).trackIds).toEqual(first.trackIds)
    const back = await throughRing(page, 30 * 48000, 10 * 48000)
    expect(firstDifference(back[0]!, before[0]!)).toBe(-1)
    await page.keyboard.press('Control+z')
    await page.keyboard.press('Control+z')

    // A marker is made, named, jumped to and moved; the tempo changes without moving a region.
    await page.evaluate(() => window.oakenThread.getPlayer().seek(10 * 48000))
    await page.keyboard.press('n')
    await page.getByRole('button', { name: /^Marker marker 5/ }).press('Enter')
    await page.getByRole('textbox', { name: 'Name' }).fill('second verse')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'Marker second verse at 0:10.000' }).press('ArrowRight')
    await page.evaluate(() => window.oakenThread.getPlayer().seek(0))
    await page.keyboard.press('Control+ArrowRight')
    await page.keyboard.press('Control+ArrowRight')
    expect(await page.evaluate(() => window.oakenThread.getPlayer().position())).toBe(10.01 * 48000)
    await page.getByTitle('Tempo and metre').click()
    await page.getByLabel('Tempo', { exact: true }).fill('5')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('alert')).toContainText('10 to 1000 bpm')
    await page.getByLabel('Tempo', { exact: true }).fill('97.3')
    await page.keyboard.press('Enter')
    const faster = await sessionOf(page)
    expect(faster.tempo[0]!.bpm).toBe(97.3)
    expect(faster.regions.c2).toEqual(first.regions.c2)
  },
)
