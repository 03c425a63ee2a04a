import { expect, test } from '@playwright/test'
import { deliver, openSample, peakOf, playedLive, playedOn, regionGroup, sessionOf, throughRing, timesOf, whenSaved, workOfFrames } from './support'

test('storage denied is said in words, with what still works', async ({ page }) => {
  await page.addInitScript(() => {
    IDBFactory.prototype.open = () => {
      throw new DOMException('The user denied permission to access the database.', 'SecurityError')
    }
  })
  await page.goto('/')
  await expect(page.getByRole('alert')).toContainText('does not let this page store anything')
  await expect(page.getByRole('alert')).toContainText('still work')
  await page.goto('/session/tide-mill')
  await expect(page.getByRole('heading')).toContainText('does not let this page store anything')
  await page.goto('/help')
  await expect(page.getByRole('heading', { name: 'The job, step by step' })).toBeVisible()
})

test('storage that is full is said before an import, and a save that fails keeps the work in the tab until there is room', async ({ page }) => {
  await openSample(page)
  await page.evaluate(() => {
    const put = IDBObjectStore.prototype.put
    Object.assign(window, { room: () => (IDBObjectStore.prototype.put = put) })
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('', 'QuotaExceededError')
    }
  })
  await page.getByRole('button', { name: 'Mute Narrator' }).click()
  await expect(page.getByText('Not saved: The browser’s storage is full.')).toBeVisible()
  await expect(page.getByText('playing, shaping and delivering still work')).toBeVisible()
  await page.getByRole('button', { name: 'Mute Mill race' }).click()
  expect((await sessionOf(page)).tracks.race!.muted).toBe(true)
  await page.evaluate(() => (window as unknown as { room(): void }).room())
  await expect(page.getByText('Not saved')).toHaveCount(0, { timeout: 10_000 })
  await whenSaved(page)
  await page.reload()
  await expect(page.getByTestId('timeline')).toBeVisible()
  expect((await sessionOf(page)).tracks).toMatchObject({ narrator: { muted: true }, race: { muted: true } })
})

test('a file for which there is no room is refused before anything is written', async ({ page }) => {
  // The import worker asks the browser how much room there is; here it answers: none.
  await page.route('**/import.worker*.js', async (route) => {
    const response = await route.fetch()
    await route.fulfill({ response, body: `navigator.storage.estimate = async () => ({ quota: 1000, usage: 900 });\n${await response.text()}` })
  })
  await page.goto('/')
  const { WavEncoder, wavHeader } = await import('../src/formats/wav-write')
  const info = { format: 'wav16' as const, channels: 1 as const, sampleRate: 48000, frames: 960000, seed: 1 }
  await page.getByLabel('Import audio files').setInputFiles({ name: 'long.wav', mimeType: 'audio/wav', buffer: Buffer.concat([wavHeader(info), new WavEncoder(info).encode([new Float32Array(960000)])]) })
  await expect(page.getByRole('dialog')).toContainText('long.wav needs 4 MB of storage, and the browser has 1 MB left')
})

