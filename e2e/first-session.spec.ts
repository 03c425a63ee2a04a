import { expect, type Page } from '@playwright/test'
import { exactWav } from '../src/formats/package'
import { test } from './fixtures'
import {
  drag,
  exported,
  firstDifference,
  middleOf,
  openSample,
  peakOf,
  regionGroup,
  ROW,
  sessionOf,
  throughRing,
} from './support'

const rate = 48_000
/** Three seconds of a tone of its own for each file, with a click at its start so that shifts are seen. */
const tone = (k: number) =>
  Float32Array.from({ length: 3 * rate }, (_, n) =>
    n < 10 ? 0.4 : Math.round(0.1 * 32_768 * Math.sin(((k + 2) * 100 * 2 * Math.PI * n) / rate)) / 32_768,
  )
const head = (page: Page, name: string) =>
  page.getByRole('complementary', { name: 'Tracks' }).getByRole('region', { name, exact: true })
const menu = async (page: Page, name: string, item: string | RegExp) => {
  await page.getByRole('button', { name: `What to do with ${name}`, exact: true }).click()
  await page.getByRole('menuitem', { name: item }).click()
}
const command = async (page: Page, words: string) => {
  await page.keyboard.press('Control+k')
  await page.keyboard.type(words)
  await page.keyboard.press('Enter')
  // It runs once the search is gone.
  await expect(page.getByRole('dialog', { name: 'Find a command' })).toHaveCount(0)
  await page.evaluate(
    () => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))),
  )
}
const changed = (page: Page) => page.getByRole('status', { name: 'What changed' })

