import { expect, type Page } from '@playwright/test'
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

const undoLabels = (page: Page) =>
  page.evaluate(() => window.oakenThread.getState().session.steps.map((s) => s.label))

test('by keyboard alone: a join is crossfaded, its law and length changed; the level law is measured and heard', async ({
  page,
}) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Solo Concertina' }).click()
  await page.getByRole('button', { name: 'Join of drone in D and drone in G' }).focus()
  await page.keyboard.press('Enter')
  const made = Object.values((await sessionOf(page)).crossfades)[0]!
  expect(made).toMatchObject({ leftId: 'c1', rightId: 'c2', law: 'equal-power' })
  const length = async () => {
    const { regions } = await sessionOf(page)
    return regions.c1!.start + regions.c1!.length - regions.c2!.start
  }
  expect(await length()).toBe(1440)
  const handle = page.getByRole('button', {
    name: /^Crossfade of drone in D into drone in G, 30 ms, equal power/,
  })
  await handle.focus()
  await page.keyboard.press('ArrowRight')
  expect(await length()).toBe(1920)
  await page.getByLabel('Length', { exact: true }).fill('9 s')
  await page.keyboard.press('Enter')
  // Each side has only so much hidden sound: it is said, and nothing changes.
  await expect(page.getByRole('alert')).toContainText('to 2.2 s')
  await page.getByLabel('Length', { exact: true }).fill('1.4 s')
  await page.keyboard.press('Enter')
  expect(await length()).toBe(67200)
  const law = page.getByRole('radio', { name: /^Level/ })
  await expect(law).toContainText('0.0 dB')
  await expect(page.getByRole('radio', { name: /^Equal gain/ })).toContainText(/dips \d\.\d dB/)
  // In the middle the level law divides by √(1 + ρ), with the ρ that is shown and that the renderer measures
  // by itself.
  const { regions } = await sessionOf(page)
  const middle = async () => (await throughRing(page, regions.c2!.start + 33600 - 8, 17))[0]!
  const equalPower = await middle()
  await law.focus()
  await page.keyboard.press('Space')
  await expect(law).toBeChecked()
  const level = await middle()
  const rho = Number(
    (await page.locator('p', { hasText: 'Correlation' }).first().innerText())
      .replace(/[^−\d.]/g, '')
      .replace('−', '-'),
  )
  expect(Math.abs(rho)).toBeLessThan(0.5)
  expect(level[8]! / equalPower[8]!).toBeCloseTo(1 / Math.sqrt(1 + rho), 2)
  await page.getByRole('button', { name: 'Remove the crossfade' }).click()
  expect(await length()).toBe(0)
  for (let i = 0; i < 6; i++) await page.keyboard.press('Control+z')
  expect(Object.keys((await sessionOf(page)).crossfades)).toHaveLength(0)
})

test(
  'seams: the list names what clicks; all are mended as one step, none clicks any more, and it is taken back',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const before = await sessionOf(page)
    await page.getByRole('button', { name: /^Seams/ }).click()
    const dialog = page.getByRole('dialog', { name: 'Seams' })
    await expect(dialog.getByRole('status')).toHaveText('9 of 57 seams click.')
    const first = dialog.getByRole('option').first()
    await expect(first).toContainText(/0:30\.815.*Narrator.*join.*crossfade 1 ms.*clicks/)
    await first.click()
    // With the cure it is heard, but not yet a step.
    await dialog.getByLabel('with its cure').check()
    expect(Object.keys((await sessionOf(page)).crossfades)).toHaveLength(1)
    expect(await undoLabels(page)).toEqual([])
    await dialog.getByLabel('with its cure').uncheck()
    expect(await sessionOf(page)).toEqual(before)
    await dialog.getByRole('button', { name: 'Mend all 9' }).click()
    await expect(dialog.getByRole('status')).toHaveText(/^0 of 5\d seams click\.$/)
    expect(await undoLabels(page)).toEqual(['Mend 9 seams'])
    await dialog.getByRole('button', { name: 'Close' }).click()
    await page.keyboard.press('Control+z')
    expect(await sessionOf(page)).toEqual(before)
  },
)

