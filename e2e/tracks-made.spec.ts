import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import {
  drag,
  exported,
  firstDifference,
  middleOf,
  openSample,
  regionGroup,
  sessionOf,
  throughRing,
  ROW,
} from './support'

const rows = async (page: Page) => {
  const { tracks, trackIds } = await sessionOf(page)
  return trackIds.map((id) => tracks[id]!.name)
}
const head = (page: Page, name: string) =>
  page.getByRole('complementary', { name: 'Tracks' }).getByRole('region', { name, exact: true })
const menu = async (page: Page, name: string, item: string | RegExp) => {
  await page.getByRole('button', { name: `What to do with ${name}`, exact: true }).click()
  await page.getByRole('menuitem', { name: item }).click()
}

test(
  'tracks are added, named, coloured, moved, duplicated and deleted; the sound is that of what is left',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const before = await sessionOf(page)
    const heard = await throughRing(page, 480_000, 9600)
    await menu(page, 'Narrator', 'Add a stereo track below')
    expect((await rows(page)).slice(0, 2)).toEqual(['Narrator', 'Track 8'])
    await page.keyboard.press('F2')
    await page.getByLabel('Name', { exact: true }).fill('Room')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'What to do with Room', exact: true }).click()
    await page.getByRole('menuitem', { name: 'Colour' }).hover()
    await page.getByRole('menuitem', { name: 'rust' }).click()
    const room = Object.values((await sessionOf(page)).tracks).find((t) => t.name === 'Room')!
    expect(room).toMatchObject({ channels: 2, colour: 'rust' })
    // A mono region on it sounds on both sides, which is said.
    const box = await middleOf(regionGroup(page, 'walk-in, take 1'))
    await page.keyboard.down('Shift')
    await drag(page, { x: box.x, y: box.y - 10 }, { dy: ROW })
    await page.keyboard.up('Shift')
    await expect(
      page.getByText('A mono region on a stereo track sounds on both sides.').first(),
    ).toBeVisible()
    expect(Object.values((await sessionOf(page)).regions).some((r) => r.trackId === room.id)).toBe(true)
    await page.keyboard.press('Control+z')
    // Up by keys and down again by its coloured edge; the right button opens the menu, too.
    await head(page, 'Room').click({ position: { x: 60, y: 4 } })
    await page.keyboard.press('Shift+Alt+ArrowUp')
    expect((await rows(page)).slice(0, 2)).toEqual(['Room', 'Narrator'])
    const edge = (await page.getByTestId(`order-${room.id}`).boundingBox())!
    await drag(page, { x: edge.x + 7, y: edge.y + 40 }, { dy: 2 * ROW })
    expect((await rows(page)).slice(0, 3)).toEqual(['Narrator', 'Mill wheel', 'Room'])
    await head(page, 'Room').click({ button: 'right', position: { x: 60, y: 4 } })
    await page.getByRole('menuitem', { name: /^Delete the track/ }).click()
    await expect(page.getByText('“Room” was deleted.').first()).toBeVisible()
    expect(await rows(page)).toEqual(before.trackIds.map((id) => before.tracks[id]!.name))
    expect(firstDifference((await throughRing(page, 480_000, 9600))[0]!, heard[0]!)).toBe(-1)
    // The key that deletes never takes a track; a copy with its regions sounds twice as loud.
    await head(page, 'Mill race').click({ position: { x: 60, y: 4 } })
    await page.keyboard.press('Delete')
    expect(await rows(page)).toHaveLength(7)
    await menu(page, 'Mill race', 'Solo only this')
    const [once] = await throughRing(page, 480_000, 4800)
    await page.getByRole('button', { name: 'Clear solo' }).click()
    await menu(page, 'Mill race', /^Duplicate$/)
    await head(page, 'Mill race').click({ position: { x: 60, y: 4 }, modifiers: ['Control'] })
    await menu(page, 'Mill race', 'Solo only these')
    const [twice] = await throughRing(page, 480_000, 4800)
    for (const i of [100, 2000, 4000]) expect(twice![i]).toBeCloseTo(2 * once![i]!, 6)
  },
)

test(
  'a soloed track is not exported as the mix unseen; the plain mix is a press away',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const [mix] = await throughRing(page, 0, 48_000)
    await page.getByRole('button', { name: 'Solo Mill race' }).click()
    const [alone] = await throughRing(page, 0, 48_000)
    await page.getByRole('link', { name: 'Export' }).click()
    await expect(page.getByText('1 track is soloed (Mill race): only it will be in the file.')).toBeVisible()
    await expect(page.getByRole('button', { name: 'Render “Mill race” alone' })).toBeVisible()
    await expect(page.getByLabel('File name')).toHaveValue('The Tide Mill - Mill race')
    await page.getByRole('link', { name: 'Back to the session' }).click()
    const solo = await exported(page, 'WAV, 32-bit float')
    expect(solo.name).toBe('The Tide Mill - Mill race.wav')
    expect(firstDifference(solo.channels[0]!.slice(0, 48_000), alone!)).toBe(-1)
    expect(solo.said).toMatch(/True peak −\d+\.\d+ dBTP, loudness −\d+\.\d+ LUFS integrated/)
    await page.getByRole('button', { name: 'Export the plain mix instead' }).click()
    await page.getByLabel('File name').fill('all of it')
    await page.getByRole('button', { name: 'Render the plain mix' }).click()
    await expect(page.getByRole('link', { name: /^Download all of it\.wav/ })).toBeVisible()
    // The session is still soloed.
    expect((await sessionOf(page)).tracks.race!.soloed).toBe(true)
    await page.getByRole('link', { name: 'Back to the session' }).click()
    await page.getByRole('button', { name: 'Clear solo' }).click()
    expect(firstDifference((await throughRing(page, 0, 48_000))[0]!, mix!)).toBe(-1)
  },
)
