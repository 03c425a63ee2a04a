import { expect } from '@playwright/test'
import { test } from './fixtures'
import {
  bead,
  firstDifference,
  middleOf,
  openSample,
  place,
  regionGroup,
  sessionOf,
  throughRing,
  ROW,
} from './support'

test('drone and bass are set in motion by weaves of two note values, and compared with the unshaped', async ({
  page,
}) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Fold the Path to one line' }).click()
  const still = await throughRing(page, 30 * 48000, 5 * 48000)
  await page.keyboard.press('h')
  const { area, x } = await place(page)
  await regionGroup(page, 'walk-in, take 1').click({ position: { x: 40, y: 20 } })
  await bead(page, 'Pan')
  await page.getByRole('button', { name: 'Weave', exact: true }).click()
  await page.mouse.move(x(27.5), area.y + 3 * ROW + 20)
  await page.mouse.down()
  await page.mouse.move(x(45), area.y + 3 * ROW + 54, { steps: 8 })
  await page.mouse.up()
  // What is worked on is what the Path and the bench are about, whatever was selected before.
  await expect(page.getByText('Path of “Concertina”')).toBeVisible()
  await page.getByRole('button', { name: 'Sine', exact: true }).click()
  await page.getByLabel('Note value').selectOption('1/2')
  await bead(page, 'Volume')
  await page.mouse.move(x(27.5), area.y + 4 * ROW + 30)
  await page.mouse.down()
  await page.mouse.move(x(45), area.y + 4 * ROW + 56, { steps: 8 })
  await page.mouse.up()
  await page.getByRole('button', { name: 'Square', exact: true }).click()
  await page.getByLabel('Note value').selectOption('1/8 dotted')
  await page.getByRole('button', { name: 'Point' }).click()
  const session = await sessionOf(page)
  const pan = session.tracks.concertina!.lanes.pan!.knots
  const volume = session.tracks.bass!.lanes.volume!.knots
  // On exact frames of the beat at 96 bpm: halves of a half note are 30000 frames, dotted eighths 22500 in
  // two parts of 11250.
  expect(pan.slice(1, -2).every((k, i, all) => i === 0 || k.frame - all[i - 1]!.frame === 30000)).toBe(true)
  expect(pan.filter((k) => k.shape === 's-curve').length).toBeGreaterThan(10)
  expect(volume.slice(1, -3).every((k, i, all) => i === 0 || k.frame - all[i - 1]!.frame === 11250)).toBe(
    true,
  )
  expect(volume.every((k) => k.value <= 10 ** (-12 / 60) + 1e-9)).toBe(true)
  const moved = await throughRing(page, 30 * 48000, 5 * 48000)
  expect(firstDifference(moved[0]!, still[0]!)).toBeGreaterThan(-1)
  // Undo of a setting redraws the one before; all of them give the session back.
  const steps = await page.evaluate(() => window.oakenThread.getState().session.steps.length)
  expect(steps).toBe(6)
  for (let i = 0; i < steps; i++) await page.keyboard.press('Control+z')
  await expect
    .poll(async () => firstDifference((await throughRing(page, 30 * 48000, 5 * 48000))[0]!, still[0]!))
    .toBe(-1)
  await page.keyboard.press('Control+Shift+z')

  // Listening without the shaping changes what is played, not what is exported; at equal loudness the louder
  // is lowered.
  const shaped = await throughRing(page, 30 * 48000, 5 * 48000)
  await page.getByRole('button', { name: 'shaped', exact: true }).click()
  const unshaped = await throughRing(page, 30 * 48000, 5 * 48000)
  expect(firstDifference(unshaped[0]!, shaped[0]!)).toBeGreaterThan(-1)
  await page.getByRole('button', { name: '= loud' }).click()
  await expect(page.getByRole('button', { name: /^=.*dB$/ })).toBeVisible()
  await page.getByRole('button', { name: 'unshaped', exact: true }).click()
  await page.getByRole('button', { name: /^=.*dB$/ }).click()
  expect(firstDifference((await throughRing(page, 30 * 48000, 5 * 48000))[0]!, shaped[0]!)).toBe(-1)
})

