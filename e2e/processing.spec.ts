import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { manyTracks, renderedHere } from './many-tracks'
import { firstDifference, openPackage, openProcessedSample, place, sessionOf, throughRing } from './support'

const RATE = 48000

const bench = (page: Page) => page.getByTestId('bench')

async function addInsert(page: Page, strip: string, kind: string) {
  await page.getByRole('button', { name: `Add an insert to ${strip}`, exact: true }).click()
  await page.getByRole('menuitem', { name: new RegExp(`^${kind}`) }).click()
}

/** The level of a tone in a stretch of sound, in dB. */
function toneLevel(sound: Float32Array, hz: number): number {
  let [re, im] = [0, 0]
  for (let i = 0; i < sound.length; i++) {
    const angle = (2 * Math.PI * hz * i) / RATE
    re += sound[i]! * Math.cos(angle)
    im += sound[i]! * Math.sin(angle)
  }
  return 10 * Math.log10((re * re + im * im) / sound.length ** 2)
}

test('the bell of an equaliser is lowered over a stretch, by a plateau in its lane', async ({ page }) => {
  const many = manyTracks(2, 8, 1)
  await openPackage(page, many.bytes)
  await page.getByRole('button', { name: 'Solo Track 2' }).click()
  await page.getByRole('region', { name: 'Track 2', exact: true }).click({ position: { x: 60, y: 4 } })
  await addInsert(page, 'Track 2', 'Equaliser')
  await bench(page).getByRole('button', { name: 'Add a band' }).click()
  const frequency = bench(page).getByRole('textbox', { name: 'Frequency' })
  await frequency.fill('117')
  await frequency.press('Enter')
  await bench(page).getByRole('button', { name: 'Lane of Gain' }).click()
  const lane = page.getByRole('group', { name: /^Equaliser: Band 1 gain lane of Track 2/ })
  await expect(lane).toBeVisible()
  const box = (await lane.boundingBox())!
  const { x } = await place(page)
  await page.keyboard.down('p')
  await page.waitForTimeout(350)
  await page.mouse.move(x(3), box.y + box.height / 2)
  await page.mouse.down()
  await page.mouse.move(x(5), box.y + box.height / 2 + 18, { steps: 6 })
  await page.mouse.up()
  await page.keyboard.up('p')
  const session = await sessionOf(page)
  const key = `insert:${session.tracks.t1!.inserts[0]!.id}:b1.gainDb`
  const { knots } = session.tracks.t1!.lanes[key]!
  expect(knots).toHaveLength(4)
  const lowered = knots[1]!.value
  expect(lowered).toBeLessThan(-2)
  const played = await throughRing(page, 0, 7 * RATE)
  const here = renderedHere(many, session, 0, 7 * RATE)
  // With the places of the knots, so that a difference tells whether it begins with the plateau.
  const frames = knots.map((knot) => knot.frame)
  for (const side of [0, 1] as const)
    expect({ side, frames, first: firstDifference(played[side]!, here[side]!) }).toEqual({
      side,
      frames,
      first: -1,
    })
  // Within the plateau the tone is lower by what the lane says, outside of it as it was.
  const second = (from: number) => played[0]!.subarray(from * RATE, (from + 1) * RATE)
  const middle = Math.round((knots[1]!.frame + knots[2]!.frame) / 2)
  const inside = played[0]!.subarray(middle - RATE / 4, middle + RATE / 4)
  expect(toneLevel(inside, 117) - toneLevel(second(1), 117)).toBeCloseTo(lowered, 0)
  expect(toneLevel(second(6), 117) - toneLevel(second(1), 117)).toBeCloseTo(0, 1)
})

