import { expect, test, type Page } from '@playwright/test'
import { firstDifference, openSample, regionGroup, sessionOf, throughRing } from './support'

const bead = (page: Page, name: string) => page.getByRole('button', { name: new RegExp(`^${name} of the track`) }).click()

async function place(page: Page) {
  const area = (await page.getByTestId('timeline').boundingBox())!
  const { view } = await page.evaluate(() => window.oakenThread.getState().view)
  return { area, x: (seconds: number) => area.x + (seconds * 48000 - view.left) / view.framesPerPixel }
}

test('one narrated word is raised by 2 dB with one gesture on the volume lane; the render changes nowhere else', async ({ page }) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Solo Narrator' }).click()
  const before = await throughRing(page, 5 * 48000, 5 * 48000)
  await regionGroup(page, 'walk-in, take 1').click({ position: { x: 40, y: 30 } })
  await page.keyboard.press('9')
  await bead(page, 'Volume')
  const { area, x } = await place(page)
  await page.keyboard.down('p')
  await page.waitForTimeout(350)
  await page.mouse.move(x(6.2), area.y + 50)
  await page.mouse.down()
  await page.mouse.move(x(6.9), area.y + 40, { steps: 6 })
  await page.mouse.up()
  await page.keyboard.up('p')
  const { knots } = (await sessionOf(page)).tracks.narrator!.lanes.volume!
  expect(knots).toHaveLength(4)
  const after = await throughRing(page, 5 * 48000, 5 * 48000)
  const [from, to] = [knots[0]!.frame - 5 * 48000, knots[3]!.frame - 5 * 48000]
  // Outside, the lane's 0 dB step of a float apart at most: a fader of +1 dB and a lane at +1 dB are one gain.
  const apart = (a: number, b: number) => Math.max(...[0, 1].flatMap((c) => Array.from(after[c]!.subarray(a, b), (v, i) => Math.abs(v - before[c]![a + i]!)).reduce((m, v) => Math.max(m, v), 0)))
  expect(apart(0, from)).toBeLessThan(1e-6)
  expect(apart(to + 1, 5 * 48000)).toBeLessThan(1e-6)
  const middle = Math.round((from + to) / 2)
  const loudest = after[0]!.subarray(middle - 4000, middle + 4000).reduce((best, v, i, all) => (Math.abs(v) > Math.abs(all[best]!) ? i : best), 0) + middle - 4000
  expect(20 * Math.log10(after[0]![loudest]! / before[0]![loudest]!)).toBeCloseTo(2, 3)
  // The value at the playhead is on the rail and in the Path.
  await page.evaluate((f) => window.oakenThread.getPlayer().seek(f), middle + 5 * 48000)
  await expect(page.getByRole('button', { name: 'Automated volume of Narrator' })).toHaveText('+3.0 dB')
  // Bypassed, the fader holds again, to the bit; undo brings all back.
  await page.getByLabel('Bypass this lane').check()
  expect(firstDifference((await throughRing(page, 5 * 48000, 5 * 48000))[0]!, before[0]!)).toBe(-1)
  for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z')
  expect((await sessionOf(page)).tracks.narrator!.lanes.volume?.knots ?? []).toHaveLength(0)
})

test('drone and bass are set in motion by weaves of two note values, and compared with the unshaped', async ({ page }) => {
  await openSample(page)
  const still = await throughRing(page, 30 * 48000, 5 * 48000)
  await page.keyboard.press('0')
  const { area, x } = await place(page)
  await bead(page, 'Pan')
  await page.getByRole('button', { name: 'Weave', exact: true }).click()
  await page.mouse.move(x(27.5), area.y + 3 * 84 + 20)
  await page.mouse.down()
  await page.mouse.move(x(45), area.y + 3 * 84 + 64, { steps: 8 })
  await page.mouse.up()
  await page.getByRole('button', { name: 'Sine', exact: true }).click()
  await page.getByLabel('Note value').selectOption('1/2')
  await bead(page, 'Volume')
  await page.mouse.move(x(27.5), area.y + 4 * 84 + 30)
  await page.mouse.down()
  await page.mouse.move(x(45), area.y + 4 * 84 + 60, { steps: 8 })
  await page.mouse.up()
  await page.getByRole('button', { name: 'Square', exact: true }).click()
  await page.getByLabel('Note value').selectOption('1/8 dotted')
  await page.getByRole('button', { name: 'Point' }).click()
  const session = await sessionOf(page)
  const pan = session.tracks.concertina!.lanes.pan!.knots
  const volume = session.tracks.bass!.lanes.volume!.knots
  // On exact frames of the beat at 96 bpm: halves of a half note are 30000 frames, dotted eighths 22500 in two parts of 11250.
  expect(pan.slice(1, -2).every((k, i, all) => i === 0 || k.frame - all[i - 1]!.frame === 30000)).toBe(true)
  expect(pan.filter((k) => k.shape === 's-curve').length).toBeGreaterThan(10)
  expect(volume.slice(1, -3).every((k, i, all) => i === 0 || k.frame - all[i - 1]!.frame === 11250)).toBe(true)
  expect(volume.every((k) => k.value <= 10 ** (-12 / 60) + 1e-9)).toBe(true)
  const moved = await throughRing(page, 30 * 48000, 5 * 48000)
  expect(firstDifference(moved[0]!, still[0]!)).toBeGreaterThan(-1)
  // Undo of a setting redraws the one before; all of them give the session back.
  const steps = await page.evaluate(() => window.oakenThread.getState().session.steps.length)
  expect(steps).toBe(6)
  for (let i = 0; i < steps; i++) await page.keyboard.press('Control+z')
  expect(firstDifference((await throughRing(page, 30 * 48000, 5 * 48000))[0]!, still[0]!)).toBe(-1)
  await page.keyboard.press('Control+Shift+z')

  // Listening without the shaping changes what is played, not what is delivered; at equal loudness the louder is lowered.
  const shaped = await throughRing(page, 30 * 48000, 5 * 48000)
  await page.getByRole('button', { name: 'shaped', exact: true }).click()
  const unshaped = await throughRing(page, 30 * 48000, 5 * 48000)
  expect(firstDifference(unshaped[0]!, shaped[0]!)).toBeGreaterThan(-1)
  await page.getByRole('button', { name: '= loud' }).click()
  await expect(page.getByRole('button', { name: /^=.*dB$/ })).toBeVisible({ timeout: 60_000 })
  await page.getByRole('button', { name: 'unshaped', exact: true }).click()
  await page.getByRole('button', { name: /^=.*dB$/ }).click()
  expect(firstDifference((await throughRing(page, 30 * 48000, 5 * 48000))[0]!, shaped[0]!)).toBe(-1)
})

