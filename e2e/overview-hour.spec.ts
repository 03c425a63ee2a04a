import { expect } from '@playwright/test'
import type { Session } from '../src/core/model/session'
import { writePackage } from '../src/formats/package.test-util'
import { test } from './fixtures'
import { manyTracks, overAndOver } from './many-tracks'
import { openPackage } from './support'

test(
  'the overview of an hour of 24 tracks is complete within two minutes, and an edit is in it at once',
  { tag: '@endure' },
  async ({ page }) => {
    test.setTimeout(600_000)
    const seconds = 60
    const many = manyTracks(24, seconds, 1)
    const session: Session = {
      ...overAndOver(many.session, 60, seconds),
      // Each track sounds all the time, and its volume moves.
      tracks: Object.fromEntries(
        Object.entries(many.session.tracks).map(([id, track], t) => [
          id,
          {
            ...track,
            lanes: {
              volume: {
                knots: Array.from({ length: 720 }, (_, k) => ({
                  frame: k * 5 * 48_000,
                  value: 0.6 + 0.1 * Math.sin(k + t),
                  shape: 'line' as const,
                  bend: 0,
                })),
                bypassed: false,
                visible: true,
              },
            },
          },
        ]),
      ),
    }
    await page.goto('/?test')
    await openPackage(page, writePackage(session, many.audio))
    await expect(page.getByTestId('timeline')).toBeVisible({ timeout: 120_000 })
    const begun = Date.now()
    const overview = page.getByRole('group', { name: 'Overview of the whole session' })
    const complete = () =>
      expect(overview).toHaveAttribute('aria-description', 'level, and as a line short-term loudness', {
        timeout: 200_000,
      })
    await complete()
    const whole = (Date.now() - begun) / 1000
    // An edit of one region is looked for before the rest, and there is nothing else to look for.
    await page.getByLabel('Mix volume', { exact: true }).waitFor()
    const edited = Date.now()
    await page
      .getByRole('group', { name: /tone 3/ })
      .first()
      .click()
    await page.getByLabel('Clip gain', { exact: true }).fill('-9')
    await page.keyboard.press('Enter')
    await expect(overview).toHaveAttribute('aria-description', /measured/)
    await complete()
    const part = (Date.now() - edited) / 1000
    console.log(
      `an hour of 24 tracks: complete after ${whole.toFixed(0)} s; a minute of it after an edit: ${part.toFixed(1)} s`,
    )
    expect(whole).toBeLessThan(120)
    expect(part).toBeLessThan(10)
  },
)
