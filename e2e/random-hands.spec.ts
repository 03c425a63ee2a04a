import { expect, type Page } from '@playwright/test'
import { brokenRules } from '../src/core/model/check/rules'
import { seededRandom } from '../src/core/units/random'
import { test } from './fixtures'
import { openSample, reload, sessionOf, whenSaved } from './support'

/** So many in `npm run endure`, fewer in `npm test`. */
const ACTIONS = process.env.ENDURE ? 140 : 20

const KEYS =
  'q Shift+Q k j Delete Backspace ArrowUp ArrowDown ArrowLeft ArrowRight Alt+ArrowUp Shift+ArrowLeft t c [ ] n l ' +
  'i o h z Escape Escape m s Control+a Control+c Control+x Control+v Control+z Control+Shift+z Shift+BracketLeft ' +
  'Shift+BracketRight Home End PageDown'
const TYPED = '-6 +2 by|-2 =+3 50|% x0.5 L30 120|ms +20|ms 1/8 2|beats 3 nonsense none 0:12.5 -inf'
const BEADS = [
  /^Clip gain of/,
  /^Gain thread/,
  /^Fades of/,
  /^Volume of the/,
  /^Pan of the/,
  /^Mix all/,
  /^Mix pan/,
]

/** One action of a hand that does not think, as words that say what it did. */
async function act(page: Page, random: () => number): Promise<string> {
  const any = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!
  const area = (await page.getByTestId('timeline').boundingBox())!
  const place = () => ({ x: area.x + random() * area.width, y: area.y + random() * (area.height + 50) })
  const kind = random()
  if (kind < 0.4) {
    const hand = any(['', '', 'r', 'd', 'p', 'w'])
    const held = any(['', '', '', 'Shift', 'Control', 'Alt'])
    const [from, to] = [place(), place()]
    if (hand) await page.keyboard.down(hand)
    await page.mouse.move(from.x, from.y)
    if (held) await page.keyboard.down(held)
    await page.mouse.down()
    await page.mouse.move(to.x, (from.y + to.y) / 2, { steps: 3 })
    await page.mouse.move(to.x, random() < 0.5 ? from.y + 15 : to.y)
    if (random() < 0.1) await page.keyboard.press('Escape')
    await page.mouse.up()
    if (held) await page.keyboard.up(held)
    if (hand) await page.keyboard.up(hand)
    // A tap would keep the hand.
    if (hand) await page.getByRole('button', { name: 'Point', exact: true }).click()
    return `drag ${hand} ${held}`
  }
  if (kind < 0.5) {
    const { x, y } = place()
    await page.mouse.click(x, y, { clickCount: random() < 0.3 ? 2 : 1 })
    return 'press'
  }
  if (kind < 0.55) {
    await page.mouse.click(area.x - 190, area.y + random() * area.height)
    return 'head'
  }
  if (kind < 0.62) {
    await page
      .getByRole('complementary', { name: 'Path' })
      .getByRole('button', { name: any(BEADS) })
      .click()
    return 'bead'
  }
  if (kind < 0.8) {
    const key = any(KEYS.split(' '))
    await page.keyboard.press(key)
    return `key ${key}`
  }
  const fields = page.getByRole('region', { name: 'Bench' }).locator('input[data-field]:enabled')
  const count = await fields.count()
  if (count === 0) return 'no field'
  const field = fields.nth(Math.floor(random() * count))
  const [name, text] = [await field.getAttribute('data-field'), any(TYPED.split(' ')).replace('|', ' ')]
  await field.fill(text)
  await field.press('Enter')
  await page.keyboard.press('Escape')
  return `type ${text} into ${name}`
}

for (const seed of [1, 2])
  test(
    `a random hand, the ${seed === 1 ? 'first' : 'second'}: the rules hold, a reload gives the same, and undo the first session`,
    { tag: '@more' },
    async ({ page }) => {
      const errors: string[] = []
      page.on('pageerror', (error) => errors.push(String(error)))
      page.on('console', (message) => message.type() === 'error' && errors.push(message.text()))
      await openSample(page)
      const first = await sessionOf(page)
      const random = seededRandom(seed)
      const done: string[] = []
      for (let i = 0; i < ACTIONS; i++) {
        done.push(await act(page, random))
        // A menu or a message that an action opened would take the next one's presses.
        for (const menu of await page.getByRole('menu').all())
          if (await menu.isVisible()) await page.keyboard.press('Escape')
        if (i % 10 === 9) expect([done, brokenRules(await sessionOf(page))]).toEqual([done, []])
      }
      const steps = await page.evaluate(() => window.oakenThread.getState().session.steps.length)
      expect(steps).toBeGreaterThan(ACTIONS / 8)
      const last = await sessionOf(page)
      await whenSaved(page)
      await reload(page)
      await expect(page.getByTestId('timeline')).toBeVisible()
      expect(await sessionOf(page)).toEqual(last)
      for (let i = 0; i < steps + 1; i++) await page.keyboard.press('Control+z')
      await expect.poll(() => page.evaluate(() => window.oakenThread.getState().session.done)).toBe(0)
      expect(await sessionOf(page)).toEqual(first)
      expect(errors).toEqual([])
    },
  )
