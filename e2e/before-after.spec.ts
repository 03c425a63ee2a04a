import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { manyTracks, renderedHere } from './many-tracks'
import {
  drag,
  firstDifference,
  middleOf,
  openPackage,
  openProcessedSample,
  peakOf,
  regionGroup,
  reload,
  sessionOf,
  throughRing,
  whenSaved,
} from './support'

const RATE = 48000
const SECONDS = 4

const insertBead = (page: Page, name: string) =>
  page
    .getByRole('group', { name: /^Inserts of Track 1$/ })
    .getByRole('button', { name: new RegExp(`^${name}`) })

async function addInsert(page: Page, strip: string, kind: string) {
  await page.getByRole('button', { name: `Add an insert to ${strip}`, exact: true }).click()
  await page.getByRole('menuitem', { name: new RegExp(`^${kind}`) }).click()
}

/** How far two sounds are apart, at most. */
function apart(a: readonly Float32Array[], b: readonly Float32Array[]): number {
  let most = 0
  for (const side of [0, 1])
    for (let i = 0; i < b[side]!.length; i++) most = Math.max(most, Math.abs(a[side]![i]! - b[side]![i]!))
  return most
}

test(
  'a phrase recorded too loud: what lowering it does to the compressor, moved to volume, heard without, moved back',
  { tag: '@more' },
  async ({ page }) => {
    await openProcessedSample(page)
    await regionGroup(page, 'wheel pit, take 2').click({ position: { x: 20, y: 20 } })
    const words = page.getByTestId('bench').getByText(/^Turned down/)
    await expect(words).toBeVisible()
    await page.getByLabel('Clip gain', { exact: true }).fill('-8')
    await page.keyboard.press('Enter')
    await expect(words).toHaveText(/compresses [\d.]+ dB less than before the change/)
    await expect(page.getByText(/The de-esser and the compressor after this hear the change/)).toBeVisible()
    const lowered = await sessionOf(page)
    const knotsOf = (s: typeof lowered) => s.tracks.narrator!.lanes.volume?.knots.length ?? 0

    await page.keyboard.press('Shift+G')
    const dialog = page.getByRole('dialog', { name: 'Move gain past the inserts' })
    const found = dialog.getByLabel('What will sound different')
    await expect(found).toBeVisible()
    // Louder into the compressor: it turns down more.
    await expect(found).toHaveText(/Turned down by the inserts\s*\+\d/)
    await dialog.getByRole('button', { name: 'Move', exact: true }).click()
    const moved = await sessionOf(page)
    expect(moved.regions.n2!.clipGainDb).toBe(0)
    expect(knotsOf(moved)).toBe(4)

    // Compared with what it would be without the compressor, as loud.
    await page
      .getByRole('group', { name: /^Inserts of Narrator/ })
      .getByRole('button', { name: /^Compressor/ })
      .click()
    const compare = page.getByRole('group', { name: 'Compare' })
    await compare.getByRole('button', { name: '= loud' }).click()
    await expect(compare.getByRole('status')).toHaveText(/^= loud: [+−]\d/)
    await expect(page.getByRole('button', { name: /with, = loud/ })).toBeVisible()
    await page.keyboard.press('Shift+U')
    await expect(compare.getByRole('button', { name: 'With', exact: true })).toHaveAttribute(
      'aria-pressed',
      'true',
    )

    await page.keyboard.press('Shift+G')
    await dialog.getByRole('button', { name: 'Move back' }).click()
    expect(await sessionOf(page)).toEqual(lowered)
  },
)

