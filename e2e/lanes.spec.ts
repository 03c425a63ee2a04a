import { expect } from '@playwright/test'
import { test } from './fixtures'
import {
  bead,
  firstDifference,
  openSample,
  peakOf,
  place,
  regionGroup,
  sessionOf,
  throughRing,
  reload,
  ROW,
} from './support'

test('one narrated word is raised by 2 dB with one gesture on the volume lane; the render changes nowhere else', async ({
  page,
}) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Solo Narrator' }).click()
  const before = await throughRing(page, 5 * 48000, 5 * 48000)
  await regionGroup(page, 'walk-in, take 1').click({ position: { x: 40, y: 20 } })
  await page.keyboard.press('z')
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
  const apart = (a: number, b: number) =>
    Math.max(
      ...[0, 1].flatMap((c) =>
        Array.from(after[c]!.subarray(a, b), (v, i) => Math.abs(v - before[c]![a + i]!)).reduce(
          (m, v) => Math.max(m, v),
          0,
        ),
      ),
    )
  expect(apart(0, from)).toBeLessThan(1e-6)
  expect(apart(to + 1, 5 * 48000)).toBeLessThan(1e-6)
  const middle = Math.round((from + to) / 2)
  const loudest =
    after[0]!
      .subarray(middle - 4000, middle + 4000)
      .reduce((best, v, i, all) => (Math.abs(v) > Math.abs(all[best]!) ? i : best), 0) +
    middle -
    4000
  expect(20 * Math.log10(after[0]![loudest]! / before[0]![loudest]!)).toBeCloseTo(2, 3)
  // The value at the playhead is on the rail and in the Path.
  await page.evaluate((f) => window.oakenThread.getPlayer().seek(f), middle + 5 * 48000)
  await expect(page.getByRole('button', { name: 'Automated volume of Narrator' })).toHaveText('+3.0 dB')
  // Bypassed, the fader holds again, to the bit; undo brings all back.
  await page.getByLabel('Bypass lane').check()
  expect(firstDifference((await throughRing(page, 5 * 48000, 5 * 48000))[0]!, before[0]!)).toBe(-1)
  for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z')
  expect((await sessionOf(page)).tracks.narrator!.lanes.volume?.knots ?? []).toHaveLength(0)
})

