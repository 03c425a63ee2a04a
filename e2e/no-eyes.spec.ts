import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { openSample, sessionOf } from './support'

/** What has the focus, as a screen reader says it: role, name and value. */
const focused = (page: Page) =>
  page.evaluate(() => {
    const e = document.activeElement as HTMLElement
    const role = e.getAttribute('role') ?? e.tagName.toLowerCase()
    const label =
      e.getAttribute('aria-label') ||
      (e as HTMLInputElement).labels?.[0]?.textContent ||
      e.textContent?.trim() ||
      e.querySelector('img')?.alt ||
      ''
    return `${role} ${label.trim().replace(/\s+/g, ' ')} ${e.getAttribute('aria-valuetext') ?? ''}`.trim()
  })
const area = (page: Page) =>
  page.evaluate(() => document.activeElement?.closest<HTMLElement>('[data-area]')?.dataset.area ?? null)
/** Presses a key until the focus is on what a pattern says. */
async function until(page: Page, key: string, what: RegExp, most = 40): Promise<void> {
  for (let i = 0; i < most; i++) {
    if (what.test(await focused(page))) return
    await page.keyboard.press(key)
  }
  expect(await focused(page)).toMatch(what)
}
const toArea = async (page: Page, name: string) => {
  for (let i = 0; i < 12 && (await area(page)) !== name; i++) await page.keyboard.press('F6')
  expect(await area(page)).toBe(name)
}
const changed = (page: Page) => page.getByRole('status', { name: 'What changed' })

test('the whole job without eyes and without a pointer: every stop has a name, and every change is said', async ({
  page,
}) => {
  await openSample(page)
  // Tab stops once in each area.
  const seen: (string | null)[] = []
  await page.keyboard.press('Tab')
  for (let i = 0; i < 12; i++) {
    seen.push(await area(page))
    expect(await focused(page)).toMatch(/^\S+ \S/)
    await page.keyboard.press('Tab')
  }
  expect(seen.slice(0, 6)).toEqual(['top', 'rail', 'ruler', 'timeline', 'path', 'hands'])

  // The track: its head leads, and is moved and made taller without dragging.
  await toArea(page, 'rail')
  await until(page, 'ArrowRight', /^section Narrator/)
  await until(page, 'ArrowDown', /^section Mill wheel/)
  await page.keyboard.press('Enter')
  await page.keyboard.press('Shift+Alt+ArrowUp')
  await expect(changed(page)).toHaveText('Move “Mill wheel” up')
  await page.keyboard.press('Control+z')
  await expect(changed(page)).toHaveText('Undone: Move “Mill wheel” up')
  await page.keyboard.press('Shift+ArrowUp')
  expect(await page.evaluate(() => Object.keys(window.oakenThread.getState().navigation.rowHeights))).toEqual(
    ['wheel'],
  )
  await page.keyboard.press('Escape')
  await page.keyboard.press('Escape')

  // A region: found, levelled by typing, faded by its handle, split and taken back.
  await toArea(page, 'timeline')
  await until(page, 'ArrowRight', /^group wheel pit, take 2, Narrator/)
  await page.keyboard.press('Enter')
  await expect(page.locator(':focus')).toHaveAttribute('aria-label', /, selected$/)
  await page.keyboard.type('-7.5')
  await page.keyboard.press('Enter')
  await expect(changed(page)).toHaveText('Clip gain of “wheel pit, take 2” 0.0 → −7.5 dB')
  await toArea(page, 'timeline')
  await until(page, 'Tab', /^slider Fade in of wheel pit, take 2 none/)
  await page.keyboard.press('ArrowRight')
  await expect(page.locator(':focus')).toHaveAttribute('aria-valuetext', '20 ms')
  await expect(changed(page)).toContainText('Fade in of “wheel pit, take 2”')

  // A sweep without dragging: the range by its ends, then a plateau and a weave in the volume lane.
  await toArea(page, 'path')
  await until(page, 'ArrowRight', /^button Volume of the track/)
  await page.keyboard.press('Enter')
  await toArea(page, 'ruler')
  await until(page, 'ArrowRight', /^slider Playhead/, 2)
  await page.keyboard.press('Home')
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Shift+BracketLeft')
  for (let i = 0; i < 8; i++) await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Shift+BracketRight')
  await toArea(page, 'bench')
  await until(page, 'Tab', /Change level in the range|Weave over the marked range/, 60)
  const { lanes } = Object.values((await sessionOf(page)).tracks)[0]!
  expect(lanes.volume?.knots ?? []).toEqual([])
  await page.getByRole('button', { name: 'Weave over the marked range' }).focus()
  await page.keyboard.press('Enter')
  await expect(changed(page)).toContainText('Weave in volume of “Narrator”')

  // A command is found by its words, and the export ends in words.
  await page.keyboard.press('Control+k')
  await page.keyboard.type('bounce wav')
  await expect(page.getByRole('option', { name: /^Export…/ })).toHaveAttribute('aria-selected', 'true')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /^Export “The Tide Mill”/ })).toBeVisible()
  await until(page, 'Tab', /^button Render the mix/)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('status').filter({ hasText: 'Highest peak' })).toBeVisible()
})

test(
  'keys are chosen by the person: another one, none, all letters off, and taken to another browser',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await page.keyboard.press('F1')
    const keyOf = (title: string) => page.getByRole('button', { name: new RegExp(`^Keys of “${title}”`) })
    // One that is taken is refused, and says by whom.
    await keyOf('Show or hide the Bench').click()
    await page.keyboard.press('l')
    await expect(page.getByText('L is “Loop the range”. Free it there first.')).toBeVisible()
    await page.keyboard.press('Control+b')
    await expect(keyOf('Show or hide the Bench')).toHaveText('Ctrl B')
    await page.getByLabel('Search the help').fill('mute')
    await expect(keyOf('Show or hide the Bench')).toHaveCount(0)
    await keyOf('Mute the track').click()
    await page.getByRole('button', { name: 'none', exact: true }).click()
    await page.getByLabel('Search the help').fill('')
    const saving = page.waitForEvent('download')
    await page.getByRole('button', { name: 'Save keys…' }).click()
    const file = await (await saving).path()
    await page.getByRole('button', { name: 'All as usual' }).click()
    await expect(keyOf('Show or hide the Bench')).toHaveText('B')
    await page.getByLabel('File with keys').setInputFiles(file)
    await expect(keyOf('Show or hide the Bench')).toHaveText('Ctrl B')
    await page.getByRole('button', { name: 'Back', exact: true }).click()
    const bench = () => page.evaluate(() => window.oakenThread.getState().preferences.bench)
    await page.keyboard.press('b')
    await page.keyboard.press('m')
    expect(await bench()).toBe(true)
    expect(Object.values((await sessionOf(page)).tracks).some((t) => t.muted)).toBe(false)
    await page.keyboard.press('Control+b')
    expect(await bench()).toBe(false)
    // Letters by themselves off: none is a key, and hands are not lent.
    await page.keyboard.press('F1')
    await page.getByRole('checkbox', { name: /^Letters and signs/ }).uncheck()
    await page.getByRole('button', { name: 'Back', exact: true }).click()
    await page.keyboard.press('f')
    await page.keyboard.press('d')
    const {
      preferences: { follow },
      selection: { hand },
    } = await page.evaluate(() => window.oakenThread.getState())
    expect([follow, hand]).toEqual([true, 'point'])
    await page.keyboard.press('Control+b')
    expect(await bench()).toBe(true)
  },
)