test('inserts as beads: added, moved by hand and key, bypassed, heard at, without, and steered by another track', async ({
  page,
}) => {
  const many = manyTracks(3, SECONDS, 1)
  await openPackage(page, many.bytes)
  const frames = RATE
  await addInsert(page, 'Track 1', 'Gain')
  await page.getByTestId('bench').getByRole('textbox', { name: 'Gain', exact: true }).fill('6')
  await page.keyboard.press('Enter')
  await addInsert(page, 'Track 1', 'Compressor')
  await addInsert(page, 'Track 1', 'Equaliser')
  const kinds = async () => (await sessionOf(page)).tracks.t0!.inserts.map((i) => i.kind)
  expect(await kinds()).toEqual(['gain', 'compressor', 'equaliser'])

  // A band where the ground is pressed twice, dragged, and moved by keys.
  const ground = page.getByTitle('Double-click adds a bell here')
  const box = (await ground.boundingBox())!
  await page.mouse.dblclick(box.x + box.width / 2, box.y + box.height / 4)
  const band = page.getByRole('button', { name: /^Band 1, bell/ })
  await drag(page, await middleOf(band), { dx: 60, dy: 20 })
  const bell = async () =>
    (await sessionOf(page)).tracks.t0!.inserts.find((i) => i.kind === 'equaliser')!.values
  const dragged = await bell()
  // From the middle of 20 Hz to 20 kHz, at half of 24 dB, to the right and down.
  expect(dragged['b1.frequencyHz']).toBeGreaterThan(640)
  expect(dragged['b1.gainDb']).toBeLessThan(12)
  await band.focus()
  await page.keyboard.press('ArrowUp')
  expect((await bell())['b1.gainDb']).toBeCloseTo(Number(dragged['b1.gainDb']) + 0.5, 5)

  // Along the thread by hand, back by a key; Delete takes one out, undo brings it back.
  const [first, last] = [
    await middleOf(insertBead(page, 'Gain')),
    await middleOf(insertBead(page, 'Equaliser')),
  ]
  await drag(page, first, { dx: last.x - first.x + 40 })
  expect(await kinds()).toEqual(['compressor', 'equaliser', 'gain'])
  await insertBead(page, 'Gain').click()
  await page.keyboard.press('Shift+ArrowLeft')
  expect(await kinds()).toEqual(['compressor', 'gain', 'equaliser'])
  await page.keyboard.press('Delete')
  expect(await kinds()).toEqual(['compressor', 'equaliser'])
  await page.keyboard.press('Control+z')

  // Heard as it leaves the gain, alone: the first two inserts, no fader, no pan, no other track.
  await insertBead(page, 'Gain').click()
  await page.keyboard.press('Shift+P')
  await expect(page.getByRole('button', { name: /here, alone/ })).toBeVisible()
  const session = await sessionOf(page)
  const track = session.tracks.t0!
  const only = {
    ...session,
    tracks: {
      ...session.tracks,
      t0: {
        ...track,
        inserts: track.inserts.slice(0, 2),
        volumeDb: 20 * Math.log10(Math.SQRT2),
        pan: 0,
        soloed: true,
      },
    },
  }
  const here = await throughRing(page, 0, frames)
  expect(apart(here, renderedHere(many, only, 0, frames))).toBeLessThan(1e-6)
  // What it changes: 6 dB more are as much again.
  await page.getByRole('button', { name: 'change', exact: true }).click()
  const change = await throughRing(page, 0, frames)
  const factor = 1 - 10 ** (-6 / 20)
  expect(
    apart(
      change,
      here.map((side) => side.map((x) => x * factor)),
    ),
  ).toBeLessThan(1e-6)
  await page.getByRole('button', { name: /the difference/ }).click()

  // Without the compressor, as it would be bypassed; and bypassed by the key.
  await insertBead(page, 'Compressor').click()
  await page.getByRole('group', { name: 'Compare' }).getByRole('button', { name: 'Without' }).click()
  const without = await throughRing(page, 0, frames)
  await page.getByRole('button', { name: /without it/ }).click()
  await page.keyboard.press('Shift+B')
  const bypassed = await throughRing(page, 0, frames)
  expect(apart(without, bypassed)).toBe(0)
  expect((await sessionOf(page)).tracks.t0!.inserts[0]!.bypassed).toBe(true)
  await page.keyboard.press('Shift+B')

  // The second track steers it, though it is muted; the ring has the bits of the one renderer.
  const plain = await throughRing(page, 0, frames)
  await page.getByTestId('bench').getByRole('combobox', { name: 'Listens to' }).selectOption('Track 2')
  await page.getByTestId('bench').getByRole('textbox', { name: 'Threshold' }).fill('-50')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Mute Track 2' }).click()
  const keyed = await sessionOf(page)
  expect(keyed.tracks.t0!.inserts[0]).toMatchObject({ kind: 'compressor', key: 't1' })
  const steered = await throughRing(page, 0, frames)
  const expected = renderedHere(many, keyed, 0, frames)
  for (const side of [0, 1] as const) expect(firstDifference(steered[side]!, expected[side]!)).toBe(-1)
  expect(peakOf(steered[0]!)).toBeLessThan(peakOf(plain[0]!))
})