test(
  'a delay on a bus is fed by a send that is ridden while it plays',
  { tag: '@more' },
  async ({ page }) => {
    const many = manyTracks(2, 8, 1)
    await openPackage(page, many.bytes)
    await page.getByRole('button', { name: 'Add a bus' }).click()
    await addInsert(page, 'Bus 1', 'Delay')
    const mix = bench(page).getByRole('textbox', { name: 'Mix', exact: true })
    await mix.fill('100 %')
    await mix.press('Enter')
    await page.getByRole('region', { name: 'Track 2', exact: true }).click({ position: { x: 60, y: 4 } })
    await page.getByRole('button', { name: /^Ways/ }).click()
    const panel = page.getByRole('dialog')
    await panel.getByRole('button', { name: 'Add a send' }).click()
    await page.getByRole('menuitem', { name: 'Bus 1' }).click()
    await panel.getByRole('button', { name: 'Lane of the send to Bus 1' }).click()
    await panel.getByRole('button', { name: 'Close' }).first().click()
    await page.getByRole('button', { name: 'Ride: off' }).click()
    await page.getByText('Touch', { exact: true }).click()
    await page.keyboard.press('Escape')
    // The lane leads once its head is pressed: then the keys ride it.
    const lane = page.getByRole('group', { name: /^Send to Bus 1/ })
    await lane.click({ position: { x: 30, y: 30 } })
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await page.waitForTimeout(1200)
    for (let i = 0; i < 8; i++) {
      await page.keyboard.press('ArrowDown')
      await page.waitForTimeout(60)
    }
    await page.waitForTimeout(900)
    await page.getByRole('button', { name: 'Pause', exact: true }).click()
    const session = await sessionOf(page)
    const [send] = session.tracks.t1!.sends
    const { knots } = session.tracks.t1!.lanes[`send:${send!.id}:level`]!
    expect(knots.length).toBeGreaterThan(2)
    expect(Math.min(...knots.map((k) => k.value))).toBeLessThan(knots[0]!.value - 0.02)
    const played = await throughRing(page, 0, 4 * RATE)
    const here = renderedHere(many, session, 0, 4 * RATE)
    for (const side of [0, 1] as const) expect(firstDifference(played[side]!, here[side]!)).toBe(-1)
  },
)

test(
  'music keyed by the narrator beside music that gives way: both come down, and are compared at equal loudness',
  { tag: '@more' },
  async ({ page }) => {
    await openProcessedSample(page)
    await page.getByRole('region', { name: 'Concertina', exact: true }).click({ position: { x: 60, y: 4 } })
    await addInsert(page, 'Concertina', 'Compressor')
    await bench(page).getByRole('button', { name: 'Presets' }).click()
    await page.getByRole('menuitem', { name: 'Make room for the key' }).click()
    await bench(page).getByRole('combobox', { name: 'Listens to' }).selectOption('Narrator')
    await expect(page.getByText(/It listens to “Narrator”/)).toBeVisible()
    await page.getByRole('button', { name: 'Solo Concertina' }).click()
    // At 26 s the narrator shouts, at 45 s nobody speaks.
    const rms = (x: Float32Array) => 10 * Math.log10(x.reduce((sum, v) => sum + v * v, 0) / x.length)
    const levels = async () => {
      const [speech] = await throughRing(page, 26 * RATE, RATE / 2)
      const [rest] = await throughRing(page, 44.5 * RATE, RATE / 2)
      return [rms(speech!), rms(rest!)] as const
    }
    const keyed = await levels()
    await page.keyboard.press('Shift+B')
    const plain = await levels()
    expect(keyed[0] - plain[0]).toBeLessThan(-3)
    expect(Math.abs(keyed[1] - plain[1])).toBeLessThan(0.5)

    // Giving way does it by the lane: the mill race, while the narrator speaks.
    await page.getByRole('button', { name: 'Solo Concertina' }).click()
    await page.getByRole('region', { name: 'Mill race', exact: true }).click({ position: { x: 60, y: 4 } })
    await page.keyboard.press('g')
    await page.getByRole('group', { name: 'while these sound' }).getByLabel('Narrator').check()
    await expect(page.getByText(/places\. \d+ knots/)).toBeVisible()
    await page
      .getByRole('button', { name: /^(Lower|Give way|Recalculate)/ })
      .last()
      .click()
    expect((await sessionOf(page)).tracks.race!.lanes.volume!.knots.length).toBeGreaterThan(4)

    // Compared: without all inserts, and with them as loud.
    await page.getByRole('button', { name: 'Concertina', exact: true }).click()
    await page
      .getByRole('group', { name: /^Inserts of Concertina/ })
      .getByRole('button', { name: /^Compressor/ })
      .click()
    await page.keyboard.press('Shift+B')
    const compare = page.getByRole('group', { name: 'Compare' })
    await compare.getByRole('combobox').selectOption('everything')
    await compare.getByRole('button', { name: '= loud' }).click()
    await expect(compare.getByRole('status')).toHaveText(/^= loud: [+−]\d/)
  },
)
