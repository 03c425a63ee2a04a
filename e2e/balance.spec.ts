import { expect } from '@playwright/test'
import { test } from './fixtures'
import { bead, drag, middleOf, openSample, sessionOf, steady, throughRing } from './support'

test('music gives way to gulls and gates; the knots can be made anew and let go', async ({ page }) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Solo Mill race' }).click()
  // The gate opens at 42.5 s.
  const rms = (x: Float32Array, from: number, to: number) =>
    10 * Math.log10(x.subarray(from, to).reduce((sum, v) => sum + v * v, 0))
  const before = await throughRing(page, 40 * 48000, 8 * 48000)
  await page
    .getByRole('group', { name: /^mill race/ })
    .first()
    .click({ position: { x: 100, y: 40 } })
  await bead(page, 'Volume')
  await page.keyboard.press('g')
  const dialog = page.getByRole('dialog', { name: 'Give way' })
  await dialog.getByRole('group', { name: 'while these sound' }).getByLabel('Gulls and gates').check()
  await expect(dialog.getByRole('status')).toContainText(/\d places\. \d+ knots a lane/)
  await dialog.getByLabel('Depth').fill('lots')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('from 0.0 dB to −60.0 dB')
  // The corners of the picture do the same as the fields, and what is proposed is seen and heard while one is
  // dragged; Escape gives it up.
  const corner = dialog.getByRole('slider', { name: 'Corner where it begins to come back' })
  const { x, y } = (await corner.boundingBox())!
  const proposed = () =>
    page.evaluate(() => window.oakenThread.getState().session.session!.tracks.race!.lanes.volume!.knots)
  const first = await proposed()
  const dragCorner = async () => {
    await page.mouse.move(x + 5, y + 5)
    await page.mouse.down()
    await page.mouse.move(x + 35, y + 21, { steps: 4 })
    await expect(dialog.getByLabel('Depth')).toHaveValue('−19.0 dB')
    await expect(dialog.getByLabel('Stays down after them')).not.toHaveValue('250 ms')
  }
  await dragCorner()
  await expect.poll(proposed).not.toEqual(first)
  await page.keyboard.press('Escape')
  await page.mouse.up()
  await expect(dialog.getByLabel('Depth')).toHaveValue('−9.0 dB')
  await expect.poll(proposed).toEqual(first)
  await dragCorner()
  await page.mouse.up()
  await corner.press('Alt+ArrowUp')
  await expect(dialog.getByLabel('Depth')).toHaveValue('−18.9 dB')
  await dialog.getByLabel('Depth').fill('-12')
  await page.keyboard.press('Enter')
  await dialog.getByLabel('Stays down after them').fill('250')
  await page.keyboard.press('Enter')
  await dialog.getByRole('button', { name: 'Give way', exact: true }).click()
  const after = await throughRing(page, 40 * 48000, 8 * 48000)
  const change = (seconds: number) =>
    rms(after[0]!, seconds * 48000, (seconds + 0.1) * 48000) -
    rms(before[0]!, seconds * 48000, (seconds + 0.1) * 48000)
  expect(change(2.5)).toBeCloseTo(-12, 1)
  expect(change(2.4)).toBeLessThan(-10)
  expect(change(1)).toBeCloseTo(0, 3)
  const made = (await sessionOf(page)).tracks.race!.lanes.volume!
  expect(made.giveWay!.others).toEqual(['effects'])
  // Made anew with the same settings nothing changes; let go, the knots stay.
  await page.keyboard.press('g')
  await expect(dialog.getByRole('status')).toContainText('places')
  await dialog.getByRole('button', { name: 'Recalculate' }).click()
  expect((await sessionOf(page)).tracks.race!.lanes.volume!.knots).toEqual(made.knots)
  await page.keyboard.press('g')
  await dialog.getByRole('button', { name: 'Detach' }).click()
  expect((await sessionOf(page)).tracks.race!.lanes.volume).toEqual({
    knots: made.knots,
    bypassed: false,
    visible: true,
  })
})

test('where the mix would pass full scale a flag says so, goes there, and lowers just that stretch', async ({
  page,
}) => {
  await openSample(page)
  await page.getByRole('button', { name: /^Mix all tracks/ }).click()
  await page.getByRole('textbox', { name: 'Volume of the mix' }).fill('2.5')
  await page.keyboard.press('Enter')
  const flag = page.getByRole('button', { name: /^The mix overloads at/ }).first()
  await expect(flag).toBeVisible()
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
  await expect(
    page.getByRole('button', { name: /^Undo: Lower an overload in volume of the mix/ }),
  ).toBeVisible()
  const { mix } = await sessionOf(page)
  expect(mix.lanes.volume!.knots).toHaveLength(4)
  await expect(
    page.getByTestId('mix-lane').getByRole('slider', { name: /^Knot \d of volume of the mix/ }),
  ).toHaveCount(4)
})

test(
  'the flag of a fader that was just pulled up is there within a second',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const flags = page.getByRole('button', { name: /^Narrator overloads at/ })
    await page.waitForTimeout(2500)
    expect(await flags.count()).toBe(0)
    const fader = await middleOf(page.getByRole('slider', { name: 'Fader of Narrator' }).last())
    const times: number[] = []
    for (let i = 0; i < 3; i++) {
      await steady(page)
      await drag(page, fader, { dx: 90 })
      const ms = await page.evaluate(
        (begun) =>
          new Promise<number>((resolve) => {
            const look = () =>
              document.querySelector('[aria-label^="Narrator overloads at"]')
                ? resolve(Date.now() - begun)
                : setTimeout(look, 10)
            look()
          }),
        Date.now(),
      )
      times.push(ms)
      await page.keyboard.press('Control+z')
      await expect(flags).toHaveCount(0)
    }
    console.log(`the flag of a loud fader came after ${times.join(', ')} ms`)
    // A second, and half of one for a machine that has other things to do.
    expect(Math.min(...times)).toBeLessThan(1500)
  },
)