test(
  'the drone is lowered under each gull and gate by hand, the bass gets the same by copying; a region takes its automation along',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const effects = [
      [42.5, 46.7],
      [53.75, 55.73],
      [57.5, 58.64],
      [59.4, 63.6],
    ] as const
    await page.getByRole('button', { name: 'Solo Concertina' }).click()
    const heard = async () => (await throughRing(page, 40 * 48000, 26 * 48000))[0]!
    const before = await heard()
    await page.getByRole('button', { name: 'Concertina', exact: true }).click()
    await bead(page, 'Volume')
    await page.getByRole('button', { name: 'Plateau', exact: true }).click()
    const { area, x } = await place(page)
    const row = area.y + 3 * ROW
    for (const [from, to] of effects) {
      // Right to left or left to right; 30 pixels down are 6 dB.
      await page.mouse.move(x(to + 0.3), row + 40)
      await page.mouse.down()
      await page.mouse.move(x(from - 0.3), row + 70, { steps: 6 })
      await page.mouse.up()
    }
    await page.getByRole('button', { name: 'Point', exact: true }).click()
    const lane = async (track: string) => (await sessionOf(page)).tracks[track]!.lanes.volume?.knots ?? []
    const knots = await lane('concertina')
    // Four plateaus, of which the last two have one shoulder together: there is no room for two between them.
    expect(knots).toHaveLength(14)
    const after = await heard()
    const change = (seconds: number) => {
      const at = Math.round((seconds - 40) * 48000)
      const rms = (y: Float32Array) => Math.sqrt(y.subarray(at, at + 9600).reduce((sum, v) => sum + v * v, 0))
      return 20 * Math.log10(rms(after) / rms(before))
    }
    for (const [from, to] of effects) expect(change((from + to) / 2 - 0.1)).toBeCloseTo(-6, 1)
    for (const still of [41, 49, 56.4, 65]) expect(change(still)).toBeCloseTo(0, 3)

    // What the lane does from 41 s to 65 s, copied onto the bass at the same place.
    await page.getByRole('button', { name: 'Range', exact: true }).click()
    await page.mouse.move(x(41), row + 30)
    await page.mouse.down()
    await page.mouse.move(x(65), row + 30, { steps: 4 })
    await page.mouse.up()
    await page.getByRole('button', { name: 'Point', exact: true }).click()
    await page.keyboard.press('Control+c')
    const { range } = await page.evaluate(() => window.oakenThread.getState().selection)
    await page.evaluate((from) => window.oakenThread.getPlayer().seek(from), range!.from)
    await page.getByRole('button', { name: 'Pedal bass', exact: true }).click()
    await page.keyboard.press('Control+v')
    const bass = await lane('bass')
    const inRange = knots.filter((k) => k.frame > range!.from && k.frame < range!.to)
    expect(
      bass.filter((k) => inRange.some((d) => d.frame === k.frame && Math.abs(d.value - k.value) < 1e-9)),
    ).toHaveLength(inRange.length)
    await page.keyboard.press('Control+z')
    expect(await lane('bass')).toEqual([])

    // With the automation travelling, the second drone moved by a bar takes its dips along.
    await page.getByLabel('Automation travels with regions').check()
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: /^Clip gain of the region/ }).click()
    await page.getByRole('group', { name: /^drone in G/ }).click({ position: { x: 150, y: 20 } })
    await page.keyboard.press('ArrowRight')
    const moved = await sessionOf(page)
    const by = moved.regions.c2!.start - 2256000
    expect(by).toBeGreaterThan(0)
    const lastDip = knots.at(-2)!
    expect(
      moved.tracks.concertina!.lanes.volume!.knots.some(
        (k) => k.frame === lastDip.frame + by && Math.abs(k.value - lastDip.value) < 1e-9,
      ),
    ).toBe(true)
  },
)

