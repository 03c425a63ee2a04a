import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { openSample, regionGroup, sessionOf } from './support'

/** Turns the wheel over the timeline, and waits for the picture. */
async function turn(page: Page, deltaX: number, deltaY: number): Promise<void> {
  const area = (await page.getByTestId('timeline').boundingBox())!
  await page.mouse.move(area.x + 300, area.y + 40)
  await page.mouse.wheel(deltaX, deltaY)
  await page.evaluate(
    () => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))),
  )
}

test(
  'rows that come into sight show the session as it is, their heads beside them, and a key leads on to those that are not yet seen',
  { tag: '@more' },
  async ({ page }) => {
    await page.setViewportSize({ width: 1280, height: 660 })
    await openSample(page)
    const area = (await page.getByTestId('timeline').boundingBox())!
    const timelineHolds = async (name: string) => {
      const { x, y, width, height } = (await regionGroup(page, name).first().boundingBox())!
      return y + height > area.y && y < area.y + area.height && x + width > area.x && x < area.x + area.width
    }
    expect(await timelineHolds('gulls')).toBe(false)
    // All regions are raised while most rows are out of sight, and seen at once afterwards.
    await page.keyboard.press('Control+a')
    await page.getByRole('slider', { name: 'Clip gain of walk-in, take 1' }).focus()
    await page.keyboard.press('ArrowUp')
    await turn(page, 0, 2000)
    expect(await timelineHolds('gulls')).toBe(true)
    const raised = /clip gain \+1\.0 dB, selected/
    expect(await regionGroup(page, 'gulls').first().getAttribute('aria-label')).toMatch(raised)
    // A row above the sight is told of it when the user is idle.
    expect(await timelineHolds('drone in D')).toBe(false)
    await expect(regionGroup(page, 'drone in D').first()).toHaveAttribute('aria-label', raised)
    const { tracks, trackIds, regions } = await sessionOf(page)
    for (const trackId of trackIds.slice(-3)) {
      const region = Object.values(regions).find((r) => r.trackId === trackId)!
      const [head, handle] = [
        await page.getByRole('region', { name: tracks[trackId]!.name, exact: true }).boundingBox(),
        await regionGroup(page, region.name).first().boundingBox(),
      ]
      expect(handle!.y - head!.y).toBeCloseTo(3, 0)
    }
    // Where lanes are opened above, rows stand below them, and nothing is left where it was.
    await turn(page, 0, -2000)
    const before = (await regionGroup(page, 'mill race').first().boundingBox())!
    await page.getByRole('button', { name: 'Lanes of Narrator' }).click()
    await page.getByRole('menuitem', { name: 'Open all' }).click()
    await page.keyboard.press('Escape')
    await expect(page.getByRole('group', { name: 'Pan lane of Narrator' })).toBeVisible()
    // The focus has been in the menu, which lies elsewhere: the view has not followed it.
    expect((await page.evaluate(() => window.oakenThread.getState().navigation.view)).left).toBe(0)
    expect((await regionGroup(page, 'mill race').first().boundingBox())!.y).toBeCloseTo(before.y + 2 * 64, 0)
    await page.getByRole('button', { name: 'Lanes of Narrator' }).click()
    await page.getByRole('menuitem', { name: 'Close all' }).click()
    await page.keyboard.press('Escape')

    // One stop for Tab, and from there with the arrow keys to every region: each that has the focus is seen.
    await page.keyboard.press('Escape')
    await regionGroup(page, 'walk-in, take 1').focus()
    const named: string[] = []
    let along = 'ArrowRight'
    for (let i = 0; i < 40 && !named.some((n) => n.includes(', Gulls and gates, ')); i++) {
      await page.keyboard.press(along)
      const focus = page.locator(':focus')
      const label = (await focus.getAttribute('aria-label')) ?? ''
      if (label === named.at(-1)) {
        // At the end of the first row: down from row to row.
        expect(along).toBe('ArrowRight')
        along = 'ArrowDown'
        continue
      }
      if ((await focus.getAttribute('role')) !== 'group') continue
      named.push(label)
      const { x, y, width, height } = (await focus.boundingBox())!
      expect([
        label,
        y >= area.y - 1 &&
          y + Math.min(height, 40) <= area.y + area.height + 1 &&
          x + width > area.x &&
          x < area.x + area.width,
      ]).toEqual([label, true])
    }
    expect(named.length).toBeGreaterThan(7)
    expect(named.at(-1)).toContain(', Gulls and gates, ')
    // Tab leaves the timeline, and Shift + Tab comes back to the region that was left.
    await page.keyboard.press('Tab')
    expect(await page.evaluate(() => document.activeElement!.closest('[data-area="timeline"]'))).toBeNull()
    await page.keyboard.press('Shift+Tab')
    await expect(page.locator(':focus')).toHaveAttribute('aria-label', named.at(-1)!)
  },
)