test(
  'a chain is put on a track, kept as a preset, put on the mix after a reload and on another session, and has versions A and B',
  { tag: '@more' },
  async ({ page }) => {
    const many = manyTracks(2, SECONDS, 1)
    await openPackage(page, many.bytes)
    const whole = (name: string | RegExp) => page.getByRole('button', { name }).first().click()
    const chains = async () => {
      await page.getByRole('menuitem', { name: 'Chains' }).click()
    }
    await whole('The inserts of Track 1 as a whole')
    await chains()
    await page.getByRole('menuitem', { name: /^Speech, ready/ }).click()
    expect((await sessionOf(page)).tracks.t0!.inserts.map((i) => i.kind)).toEqual([
      'equaliser',
      'de-esser',
      'compressor',
    ])
    await insertBead(page, 'Compressor').click()
    await page.getByTestId('bench').getByRole('textbox', { name: 'Threshold' }).fill('-31')
    await page.keyboard.press('Enter')
    await whole('The inserts of Track 1 as a whole')
    await chains()
    await page.getByRole('menuitem', { name: 'Save this chain…' }).click()
    await page.getByRole('textbox', { name: 'Name' }).fill('Mill voice')
    await page.getByRole('button', { name: 'Save', exact: true }).click()

    // B begins as a copy of A; what is changed in it is left when A comes back, to the bit.
    const a = await throughRing(page, 0, RATE)
    await page.keyboard.press('Shift+N')
    await insertBead(page, 'Compressor').click()
    await page.keyboard.press('Delete')
    await insertBead(page, 'De-esser').click()
    await page.keyboard.press('Delete')
    const b = await throughRing(page, 0, RATE)
    expect(apart(a, b)).toBeGreaterThan(0.001)
    await page.keyboard.press('Shift+N')
    expect(apart(await throughRing(page, 0, RATE), a)).toBe(0)

    await whenSaved(page)
    await reload(page)
    await expect(page.getByTestId('timeline')).toBeVisible()
    await whole(/^The inserts of the mix, before its fader as a whole$/)
    await chains()
    await page
      .getByRole('menuitem', { name: /^Mill voice/ })
      .first()
      .click()
    const session = await sessionOf(page)
    expect(session.mix.inserts.map((i) => i.kind)).toEqual(['equaliser', 'de-esser', 'compressor'])
    expect(session.mix.inserts[2]!.values.thresholdDb).toBe(-31)
    expect(session.tracks.t0!.chainB!.inserts.map((i) => i.kind)).toEqual(['equaliser'])
    const played = await throughRing(page, 0, RATE)
    const here = renderedHere(many, session, 0, RATE)
    for (const side of [0, 1] as const) expect(firstDifference(played[side]!, here[side]!)).toBe(-1)

    // In another session, too.
    await whenSaved(page)
    await page.goto('/?test')
    await page.getByRole('button', { name: 'New session' }).click()
    await page.getByRole('button', { name: 'Make it' }).click()
    await page.waitForURL(/session\//)
    await page.goto(`${page.url()}?test`)
    await page.getByRole('button', { name: 'Add an empty track' }).click()
    await whole(/^The inserts of .*rack.* as a whole$/)
    await chains()
    await page
      .getByRole('menuitem', { name: /^Mill voice/ })
      .first()
      .click()
    const other = await sessionOf(page)
    expect(other.tracks[other.trackIds[0]!]!.inserts.map((i) => [i.kind, i.values])).toEqual(
      session.mix.inserts.map((i) => [i.kind, i.values]),
    )
  },
)