test(
  'the mix in its own row: a plateau swept there lowers what is heard just there, whatever bead was picked; the ways of working outlast a reload',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const whole = async () => (await throughRing(page, 18 * 48000, 16 * 48000))[0]!
    const [before, right] = (await throughRing(page, 18 * 48000, 16 * 48000)) as [Float32Array, Float32Array]
    await page.getByRole('separator', { name: 'Height of the mix' }).focus()
    for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowUp')
    await page.getByRole('button', { name: 'Plateau', exact: true }).click()
    const lane = (await page.getByTestId('mix-lane').boundingBox())!
    const { x } = await place(page)
    await page.mouse.move(x(22), lane.y + 50)
    await page.mouse.down()
    await page.keyboard.down('Shift')
    await page.mouse.move(x(30), lane.y + 80, { steps: 6 })
    await page.mouse.up()
    await page.keyboard.up('Shift')
    const knots = (await sessionOf(page)).mix.lanes.volume!.knots
    expect(knots).toHaveLength(4)
    await expect(page.getByRole('button', { name: /^Undo: Plateau in volume of the mix/ })).toBeVisible()
    await expect(page.getByRole('region', { name: 'Mix' })).toContainText('dB')
    const after = await whole()
    const [first, , , last] = knots.map((k) => k.frame - 18 * 48000)
    // Outside, a volume of 0 dB and a lane at 0 dB are one gain, but for the last step of a float.
    const apart = after.map((v, n) => (n < first! || n > last! + 48 ? v - before[n]! : 0))
    expect(peakOf(apart)).toBeLessThan(1e-6)
    // 30 pixels down at 0.2 dB each.
    const middle = Math.round((first! + last!) / 2)
    const loud = before.findIndex((v, n) => n > middle && Math.abs(v) > 0.05)
    expect(20 * Math.log10(after[loud]! / before[loud]!)).toBeCloseTo(-6, 4)
    await page.keyboard.press('Control+z')

    // Its pan opens below it when it is picked; a stretch turned to the right leaves the right side and lowers
    // the left one.
    await page.getByRole('button', { name: /^Mix pan/ }).click()
    const pans = (await page.getByTestId('mix-pan-lane').boundingBox())!
    await page.mouse.move(x(22), pans.y + 32)
    await page.mouse.down()
    await page.keyboard.down('Shift')
    await page.mouse.move(x(30), pans.y + 32 + 13, { steps: 6 })
    await page.mouse.up()
    await page.keyboard.up('Shift')
    await expect(page.getByRole('button', { name: /^Undo: Plateau in pan of the mix/ })).toBeVisible()
    const turned = (await sessionOf(page)).mix.lanes.pan!.knots
    expect(turned).toHaveLength(4)
    const pan = turned[1]!.value
    // 13 of the 54 pixels from L100 to R100.
    expect(pan).toBeCloseTo((2 * 13) / 54, 1)
    const sides = await throughRing(page, 18 * 48000, 16 * 48000)
    const at = Math.round((turned[1]!.frame + turned[2]!.frame) / 2) - 18 * 48000
    const heard = before.findIndex((v, n) => n > at && Math.abs(v) > 0.05)
    expect(sides[0]![heard]! / before[heard]!).toBeCloseTo(Math.cos((pan * Math.PI) / 2), 4)
    expect(peakOf(sides[1]!.map((v, n) => v - right[n]!))).toBeLessThan(1e-6)
    await page.getByRole('button', { name: 'Close the Pan lane of the mix' }).click()
    await expect(page.getByTestId('mix-pan-lane')).toHaveCount(0)
    await page.evaluate(() => window.oakenThread.whenSaved())
    await reload(page)
    await expect(page.getByRole('separator', { name: 'Height of the mix' })).toHaveAttribute(
      'aria-valuenow',
      '104',
    )
  },
)