test('fades by hand: a curve is bent by its body, starts from a level, becomes a tape stop; the handle past the edge makes a crossfade', async ({
  page,
}) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Solo Mill race' }).click()
  const race = page.getByRole('group', { name: /^mill race/ }).first()
  await race.click({ position: { x: 120, y: 40 } })
  await page.keyboard.press('z')
  const bend = await middleOf(page.getByRole('slider', { name: 'Bend of the fade in of mill race' }).first())
  await page.mouse.move(bend.x, bend.y)
  await page.mouse.down()
  await page.mouse.move(bend.x, bend.y + 20, { steps: 4 })
  await page.mouse.up()
  const fade = async () => (await sessionOf(page)).regions.m1!.fadeIn!
  expect((await fade()).bend).toBeGreaterThan(0.4)
  await page
    .getByRole('button', { name: /^Fades/ })
    .first()
    .click()
  await page.getByLabel('Start level').fill('140 %')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('0 % to 100 %')
  await page.getByLabel('Start level').fill('20 %')
  await page.keyboard.press('Enter')
  expect((await fade()).level).toBe(0.2)
  await page.getByRole('button', { name: 'Exponential (slow start)' }).first().click()
  expect((await fade()).curve).toBe('exponential')
  const [left] = await throughRing(page, 0, 4800)
  expect(peakOf(left!)).toBeGreaterThan(0.001)

  // Past the edge of a region that touches the next one, the handle makes a crossfade twice as long.
  await page.keyboard.press('Escape')
  await page.keyboard.press('h')
  await page.mouse.move(700, 300)
  const second = page.getByRole('group', { name: /^mill race/ }).nth(1)
  await second.hover({ position: { x: 100, y: 40 } })
  const handle = await middleOf(second.getByRole('slider', { name: 'Fade in of mill race' }))
  await page.mouse.move(handle.x, handle.y)
  await page.mouse.down()
  await page.mouse.move(handle.x - 25, handle.y, { steps: 4 })
  await page.mouse.up()
  // The recording has no more sound before its start, so the crossfade is made of what the first one has
  // beyond its end: none. Nothing is invented.
  const session = await sessionOf(page)
  expect(session.regions.m2!.fadeIn).toBeNull()
  expect(Object.keys(session.crossfades)).toHaveLength(0)

  // The last bell slows down like a stopping tape.
  const area = (await page.getByTestId('timeline').boundingBox())!
  await page.mouse.move(area.x + 300, area.y + 200)
  await page.mouse.wheel(0, 700)
  await page.getByRole('button', { name: 'Solo Bells' }).click()
  await page.mouse.wheel(0, -700)
  await page.getByRole('button', { name: 'Solo Mill race' }).click()
  await page.mouse.wheel(0, 700)
  await regionGroup(page, 'stroke 4').click({ position: { x: 25, y: 20 } })
  await page.getByLabel('Fade out', { exact: true }).fill('2 s')
  await page.keyboard.press('Enter')
  const plain = await throughRing(page, 88 * 48000, 2 * 48000)
  await page.getByRole('button', { name: 'Tape stop' }).click()
  expect((await sessionOf(page)).regions.k4!.fadeOut).toMatchObject({ kind: 'tape', length: 96000, k: 1 })
  const taped = await throughRing(page, 88 * 48000, 2 * 48000)
  const crossings = (x: Float32Array, from: number, to: number) => {
    let n = 0
    for (let i = from + 1; i < to; i++) if (x[i - 1]! < 0 !== x[i]! < 0) n++
    return n
  }
  // Half way the pitch is half; the sound goes on where a plain fade has gone quiet.
  expect(crossings(taped[0]!, 43000, 53000) / crossings(plain[0]!, 43000, 53000)).toBeLessThan(0.75)
  expect(peakOf(taped[0]!.subarray(80000, 90000))).toBeGreaterThan(peakOf(plain[0]!.subarray(80000, 90000)))
  const live = await playedLive(page, 88.5, 0.2)
  expect(peakOf(live.channels[0]!)).toBeGreaterThan(0.001)
})

