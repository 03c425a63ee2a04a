import { expect } from '@playwright/test'
import type { Insert } from '../src/core/model/session'
import { writePackage } from '../src/formats/package.test-util'
import { test } from './fixtures'
import { manyTracks } from './many-tracks'
import { openPackage, quietAfter } from './support'

const TRACKS = 60

const inserts = (t: number): Insert[] => [
  {
    id: 'delay',
    kind: 'delay',
    bypassed: false,
    values: { timeMs: 40 + 3 * t, feedback: 0.4, mix: 0.3, highCutHz: 6000 },
  },
  { id: 'ceiling', kind: 'ceiling', bypassed: false, values: { ceilingDbtp: -6, lookAheadMs: 1 + (t % 5) } },
]

test(
  `${TRACKS} tracks with sounds of their own and two inserts each play a minute without a gap, follow an edit soon, and rest when paused`,
  { tag: ['@endure', '@alone'] },
  async ({ page }) => {
    test.setTimeout(400_000)
    const many = manyTracks(TRACKS, 20, 1)
    const tracks = Object.fromEntries(
      Object.entries(many.session.tracks).map(([id, track], t) => [id, { ...track, inserts: inserts(t) }]),
    )
    await openPackage(page, writePackage({ ...many.session, tracks }, many.audio))
    await page.waitForTimeout(20_000)
    await page.keyboard.press('l')
    const underruns = () => page.evaluate(() => window.oakenThread.getPlayer().underruns)
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await expect
      .poll(() => page.evaluate(() => window.oakenThread.getPlayer().position()), { timeout: 60_000 })
      .toBeGreaterThan(4800)
    await page.waitForTimeout(60_000)
    const gaps = await underruns()
    console.log(`${TRACKS} tracks with two inserts each, a minute: ${gaps} underruns`)

    // The mix falls silent by an edit.
    const delays: number[] = []
    const field = page.getByLabel('Mix volume', { exact: true })
    for (let i = 0; i < 5; i++) {
      delays.push(await quietAfter(field, '-inf', 1e-5))
      await field.fill('0')
      await field.press('Enter')
      await page.waitForTimeout(1500)
    }
    console.log(`edit → at the output: ${delays.map((d) => d.toFixed(0)).join(', ')} ms`)
    await page.getByRole('button', { name: 'Pause' }).click()
    expect(gaps).toBe(0)
    expect(Math.min(...delays)).toBeGreaterThan(0)
    expect(delays.sort((a, b) => a - b)[2]).toBeLessThan(80)

    // Paused, with nothing changing, the page is at rest.
    await page.waitForTimeout(15_000)
    const client = await page.context().newCDPSession(page)
    await client.send('Performance.enable')
    const busy = async () =>
      (await client.send('Performance.getMetrics')).metrics.find((m) => m.name === 'TaskDuration')!.value
    const begun = await busy()
    await page.waitForTimeout(10_000)
    const part = ((await busy()) - begun) / 10
    console.log(`at rest the page takes ${(part * 100).toFixed(1)} % of a core`)
    expect(part).toBeLessThan(0.02)
  },
)