test('five own files become a session from nothing: tracks made, moved, coloured, grouped and laid out', async ({
  page,
}) => {
  await page.goto('/?test')
  await page.getByRole('button', { name: 'New session' }).click()
  await page.keyboard.press('Enter')
  await page.waitForURL(/session\//)
  // Two tracks are made for the first two files, the others bring their own.
  await page.goto(`${page.url()}?test`)
  await page.getByRole('button', { name: 'Add an empty track' }).click()
  await expect.poll(async () => (await sessionOf(page)).trackIds.length).toBe(1)
  await command(page, 'add stereo track')
  expect((await sessionOf(page)).trackIds).toHaveLength(2)
  await page.getByLabel('Import audio files').setInputFiles(
    [0, 1, 2, 3, 4].map((k) => ({
      name: `mic ${k + 1}.wav`,
      mimeType: 'audio/wav',
      buffer: Buffer.from(exactWav([tone(k)], rate)),
    })),
  )
  await page.getByRole('button', { name: 'Import', exact: true }).click()
  await expect.poll(async () => Object.keys((await sessionOf(page)).regions).length).toBe(5)
  const names = async () => {
    const { tracks, trackIds } = await sessionOf(page)
    return trackIds.map((id) => tracks[id]!.name)
  }
  // Those that got no file are taken away again; the rest is put in order and coloured.
  for (const name of ['Track 1', 'Track 2'])
    if ((await names()).includes(name)) await menu(page, name, /^Delete the track/)
  expect(await names()).toEqual(['mic 1', 'mic 2', 'mic 3', 'mic 4', 'mic 5'])
  await menu(page, 'mic 5', /^Move up/)
  expect((await names()).slice(3)).toEqual(['mic 5', 'mic 4'])
  await page.getByRole('button', { name: 'What to do with mic 5', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Colour' }).press('ArrowRight')
  await page.getByRole('menuitem', { name: 'heather' }).press('Enter')

  // The first three were recorded together: an edit of one is one of all three.
  await head(page, 'mic 1').click({ position: { x: 60, y: 4 } })
  for (const name of ['mic 2', 'mic 3'])
    await head(page, name).click({ position: { x: 60, y: 4 }, modifiers: ['Shift'] })
  await command(page, 'edit group')
  await page.getByLabel('Name of the group').fill('Room')
  await page.keyboard.press('Enter')
  expect((await sessionOf(page)).groups!.map((g) => g.name)).toEqual(['Room'])
  await expect(page.getByText('group Room').first()).toBeAttached()
  await page.keyboard.press('b')
  const heard = await throughRing(page, 0, 4800)
  const at = await middleOf(regionGroup(page, 'mic 2'))
  const { framesPerPixel } = await page.evaluate(() => window.oakenThread.getState().navigation.view)
  await page.keyboard.down('Shift')
  await drag(page, { x: at.x, y: at.y - 8 }, { dx: 40 })
  await page.keyboard.up('Shift')
  const by = Math.round(40 * framesPerPixel)
  const starts = async () =>
    Object.values((await sessionOf(page)).regions)
      .sort((a, b) => a.name.localeCompare(b.name))
      .map((r) => r.start)
  const moved = await starts()
  expect(moved).toEqual([moved[0], moved[0], moved[0], 0, 0])
  expect(Math.abs(moved[0]! - by)).toBeLessThanOrEqual(Math.ceil(framesPerPixel))
  await expect(changed(page)).toHaveText('Move 3 regions')
  // The sound of the three is as it was, only later.
  for (const name of ['mic 4', 'mic 5']) await page.getByRole('button', { name: `Mute ${name}` }).click()
  const later = await throughRing(page, moved[0]!, 4800)
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z')
  expect(await starts()).toEqual([0, 0, 0, 0, 0])
  expect(peakOf(later[0]!)).toBeGreaterThan(0.3)
  expect(peakOf(heard[0]!)).toBeGreaterThan(peakOf(later[0]!))
  // With Y held, one leaves the group for a moment; muted are all that the hand passes.
  await page.keyboard.down('y')
  await page.waitForTimeout(350)
  await page.keyboard.down('Shift')
  await drag(page, { x: at.x, y: at.y - 8 }, { dx: 20 })
  await page.keyboard.up('Shift')
  await page.keyboard.up('y')
  expect(new Set(await starts()).size).toBe(2)
  await drag(page, await middleOf(page.getByRole('button', { name: 'Mute mic 1' })), { dy: 2 * ROW }, 8)
  const muted = async () =>
    Object.values((await sessionOf(page)).tracks)
      .filter((t) => t.muted)
      .map((t) => t.name)
  expect(await muted()).toEqual(['mic 1', 'mic 2', 'mic 3'])
  await page.keyboard.press('Control+z')
  expect(await muted()).toEqual([])
  // What has no companion on a track of the group is said.
  await page.evaluate(() => window.oakenThread.getPlayer().seek(48_000))
  await regionGroup(page, 'mic 1').click({ position: { x: 60, y: 20 } })
  await page.keyboard.type('-6')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/^Not changed on “mic 2”/)).toBeVisible()
  const gains = Object.values((await sessionOf(page)).regions).filter((r) => r.clipGainDb === -6)
  expect(gains.map((r) => r.name).sort()).toEqual(['mic 1', 'mic 3'])

  // Laid out: all rows fit, one is taller, quiet sound is drawn larger; nothing of it is heard.
  const before = await throughRing(page, 0, 9600)
  await page.keyboard.press('Escape')
  await command(page, 'fit all tracks')
  const { view } = await page.evaluate(() => window.oakenThread.getState().navigation)
  expect(view.heights!.reduce((sum, h) => sum + h, 0)).toBeLessThanOrEqual(view.height)
  await page.getByRole('separator', { name: 'Height of mic 1' }).press('ArrowDown')
  await page.keyboard.press('Shift+KeyI')
  await command(page, 'in decibels')
  expect(firstDifference((await throughRing(page, 0, 9600))[0]!, before[0]!)).toBe(-1)
  const {
    navigation: { rowHeights },
    preferences: { soundScale },
  } = await page.evaluate(() => window.oakenThread.getState())
  // The heads of the group are still selected: what is done to one is done to all.
  expect(Object.values(rowHeights)).toHaveLength(3)
  expect(soundScale.decibels).toBe(true)
})

test(
  'time inserted on all tracks changes no sample but by its place; in a crossfade it is refused, in words',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const spans = [
      [0, 5],
      [25.2, 3],
      [60, 3],
    ] as const
    const before: Float32Array[][] = []
    for (const [from, seconds] of spans) before.push(await throughRing(page, from * rate, seconds * rate))
    const first = await sessionOf(page)
    await page.evaluate(() => window.oakenThread.getPlayer().seek(10 * 48_000))
    await command(page, 'insert time')
    await page.getByLabel(/^How much/).fill('4 beats')
    await page.keyboard.press('Enter')
    // Four beats at 96 bpm are two and a half seconds.
    await expect(changed(page)).toHaveText('Insert 2.5 s on all tracks')
    for (const [i, [from, seconds]] of spans.entries()) {
      const moved = from < 10 ? from : from + 2.5
      const after = await throughRing(page, moved * rate, seconds * rate)
      for (const side of [0, 1])
        expect(peakOf(after[side]!.map((v, n) => v - before[i]![side]![n]!))).toBeLessThan(1e-6)
    }
    expect(peakOf((await throughRing(page, 10 * rate, 2 * rate))[0]!)).toBe(0)
    const markers = (await sessionOf(page)).markers.map((m) => m.frame)
    expect(markers).toEqual(first.markers.map((m) => (m.frame >= 10 * rate ? m.frame + 2.5 * rate : m.frame)))
    await page.keyboard.press('Control+z')
    expect(await sessionOf(page)).toEqual(first)

    // In a crossfade it is refused.
    await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 20 } })
    await regionGroup(page, 'drone in G').click({ position: { x: 60, y: 20 }, modifiers: ['Shift'] })
    await page.keyboard.press('c')
    const { c2 } = (await sessionOf(page)).regions
    await page.evaluate((f) => window.oakenThread.getPlayer().seek(f), c2!.start + 100)
    await page.keyboard.press('Shift+KeyT')
    await page.getByLabel(/^How much/).fill('1 s')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('alert')).toContainText(
      'the crossfade of “drone in D” into “drone in G” lies there',
    )
    await page.keyboard.press('Escape')

    // A range is removed with what lies in it.
    await page.keyboard.press('Control+z')
    await page.evaluate(() => window.oakenThread.getPlayer().seek(12 * 48_000))
    await page.keyboard.press('Shift+BracketLeft')
    await page.evaluate(() => window.oakenThread.getPlayer().seek(14 * 48_000))
    await page.keyboard.press('Shift+BracketRight')
    await page.getByRole('button', { name: 'Remove time' }).click()
    const cut = await throughRing(page, (60 - 2) * rate, 3 * rate)
    expect(peakOf(cut[0]!.map((v, n) => v - before[2]![0]![n]!))).toBeLessThan(1e-6)
  },
)