test('no audio device: said in words, and the mix can still be delivered', async ({ page }) => {
  await page.addInitScript(() => {
    Object.assign(window, { AudioContext: class { constructor() { throw new DOMException('no device', 'NotSupportedError') } } })
  })
  await openSample(page)
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  await expect(page.getByText('No audio device answers')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible()
  const { channels } = await deliver(page, 'WAV, 24 bit')
  expect(peakOf(channels[0]!)).toBeGreaterThan(0.1)
})

test('an edit while playing is heard soon, and moves the picture in the same frame', async ({ page }) => {
  await openSample(page)
  await regionGroup(page, 'drone in G').click({ position: { x: 60, y: 30 } })
  const { channels } = await playedLive(page, 60, 0.2)
  expect(peakOf(channels[0]!)).toBeGreaterThan(0.005)
  // Every track but the concertina silent, so that its fall can be seen at the output; the tab's own clock measures.
  await page.getByRole('button', { name: 'Solo Concertina' }).click()
  await page.evaluate(() => window.oakenThread.getPlayer().seek(60 * 48000))
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  await page.waitForTimeout(700)
  const delay = await page.evaluate(async () => {
    const player = window.oakenThread.getPlayer() as unknown as { node: AudioWorkletNode; beginCapture(): void; endCapture(): unknown[] }
    let quietAt = 0
    const before = player.node.port.onmessage!
    player.node.port.onmessage = (event: MessageEvent) => {
      const captured = (event.data as { captured?: { left: Float32Array } }).captured
      if (captured && !quietAt && captured.left.every((x) => Math.abs(x) < 1e-4)) quietAt = performance.now()
      before.call(player.node.port, event)
    }
    player.beginCapture()
    const field = document.querySelector<HTMLInputElement>('[data-field="clip-gain"]')!
    const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!
    field.focus()
    set.call(field, '-72')
    field.dispatchEvent(new Event('input', { bubbles: true }))
    await new Promise((resolve) => setTimeout(resolve, 50))
    const begun = performance.now()
    field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
    for (let i = 0; i < 200 && !quietAt; i++) await new Promise((resolve) => setTimeout(resolve, 5))
    player.endCapture()
    return quietAt - begun
  })
  console.log(`edit → at the output: ${delay.toFixed(0)} ms`)
  expect(delay).toBeGreaterThan(0)
  expect(delay).toBeLessThan(1000)
})

test('a minute of the sample session plays without an underrun while another tab is open', async ({ context, page }) => {
  await openSample(page)
  const idle = await context.newPage()
  await idle.goto('/help')
  await page.bringToFront()
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  const { position, underruns } = await playedOn(page, 60)
  console.log(`a minute played: ${(position / 48000).toFixed(1)} s, ${underruns} underruns`)
  expect(underruns).toBe(0)
})

test('scrolling the sample session: frame times', async ({ page }) => {
  await openSample(page)
  for (let i = 0; i < 4; i++) await page.keyboard.press('Equal')
  const idle = await workOfFrames(page, 180, 'rest')
  const before = await page.evaluate(() => window.oakenThread.getState().view.view.left)
  const times = await workOfFrames(page, 180, 'scroll')
  const after = await page.evaluate(() => window.oakenThread.getState().view.view.left)
  console.log(`scrolling: ${timesOf(times)} (standing still: ${timesOf(idle)})`)
  // There and back again, without a frame's scroll lost on the way.
  expect(Math.abs(after - before)).toBeLessThan(1)
})

test('seeking, dragging the ruler, mute, solo and the history change what goes through the ring', async ({ page }) => {
  await openSample(page)
  const level = async () => peakOf((await throughRing(page, 60 * 48000, 24000))[0]!)
  const all = await level()
  const area = (await page.getByTestId('timeline').boundingBox())!
  await page.mouse.move(area.x + 100, area.y + 100)
  await page.mouse.wheel(0, 600)
  await page.getByRole('button', { name: 'Solo Bells' }).click()
  expect(await level()).toBe(0)
  await page.keyboard.press('Control+z')
  expect(await level()).toBe(all)
  await page.mouse.wheel(0, -600)
  await page.getByRole('button', { name: 'Mute Concertina' }).click()
  const without = await level()
  expect(without).toBeGreaterThan(0)
  expect(without).not.toBe(all)
  await page.getByLabel('Volume of Mill race').fill('-inf')
  await page.keyboard.press('Enter')
  expect(await level()).toBeLessThan(without)
  await page.mouse.click(area.x + 400, area.y - 20)
  const { view } = await page.evaluate(() => window.oakenThread.getState().view)
  expect(await page.evaluate(() => window.oakenThread.getPlayer().position())).toBe(Math.round(view.left + 400 * view.framesPerPixel))
})
