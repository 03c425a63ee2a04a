import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { manyTracks, renderedHere } from './many-tracks'
import { exported, firstDifference, openPackage, peakOf, scrollRows, sessionOf, throughRing } from './support'

const RATE = 48000
const SECONDS = 4

/** Opens the panel of a strip by its head's menu. */
async function openStrip(page: Page, name: string) {
  await scrollRows(page, name.startsWith('Track') ? -3000 : 3000)
  await page.getByRole('button', { name: `What to do with ${name}` }).click()
  await page.getByRole('menuitem', { name: 'Inserts and ways…' }).click()
  return page.getByRole('dialog', { name: `Inserts and ways of “${name}”` })
}

async function addInsert(page: Page, kind: string, at = 0) {
  await page.getByRole('button', { name: 'Add an insert', exact: true }).nth(at).click()
  await page.getByRole('menuitem', { name: new RegExp(`^${kind}`) }).click()
}

async function type(page: Page, card: string, field: string, text: string) {
  const box = page
    .getByRole('listitem', { name: card, exact: true })
    .getByRole('textbox', { name: field, exact: true })
  await box.fill(text)
  await box.press('Enter')
}

test(
  'a delay that tracks share by a bus, and a ceiling on the mix: played and exported as one renderer has it',
  { tag: '@more' },
  async ({ page }) => {
    const many = manyTracks(4, SECONDS, 1)
    await openPackage(page, many.bytes)

    await page.getByRole('button', { name: 'Add a bus' }).click()
    await expect(page.getByRole('region', { name: 'Bus 1' })).toBeVisible()
    await page.keyboard.press('F2')
    await page.getByRole('textbox', { name: 'Name', exact: true }).fill('mill room')
    await page.getByRole('button', { name: 'Rename' }).click()

    let panel = await openStrip(page, 'mill room')
    await addInsert(page, 'Delay')
    await type(page, 'Delay', 'Time', '0.12 s')
    await type(page, 'Delay', 'Feedback', '120')
    await expect(page.getByText(/is out of range/).first()).toBeVisible()
    await type(page, 'Delay', 'Feedback', '40')
    await type(page, 'Delay', 'Mix', '100 %')
    await panel.getByRole('checkbox', { name: 'Side to side' }).check()
    await panel.getByRole('button', { name: 'Close' }).first().click()

    // One track sends to it, before the fader; one goes through it.
    panel = await openStrip(page, 'Track 1')
    await panel.getByRole('button', { name: 'Add a send' }).click()
    await page.getByRole('menuitem', { name: 'mill room' }).click()
    await panel.getByRole('textbox', { name: 'Level' }).fill('-6')
    await page.keyboard.press('Enter')
    await panel.getByRole('button', { name: 'Before' }).click()
    await panel.getByRole('button', { name: 'Close' }).first().click()
    panel = await openStrip(page, 'Track 2')
    await panel.getByRole('combobox', { name: 'Output of Track 2' }).selectOption('mill room')
    await panel.getByRole('button', { name: 'Close' }).first().click()

    await page
      .getByRole('button', { name: /^The inserts of the mix.* as a whole$/ })
      .first()
      .click()
    await page.getByRole('menuitem', { name: 'Show inserts, output and sends…' }).click()
    await addInsert(page, 'Ceiling', 1)
    await type(page, 'Ceiling', 'Level', '-6')
    // Its lane is opened below the mix, and can be shaped there.
    const card = page.getByRole('listitem', { name: 'Ceiling', exact: true })
    await card.getByRole('button', { name: 'Lane of Level' }).click()
    await expect(page.getByTestId(/^mix-insert:.*-lane$/)).toBeVisible()
    await card.getByRole('button', { name: 'Lane of Level' }).click()
    await page.keyboard.press('Escape')

    const session = await sessionOf(page)
    const busId = session.busIds[0]!
    expect(session.buses[busId]).toMatchObject({
      name: 'mill room',
      inserts: [{ kind: 'delay', values: { timeMs: 120, feedback: 0.4, mix: 1, pingPong: true } }],
    })
    expect(session.tracks.t0!.sends).toMatchObject([{ to: busId, levelDb: -6, point: 'pre' }])
    expect(session.tracks.t1!.output).toBe(busId)

    // From 0 the ring has the bits of the one renderer, and so has the file.
    const frames = SECONDS * RATE
    const here = renderedHere(many, session, 0, frames)
    const played = await throughRing(page, 0, frames)
    for (const side of [0, 1] as const) expect(firstDifference(played[side]!, here[side]!)).toBe(-1)
    expect(peakOf(here[0]!)).toBeLessThan(10 ** (-5.9 / 20))
    expect(peakOf(here[0]!)).toBeGreaterThan(10 ** (-6.5 / 20))
    // From elsewhere what was before is in it.
    const later = await throughRing(page, 2 * RATE + 777, RATE)
    let off = 0
    for (const side of [0, 1] as const)
      for (let i = 0; i < RATE; i++)
        off = Math.max(off, Math.abs(later[side]![i]! - here[side]![2 * RATE + 777 + i]!))
    expect(off).toBeLessThan(1e-6)

    // Soloed, of the bus all that feeds it is heard on its way there, and nothing else.
    await scrollRows(page, 3000)
    await page.getByRole('button', { name: 'Solo mill room' }).click()
    const soloed = await throughRing(page, 0, RATE)
    const alone = renderedHere(many, await sessionOf(page), 0, RATE)
    expect(firstDifference(soloed[0]!, alone[0]!)).toBe(-1)
    expect(peakOf(soloed[0]!.subarray(0, 5759))).toBe(0)
    expect(peakOf(soloed[0]!)).toBeGreaterThan(0.01)
    await page.keyboard.press('Control+z')

    const file = await exported(page, 'WAV, 32-bit float')
    // What sounds on is in the file, to the last sample of -100 dBFS.
    expect(file.channels[0]!.length).toBeGreaterThan(frames + RATE / 2)
    expect(Math.max(...file.channels.map((side) => Math.abs(side.at(-1)!)))).toBeGreaterThanOrEqual(1e-5)
    expect(firstDifference(file.channels[0]!.subarray(0, frames), here[0]!)).toBe(-1)
    expect(peakOf(file.channels[0]!.subarray(-200))).toBeLessThan(1e-4)

    // Removing the bus: what went through it goes to the mix, the send is gone, and one step brings it back.
    await page.getByRole('link', { name: 'Back to the session' }).click()
    await scrollRows(page, 3000)
    await page.getByRole('button', { name: 'What to do with mill room' }).click()
    await page.getByRole('menuitem', { name: 'Remove the bus' }).click()
    const without = await sessionOf(page)
    expect([without.busIds, without.tracks.t1!.output, without.tracks.t0!.sends]).toEqual([[], 'mix', []])
    await page.getByRole('button', { name: 'Undo', exact: true }).first().click()
    expect((await sessionOf(page)).buses).toEqual(session.buses)
  },
)