test(
  'crossfades by hand: across a join, by moving over a neighbour, by a fade handle; then one side alone, and slid',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const read = async () => {
      const session = await sessionOf(page)
      const [left, right] = [session.regions.c1!, session.regions.c2!]
      return {
        fades: Object.values(session.crossfades),
        start: right.start,
        end: left.start + left.length,
        framesPerPixel: await page.evaluate(
          () => window.oakenThread.getState().navigation.view.framesPerPixel,
        ),
      }
    }
    // Shift, pressed on the way, keeps it off the grid.
    const dragOffGrid = async ({ x, y }: { x: number; y: number }, dx: number) => {
      await page.mouse.move(x, y)
      await page.mouse.down()
      await page.keyboard.down('Shift')
      await page.mouse.move(x + dx, y, { steps: 4 })
      await page.mouse.up()
      await page.keyboard.up('Shift')
    }
    const before = await read()
    expect(before.end).toBe(before.start)
    const about = (frames: number, pixels: number) =>
      expect(Math.abs(frames - pixels * before.framesPerPixel)).toBeLessThan(1.5 * before.framesPerPixel)

    // Across the join: the sound hidden beyond both cuts comes out, half on either side.
    const join = await middleOf(page.getByRole('button', { name: 'Join of drone in D and drone in G' }))
    await drag(page, join, { dx: 6 })
    const across = await read()
    expect(across.fades).toHaveLength(1)
    about(across.end - across.start, 12)
    about(before.start - across.start, 6)
    await page.keyboard.press('Control+z')
    expect(await read()).toMatchObject({ fades: [], start: before.start, end: before.end })

    // By moving the second over the first.
    const second = await page.getByRole('group', { name: /^drone in G/ }).boundingBox()
    await dragOffGrid({ x: second!.x + 60, y: second!.y + 30 }, -8)
    const moved = await read()
    expect(moved.fades).toHaveLength(1)
    about(moved.end - moved.start, 8)
    await page.keyboard.press('Control+z')

    // By the fade handle past the edge: twice as long as it is past.
    await page.mouse.move(second!.x + 60, second!.y + 30)
    await drag(page, await middleOf(page.getByRole('slider', { name: 'Fade in of drone in G' })), { dx: -6 })
    const faded = await read()
    expect(faded.fades).toHaveLength(1)
    about(faded.end - faded.start, 12)

    // One side alone by its edge, then the whole slid.
    const end = (await page.getByRole('slider', { name: 'End of drone in D' }).boundingBox())!
    await dragOffGrid({ x: end.x + end.width / 2, y: end.y + 4 }, 3)
    const longer = await read()
    expect(longer.start).toBe(faded.start)
    about(longer.end - faded.end, 3)
    await drag(page, await middleOf(page.getByRole('button', { name: /^Crossfade of drone in D/ })), {
      dx: 4,
    })
    const slid = await read()
    about(slid.start - longer.start, 4)
    expect(slid.end - slid.start).toBe(longer.end - longer.start)

    // It is heard: equal power over the overlap, and not a step anywhere in it.
    await page.getByRole('button', { name: 'Solo Concertina' }).click()
    const [sound] = await throughRing(page, slid.start - 2400, slid.end - slid.start + 4800)
    const steps = sound!.slice(1).map((v, i) => Math.abs(v - sound![i]!))
    expect(peakOf(steps)).toBeLessThan(peakOf(sound!) * 0.5)
    expect((await sessionOf(page)).crossfades[slid.fades[0]!.id]!.law).toBe('equal-power')
  },
)

test(
  'many fades at once, crossfades at joins, and the offer when one half of a split changes its gain',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await regionGroup(page, 'wheel pit, take 2').click({ position: { x: 30, y: 20 } })
    await page.evaluate(() => window.oakenThread.getPlayer().seek(25 * 48000))
    await page.keyboard.press('k')
    await page
      .getByRole('group', { name: /^wheel pit, take 2/ })
      .last()
      .click({ position: { x: 20, y: 20 } })
    await page.getByLabel('Clip gain', { exact: true }).fill('-6')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'Crossfade 10 ms' }).click()
    const crossed = await sessionOf(page)
    expect(Object.values(crossed.crossfades)).toMatchObject([
      { leftId: 'n2', rightId: 'n2~1', law: 'equal-gain' },
    ])
    expect(crossed.regions.n2!.start + crossed.regions.n2!.length - crossed.regions['n2~1']!.start).toBe(480)

    await page.keyboard.press('Escape')
    await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
    await regionGroup(page, 'drone in G').click({ position: { x: 60, y: 30 }, modifiers: ['Shift'] })
    await page.keyboard.press('Shift+F')
    const dialog = page.getByRole('dialog', { name: 'Fades' })
    await dialog.getByLabel('Length', { exact: true }).fill('250 ms')
    await page.keyboard.press('Enter')
    await dialog.getByRole('button', { name: 'S-curve' }).click()
    await dialog.getByRole('button', { name: 'Make fades' }).click()
    const faded = await sessionOf(page)
    for (const id of ['c1', 'c2'])
      for (const key of ['fadeIn', 'fadeOut'] as const)
        expect(faded.regions[id]![key]).toMatchObject({ length: 12000, curve: 's-curve' })
    expect((await undoLabels(page)).at(-1)).toBe('Fades in and out of 2 regions')
    await page.keyboard.press('Control+z')
    await page.keyboard.press('Shift+C')
    const cross = page.getByRole('dialog', { name: 'Crossfades' })
    await cross.getByLabel('Length').fill('3 s')
    await page.keyboard.press('Enter')
    await expect(cross.getByRole('alert')).toContainText('1.5 s left and 700 ms right')
    await cross.getByRole('button', { name: 'Make 1 crossfade' }).click()
    const { regions } = await sessionOf(page)
    expect(regions.c1!.start + regions.c1!.length - regions.c2!.start).toBe(105_600)

    // Moved away, each side keeps the fade that the crossfade was.
    await regionGroup(page, 'drone in G').click({ position: { x: 100, y: 30 } })
    await page.keyboard.press('Alt+ArrowRight')
    const at = await middleOf(regionGroup(page, 'drone in G'))
    await page.mouse.move(at.x, at.y - 15)
    await page.mouse.down()
    await page.mouse.move(at.x + 60, at.y - 15, { steps: 4 })
    await page.mouse.up()
    const away = await sessionOf(page)
    expect(Object.values(away.crossfades).filter((x) => x.leftId === 'c1')).toHaveLength(0)
    expect(away.regions.c1!.fadeOut!.length).toBeGreaterThan(100000)
    expect(away.regions.c2!.fadeIn!.length).toBeGreaterThan(100000)
  },
)