test('music gives way to gulls and gates; the knots can be made anew and let go', async ({ page }) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Solo Mill race' }).click()
  // The gate opens at 42.5 s.
  const rms = (x: Float32Array, from: number, to: number) => 10 * Math.log10(x.subarray(from, to).reduce((sum, v) => sum + v * v, 0))
  const before = await throughRing(page, 40 * 48000, 8 * 48000)
  await page.getByRole('group', { name: /^mill race/ }).first().click({ position: { x: 100, y: 40 } })
  await bead(page, 'Volume')
  await page.keyboard.press('g')
  const dialog = page.getByRole('dialog', { name: 'Give way' })
  await dialog.getByRole('group', { name: 'while these sound' }).getByLabel('Gulls and gates').check()
  await expect(dialog.getByRole('status')).toContainText(/\d places\. \d+ knots a lane/, { timeout: 30_000 })
  await dialog.getByLabel('Depth').fill('lots')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('−60.0 dB to +60.0 dB')
  await dialog.getByLabel('Depth').fill('-12')
  await page.keyboard.press('Enter')
  await dialog.getByRole('button', { name: 'Give way', exact: true }).click()
  const after = await throughRing(page, 40 * 48000, 8 * 48000)
  const change = (seconds: number) => rms(after[0]!, seconds * 48000, (seconds + 0.1) * 48000) - rms(before[0]!, seconds * 48000, (seconds + 0.1) * 48000)
  expect(change(2.5)).toBeCloseTo(-12, 1)
  expect(change(2.4)).toBeLessThan(-10)
  expect(change(1)).toBeCloseTo(0, 3)
  const made = (await sessionOf(page)).tracks.race!.lanes.volume!
  expect(made.giveWay!.others).toEqual(['effects'])
  // Made anew with the same settings nothing changes; let go, the knots stay.
  await page.keyboard.press('g')
  await expect(dialog.getByRole('status')).toContainText('places', { timeout: 30_000 })
  await dialog.getByRole('button', { name: 'Make anew' }).click()
  expect((await sessionOf(page)).tracks.race!.lanes.volume!.knots).toEqual(made.knots)
  await page.keyboard.press('g')
  await dialog.getByRole('button', { name: 'Let go' }).click()
  expect((await sessionOf(page)).tracks.race!.lanes.volume).toEqual({ knots: made.knots, bypassed: false, visible: true })
})

test('where the mix would pass full scale a flag says so, goes there, and lowers just that stretch', async ({ page }) => {
  await openSample(page)
  await page.getByRole('button', { name: /^Mix all tracks/ }).click()
  await page.getByRole('textbox', { name: 'Volume of the mix' }).fill('2.5')
  await page.keyboard.press('Enter')
  const flag = page.getByRole('button', { name: /^The mix overloads at/ }).first()
  await expect(flag).toBeVisible({ timeout: 60_000 })
  const over = Number(/\+([\d.]+) dBFS/.exec((await flag.getAttribute('aria-label'))!)![1])
  await flag.click()
  const at = await page.evaluate(() => window.oakenThread.getPlayer().position())
  const peak = async () => {
    const sides = await throughRing(page, Math.max(0, at - 24000), 6 * 48000)
    return 20 * Math.log10(Math.max(...sides.map((s) => s.reduce((m, v) => Math.max(m, Math.abs(v)), 0))))
  }
  expect(await peak()).toBeGreaterThan(0)
  expect(over).toBeGreaterThan(0)
  await page.getByRole('button', { name: /^Lower this stretch by/ }).click()
  await expect(page.getByRole('button', { name: /^Undo: Lower an overload in volume of the mix/ })).toBeVisible()
  const { mix } = await sessionOf(page)
  expect(mix.lanes.volume!.knots).toHaveLength(4)
})
