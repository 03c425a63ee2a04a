import fs from 'node:fs/promises'
import os from 'node:os'
import path from 'node:path'
import { expect } from '@playwright/test'
import { exactWav } from '../src/formats/package'
import { test } from './fixtures'
import { exported, openSample, peakOf, sessionOf, whenSaved, reload, importAudio } from './support'

test('storage denied is said in words, with what still works', async ({ page }) => {
  await page.addInitScript(() => {
    IDBFactory.prototype.open = () => {
      throw new DOMException('The user denied permission to access the database.', 'SecurityError')
    }
  })
  await page.goto('/?test')
  await expect(page.getByRole('alert')).toContainText('does not let this page store anything')
  await expect(page.getByRole('alert')).toContainText('still work')
  await page.goto('/session/tide-mill?test')
  await expect(page.getByRole('heading')).toContainText('does not let this page store anything')
  await page.goto('/help')
  await expect(page.getByRole('heading', { name: 'The job, step by step' })).toBeVisible()
})

test('a save that fails keeps the work in the tab until there is room', async ({ page }) => {
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
  await expect(page.getByText('playing, shaping and exporting still work')).toBeVisible()
  await page.getByRole('button', { name: 'Mute Mill race' }).click()
  expect((await sessionOf(page)).tracks.race!.muted).toBe(true)
  await page.evaluate(() => (window as unknown as { room(): void }).room())
  await expect(page.getByText('Not saved')).toHaveCount(0)
  await whenSaved(page)
  await reload(page)
  await expect(page.getByTestId('timeline')).toBeVisible()
  expect((await sessionOf(page)).tracks).toMatchObject({ narrator: { muted: true }, race: { muted: true } })
})

test(
  'an allowance that is too small by the browser’s estimate warns, and refuses nothing',
  { tag: '@more' },
  async ({ page }) => {
    await page.addInitScript(() => {
      navigator.storage.estimate = () => Promise.resolve({ quota: 1000, usage: 900 })
    })
    await page.goto('/?test')
    const { WavEncoder, wavHeader } = await import('../src/formats/wav-write')
    const info = {
      format: 'wav16' as const,
      channels: 1 as const,
      sampleRate: 48000,
      frames: 960000,
      seed: 1,
    }
    await importAudio(page, {
      name: 'long.wav',
      mimeType: 'audio/wav',
      buffer: Buffer.concat([wavHeader(info), new WavEncoder(info).encode([new Float32Array(960000)])]),
    })
    await expect(
      page.getByText('This may need 4 MB of storage, and the browser’s allowance has about 1 MB left.'),
    ).toBeVisible()
    await expect(page.getByRole('region', { name: 'long' })).toBeVisible()
  },
)

test('a file that is changed after it was chosen is refused in words', async ({ page }) => {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'oaken-changed-'))
  const file = path.join(folder, 'sluice.wav')
  await fs.writeFile(file, exactWav([new Float32Array(48_000)], 48_000))
  await page.goto('/?test')
  await page.getByLabel('Import audio files').setInputFiles(file)
  await expect(page.getByRole('button', { name: 'Make the session' })).toBeVisible()
  await fs.appendFile(file, 'more')
  await page.getByRole('button', { name: 'Make the session' }).click()
  await expect(
    page.getByText(/sluice.*was changed or taken away while it was read: choose it again/).first(),
  ).toBeVisible()
  await fs.rm(folder, { recursive: true })
})

test(
  'no audio device: said in words, and the mix can still be exported',
  { tag: '@more' },
  async ({ page }) => {
    await page.addInitScript(() => {
      Object.assign(window, {
        AudioContext: class {
          constructor() {
            throw new DOMException('no device', 'NotSupportedError')
          }
        },
      })
    })
    await openSample(page)
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await expect(page.getByText('No audio device answers')).toBeVisible()
    await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible()
    const { channels } = await exported(page, 'WAV, 24 bit')
    expect(peakOf(channels[0]!)).toBeGreaterThan(0.1)
  },
)