test(
  'an opened lane: knots in a box are stretched, scaled and moved; a line is drawn on the tracks of all selected regions',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await page.getByRole('button', { name: 'Lanes of Narrator' }).click()
    await page.getByRole('menuitemcheckbox', { name: 'Volume' }).click()
    await page.keyboard.press('Escape')
    const height = page.getByRole('separator', { name: 'Height of the Volume lane of Narrator' })
    await height.focus()
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowDown')
    expect(await height.getAttribute('aria-valuenow')).toBe('100')
    const { area, x } = await place(page)
    const sweep = async (from: number, to: number, y0: number, y1: number) => {
      await page.mouse.move(x(from), area.y + y0)
      await page.mouse.down()
      await page.mouse.move(x(to), area.y + y1, { steps: 6 })
      await page.mouse.up()
    }
    await page.getByRole('button', { name: 'Plateau', exact: true }).click()
    await sweep(20, 30, ROW + 36, ROW + 62)
    await page.getByRole('button', { name: 'Point', exact: true }).click()
    await sweep(18, 33, ROW + 6, ROW + 84)
    const dB = (height: number) => 12 + 60 * Math.log10(height)
    const knots = async (track = 'narrator') => (await sessionOf(page)).tracks[track]!.lanes.volume!.knots
    const made = await knots()
    expect(made).toHaveLength(4)
    const { framesPerPixel } = await page.evaluate(() => window.oakenThread.getState().navigation.view)
    const grab = async (part: string, dx: number, dy: number) => {
      const box = (await page.getByTestId('timeline').locator(`[data-part="${part}"]`).first().boundingBox())!
      // Its inside is grabbed beside its handles and knots.
      const [px, py] =
        part === 'move'
          ? [box.x + box.width * 0.3, box.y + box.height / 2]
          : part === 'top'
            ? [box.x + box.width * 0.3, box.y + box.height / 2]
            : [box.x + box.width / 2, box.y + box.height * 0.3]
      await page.mouse.move(px, py)
      await page.mouse.down()
      await page.keyboard.down('Shift')
      await page.mouse.move(px + dx, py + dy, { steps: 5 })
      await page.mouse.up()
      await page.keyboard.up('Shift')
    }
    await grab('right', 40, 0)
    const longer = await knots()
    expect(longer[0]).toEqual(made[0])
    expect(Math.abs(longer[3]!.frame - made[3]!.frame - 40 * framesPerPixel)).toBeLessThan(2 * framesPerPixel)
    await grab('move', 0, -9)
    const higher = await knots()
    // All by the same height: 9 of 90 pixels.
    for (const [i, k] of higher.entries()) expect(k.value - longer[i]!.value).toBeCloseTo(0.1, 2)
    await grab('top', 0, 4)
    const scaled = await knots()
    const spread = (all: readonly { value: number }[]) =>
      Math.max(...all.map((k) => k.value)) - Math.min(...all.map((k) => k.value))
    expect(spread(scaled)).not.toBeCloseTo(spread(higher), 3)
    // The arrow keys are about the selected knots, though the clip gain is picked in the Path: up by 1 dB, to
    // the right by the grid, finely by 1 ms.
    await page.getByRole('button', { name: 'Point', exact: true }).click()
    const grid = (frames: number) => frames / (48000 * 0.625)
    await page.keyboard.press('ArrowUp')
    await page.keyboard.press('ArrowRight')
    await page.keyboard.press('Alt+ArrowRight')
    const stepped = await knots()
    // None of them lies on the grid any more: the first comes onto it, and the others along.
    expect(grid(stepped[0]!.frame - 48) % 1).toBe(0)
    for (const [i, k] of stepped.entries()) {
      expect(dB(k.value) - dB(scaled[i]!.value)).toBeCloseTo(1, 6)
      expect(k.frame - scaled[i]!.frame).toBe(stepped[0]!.frame - scaled[0]!.frame)
      expect(k.frame).toBeGreaterThan(scaled[i]!.frame + 48)
    }
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z')
    expect(await knots()).toEqual(scaled)
    await page.getByLabel('To', { exact: true }).fill('40 s')
    await page.keyboard.press('Enter')
    expect((await knots())[3]!.frame).toBe(40 * 48000)

    // Drawn once, in the lanes of both tracks, as far apart as their faders are.
    await page.getByRole('button', { name: 'Lanes of Narrator' }).click()
    await page
      .getByRole('menuitem', { name: 'Close all' })
      .or(page.getByRole('menuitemcheckbox', { name: 'Volume' }))
      .first()
      .click()
    await page.keyboard.press('Escape')
    await page.keyboard.press('Escape')
    await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
    await page
      .getByRole('group', { name: /^pedal/ })
      .first()
      .click({ position: { x: 60, y: 12 }, modifiers: ['Shift'] })
    await bead(page, 'Volume')
    await page.getByRole('button', { name: 'Draw', exact: true }).click()
    await sweep(30, 45, 3 * ROW + 36, 3 * ROW + 54)
    const [drone, bass] = [await knots('concertina'), await knots('bass')]
    const session = await sessionOf(page)
    expect(bass.length).toBeGreaterThanOrEqual(2)
    const [high, low] = [Math.max(...bass.map((k) => k.value)), Math.max(...drone.map((k) => k.value))]
    expect(dB(high) - dB(low)).toBeCloseTo(
      session.tracks.bass!.volumeDb! - session.tracks.concertina!.volumeDb!,
      1,
    )
    await page.keyboard.press('Control+z')
    expect((await sessionOf(page)).tracks.bass!.lanes.volume?.knots ?? []).toHaveLength(0)
  },
)
