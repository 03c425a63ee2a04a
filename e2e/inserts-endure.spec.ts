import { expect } from '@playwright/test'
import type { Insert } from '../src/core/model/session'
import { writePackage } from '../src/formats/package'
import { test } from './fixtures'
import { manyTracks } from './many-tracks'
import { openPackage } from './support'

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

    // The mix falls silent by an edit; the tab's own clock measures until the output has.
    const delays: number[] = []
    for (let i = 0; i < 5; i++) {
      delays.push(
        await page.evaluate(async () => {
          const player = window.oakenThread.getPlayer() as unknown as {
            node: AudioWorkletNode
            beginCapture(): void
            endCapture(): unknown[]
          }
          let quietAt = 0
          const before = player.node.port.onmessage!
          player.node.port.onmessage = (event: MessageEvent) => {
            const captured = (event.data as { captured?: { left: Float32Array } }).captured
            if (captured && !quietAt && captured.left.every((x) => Math.abs(x) < 1e-5))
              quietAt = performance.now()
            before.call(player.node.port, event)
          }
          player.beginCapture()
          const field = [...document.querySelectorAll('input')].find(
            (f) =>
              f.labels?.[0]?.textContent === 'Mix volume' || f.getAttribute('aria-label') === 'Mix volume',
          )!
          const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!
          const type = (text: string) => {
            field.focus()
            set.call(field, text)
            field.dispatchEvent(new Event('input', { bubbles: true }))
          }
          const enter = () =>
            field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
          type('-inf')
          await new Promise((resolve) => setTimeout(resolve, 50))
          const begun = performance.now()
          enter()
          for (let n = 0; n < 200 && !quietAt; n++) await new Promise((resolve) => setTimeout(resolve, 5))
          player.endCapture()
          player.node.port.onmessage = before
          type('0')
          enter()
          await new Promise((resolve) => setTimeout(resolve, 1500))
          return quietAt - begun
        }),
      )
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