test(
  'at 200 % zoom playing, seeking, selecting, typing values and exporting still work',
  { tag: '@more' },
  async ({ page }) => {
    await page.setViewportSize({ width: 640, height: 400 })
    await openSample(page)
    const area = (await page.getByTestId('timeline').boundingBox())!
    expect(area.height).toBeGreaterThan(80)
    await page.mouse.click(area.x + 120, area.y - 30)
    const position = () => page.evaluate(() => window.oakenThread.getPlayer().position())
    const sought = await position()
    expect(sought).toBeGreaterThan(rate)
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await expect.poll(position).toBeGreaterThan(sought + 4800)
    await page.getByRole('button', { name: 'Pause' }).click()
    await regionGroup(page, 'walk-in, take 1').click({ position: { x: 40, y: 20 } })
    const gain = page.getByRole('textbox', { name: 'Clip gain', exact: true })
    await expect(gain).toBeInViewport()
    await gain.fill('-3')
    await page.keyboard.press('Enter')
    expect((await sessionOf(page)).regions.n1!.clipGainDb).toBe(-3)
    await page.getByRole('button', { name: 'More' }).click()
    await page.getByRole('menuitem', { name: 'Tempo and metre…' }).click()
    await expect(page.getByRole('dialog', { name: 'Tempo and metre' })).toBeVisible()
    await page.keyboard.press('Escape')
    const mix = await throughRing(page, 6 * rate, 4800)
    const { channels } = await exported(page, 'WAV, 32-bit float')
    expect(firstDifference(channels[0]!.slice(6 * rate, 6 * rate + 4800), mix[0]!)).toBe(-1)
  },
)