test(
  'what is changed while it plays is heard without a gap, and lanes of inserts move what they are of',
  { tag: '@more' },
  async ({ page }) => {
    const many = manyTracks(3, 8, 1)
    await openPackage(page, many.bytes)
    const panel = await openStrip(page, 'Track 2')
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await addInsert(page, 'Delay')
    await type(page, 'Delay', 'Time', '80')
    await addInsert(page, 'Ceiling')
    await panel.getByRole('listitem', { name: 'Delay' }).getByRole('checkbox', { name: 'acts' }).uncheck()
    await panel.getByRole('listitem', { name: 'Delay' }).getByRole('checkbox', { name: 'acts' }).check()
    await panel.getByRole('button', { name: 'Lane of Mix' }).click()
    await panel.getByRole('button', { name: 'Close' }).first().click()
    await expect
      .poll(() => page.evaluate(() => window.oakenThread.getPlayer().position()))
      .toBeGreaterThan(RATE)
    expect(await page.evaluate(() => window.oakenThread.getPlayer().underruns)).toBe(0)
    await page.getByRole('button', { name: 'Pause' }).click()

    // A knot in the lane of the mix of the delay: from there on it is drier.
    const lane = page.getByRole('group', { name: 'Delay: Mix lane of Track 2' })
    await expect(lane).toBeVisible()
    const area = (await page.getByTestId('timeline').boundingBox())!
    const head = (await lane.boundingBox())!
    await page.mouse.dblclick(area.x + 200, head.y + 14)
    await expect
      .poll(async () => Object.values((await sessionOf(page)).tracks.t1!.lanes).map((l) => l.knots.length))
      .toEqual([1])
    const session = await sessionOf(page)
    const here = renderedHere(many, session, 0, 4 * RATE)
    const played = await throughRing(page, 0, 4 * RATE)
    for (const side of [0, 1] as const) expect(firstDifference(played[side]!, here[side]!)).toBe(-1)
    const { lanes: _, ...plain } = session.tracks.t1!
    const still = { ...session, tracks: { ...session.tracks, t1: { ...plain, lanes: {} } } }
    expect(firstDifference(renderedHere(many, still, 0, 4 * RATE)[0]!, here[0]!)).toBeGreaterThan(-1)
  },
)