test(
  'a page that comes apart says so; what was done is there when it is opened again',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await page.getByRole('slider', { name: 'Clip gain of walk-in, take 1' }).focus()
    await page.keyboard.press('ArrowUp')
    // From the second step on: what is still to be drawn of the first must not take the page away before it.
    await page.evaluate(() => {
      const { prototype } = CanvasRenderingContext2D
      const real = prototype.setTransform as (...args: unknown[]) => void
      prototype.setTransform = function (this: CanvasRenderingContext2D, ...args: unknown[]) {
        const { session } = window.oakenThread.getState().session
        if (Object.values(session?.regions ?? {}).some(({ clipGainDb }) => clipGainDb === 2))
          throw new TypeError('no picture can be drawn')
        real.apply(this, args)
      }
    })
    await page.keyboard.press('ArrowUp')
    await expect(page.getByRole('heading', { name: 'This page has come apart.' })).toBeVisible()
    await expect(page.getByRole('main')).toContainText('TypeError: no picture can be drawn')
    await page.evaluate(() => window.oakenThread.whenSaved())
    await page.getByRole('button', { name: 'Open it again' }).click()
    await expect(page.getByTestId('timeline')).toBeVisible()
    expect(
      Object.values((await sessionOf(page)).regions).find((r) => r.name === 'walk-in, take 1')!.clipGainDb,
    ).toBe(2)
  },
)

test(
  'a storage that does not answer is said after a while, with a way to try again',
  { tag: '@more' },
  async ({ page }) => {
    await page.addInitScript(() => {
      // Requests that never succeed nor fail.
      IDBFactory.prototype.open = () => new EventTarget() as IDBOpenDBRequest
    })
    await page.goto('/session/tide-mill?test')
    await expect(page.getByRole('heading', { name: 'Opening the session' })).toBeVisible()
    await expect(page.getByRole('alert')).toContainText('has not answered for a while')
    await page.getByRole('button', { name: 'Try again' }).click()
    await expect(page.getByRole('alert')).toHaveCount(0)
    await page.goto('/?test')
    await expect(page.getByRole('alert')).toContainText('has not answered for a while')
  },
)

test(
  'an empty folder that is dropped, and a text that is taken for sound, are said',
  { tag: '@more' },
  async ({ page }) => {
    await page.goto('/?test')
    await expect(page.getByRole('heading', { name: 'Sessions' })).toBeVisible()
    await page.evaluate(() => {
      const drop = Object.assign(new Event('drop', { bubbles: true, cancelable: true }), {
        dataTransfer: { types: ['Files'], files: [], items: [] },
      })
      document.querySelector('main')!.dispatchEvent(drop)
    })
    // It is said to readers of the screen, too.
    await expect(page.getByText('the folder is empty').first()).toBeVisible()
    await importAudio(page, {
      name: 'notes.txt',
      mimeType: 'text/plain',
      buffer: Buffer.alloc(31_000_000, 'Dear diary. '),
    })
    await expect(page.getByRole('dialog')).toContainText('is not a sound file that this browser can decode')
  },
)

test(
  'nothing is said on the console on the way from the whole session down to single samples',
  { tag: '@more' },
  async ({ page }) => {
    const said: string[] = []
    page.on('console', (message) => message.type() === 'error' && said.push(message.text()))
    page.on('pageerror', (error) => said.push(error.message))
    await openSample(page)
    const area = (await page.getByTestId('timeline').boundingBox())!
    for (const across of [0.05, 0.5, 0.97]) {
      await page.mouse.move(area.x + area.width * across, area.y + 100)
      await page.keyboard.down('Control')
      for (let i = 0; i < 40; i++) await page.mouse.wheel(0, -400)
      await expect
        .poll(() => page.evaluate(() => window.oakenThread.getState().navigation.view.framesPerPixel))
        .toBeLessThan(0.05)
      for (let i = 0; i < 60; i++) await page.mouse.wheel(0, 400)
      await page.keyboard.up('Control')
    }
    expect(said).toEqual([])
  },
)

test(
  'an export goes on when its page is left: other pages show it, and hand its file over',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await page.getByRole('link', { name: 'Export' }).click()
    await page.getByRole('button', { name: 'Render the mix' }).click()
    await page.getByRole('link', { name: 'Back to the session' }).click()
    await expect(page.getByTestId('timeline')).toBeVisible()
    await expect(page.getByRole('progressbar', { name: /^(Preparing|Rendering|Reading)/ })).toBeVisible()
    const waiting = page.waitForEvent('download')
    await page.getByRole('button', { name: 'Download' }).click()
    const file = await waiting
    expect(file.suggestedFilename()).toBe('The Tide Mill - mix.wav')
    expect((await fs.stat((await file.path())!)).size).toBeGreaterThan(90 * 48000 * 6)
    // Its own page has it, too.
    await page.getByRole('link', { name: 'Export' }).click()
    await expect(page.getByRole('status').filter({ hasText: 'Highest peak' })).toBeVisible()
  },
)