test(
  'riding: the fader held while it plays writes the lane, lets it return, and a simulated fader latches; one step a pass',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const steps = () => page.evaluate(() => window.oakenThread.getState().session.steps.map((s) => s.label))
    const lane = async (track: string) => (await sessionOf(page)).tracks[track]!.lanes.volume!
    const track = await page.evaluate(() => window.oakenThread.getState().session.session!.trackIds[2]!)
    const before = (await sessionOf(page)).tracks[track]!.volumeDb!
    await page.getByRole('button', { name: 'Ride: off' }).click()
    await page.getByText('Touch', { exact: true }).click()
    await page.getByLabel('Returns within').fill('200 ms')
    await page.keyboard.press('Enter')
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await page.waitForTimeout(1500)
    const fader = await middleOf(page.getByRole('slider', { name: 'Fader of Mill race' }).first())
    await page.mouse.move(fader.x, fader.y)
    await page.mouse.down()
    for (let i = 1; i <= 20; i++) {
      await page.mouse.move(fader.x - i * 2, fader.y)
      await page.waitForTimeout(40)
    }
    await page.waitForTimeout(500)
    // Meanwhile nothing is kept, and it is heard: the level that is held is in what is played.
    expect(await steps()).toEqual([])
    await page.mouse.up()
    await page.waitForTimeout(1200)
    await page.getByRole('button', { name: 'Pause', exact: true }).click()
    expect(await steps()).toEqual(['Ride in volume of “Mill race”'])
    const ridden = await lane(track)
    const levels = ridden.knots.map((k) => k.value)
    const last = ridden.knots.at(-1)!
    expect(ridden.knots.length).toBeLessThan(60)
    expect(Math.min(...levels)).toBeLessThan(levels[0]! - 0.1)
    // It returned to where the track stands, 200 ms after the hand let go.
    expect(last.value).toBeCloseTo(levels[0]!, 6)
    expect(last.frame - ridden.knots.at(-2)!.frame).toBeGreaterThan(7000)
    expect((await sessionOf(page)).tracks[track]!.volumeDb).toBe(before)
    // The sound follows: quieter in the middle of the touch than after it.
    await page.getByRole('button', { name: 'Solo Mill race' }).click()
    const lowest = ridden.knots.find((k) => k.value === Math.min(...levels))!
    const rms = (x: Float32Array) => Math.sqrt(x.reduce((sum, v) => sum + v * v, 0) / x.length)
    const [quiet] = await throughRing(page, lowest.frame, 4800)
    const [loud] = await throughRing(page, last.frame + 48000, 4800)
    expect(rms(quiet!)).toBeLessThan(rms(loud!) * 0.7)
    await page.getByRole('button', { name: 'Solo Mill race' }).click()

    // Latch, by a fader that speaks MIDI: what was moved stays until it stops.
    await page.getByRole('button', { name: 'Ride: touch' }).click()
    await page.getByText('Latch', { exact: true }).click()
    await page
      .getByLabel('Fader', { exact: false })
      .getByRole('combobox')
      .or(page.getByRole('combobox', { name: /^Fader/ }))
      .first()
      .selectOption('simulated')
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Narrator', exact: true }).click()
    await page.keyboard.press('Home')
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await page.waitForTimeout(800)
    await page.getByRole('button', { name: 'Ride: latch' }).click()
    await page.getByRole('slider', { name: 'Simulated volume' }).first().focus()
    for (let i = 0; i < 30; i++) await page.keyboard.press('ArrowLeft')
    await page.waitForTimeout(1200)
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Pause', exact: true }).click()
    const narrator = await page.evaluate(() => window.oakenThread.getState().session.session!.trackIds[0]!)
    const latched = await lane(narrator)
    // From 96 to 66 of 127, and held there to the end of the pass.
    expect(Math.min(...latched.knots.map((k) => k.value))).toBeCloseTo(66 / 127, 6)
    expect(
      latched.knots.filter((k) => Math.abs(k.value - 66 / 127) < 1e-9).at(-1)!.frame -
        latched.knots[0]!.frame,
    ).toBeGreaterThan(24_000)
    expect((await steps()).at(-1)).toBe('Ride in volume of “Narrator”')
    await page.keyboard.press('Control+z')
    expect((await sessionOf(page)).tracks[narrator]!.lanes.volume?.knots ?? []).toEqual([])
  },
)