test('an equaliser band and a compressor are set by typing, copied to another track, and heard as they say', async ({
  page,
}) => {
  const many = manyTracks(2, SECONDS, 1)
  await openPackage(page, many.bytes)
  const frames = 2 * RATE
  /** The level of the second track's tone of 117 Hz, alone, over a second in which it is steady. */
  const level = async () => {
    const [left] = await throughRing(page, 0, frames)
    let [re, im] = [0, 0]
    for (let i = RATE; i < frames; i++) {
      const angle = (2 * Math.PI * 117 * i) / RATE
      re += left![i]! * Math.cos(angle)
      im += left![i]! * Math.sin(angle)
    }
    return 10 * Math.log10(re * re + im * im)
  }
  await page.getByRole('button', { name: 'Solo Track 2' }).click()
  const before = await level()
  const panel = await openStrip(page, 'Track 2')
  await addInsert(page, 'Equaliser')
  await panel.getByRole('button', { name: 'Add a band' }).click()
  await type(page, 'Equaliser', 'Frequency', '117')
  await type(page, 'Equaliser', 'Gain', '-12')
  await type(page, 'Equaliser', 'Q', '1')
  expect((await level()) - before).toBeCloseTo(-12, 1)
  await panel.getByLabel('Kind').selectOption('High cut')
  await panel.getByLabel('Slope').selectOption('24 dB/octave')
  await type(page, 'Equaliser', 'Frequency', '58.5')
  // An octave above a cut of the fourth order: -10·log10(1 + 2⁸) = -24.1 dB.
  expect((await level()) - before).toBeCloseTo(-24.1, 1)
  const values = (await sessionOf(page)).tracks.t1!.inserts[0]!.values
  expect(values).toMatchObject({ 'b1.on': true, 'b1.kind': 'high-cut', 'b1.slope': 24 })

  await addInsert(page, 'Compressor')
  await panel.getByRole('button', { name: 'Copy the compressor' }).click()
  await page.getByRole('menuitem', { name: 'Track 1' }).last().click()
  const session = await sessionOf(page)
  expect(session.tracks.t0!.inserts.map((i) => i.kind)).toEqual(['equaliser', 'compressor'])
  const here = renderedHere(many, session, 0, frames)
  const played = await throughRing(page, 0, frames)
  for (const side of [0, 1] as const) expect(firstDifference(played[side]!, here[side]!)).toBe(-1)
  await panel.getByRole('button', { name: 'Close' }).first().click()
  await page.keyboard.press('Control+z')
  expect((await sessionOf(page)).tracks.t0!.inserts).toEqual([])
})
