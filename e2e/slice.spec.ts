import { execFileSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { expect } from '@playwright/test'
import { bytesOf } from '../src/formats/bytes'
import { readPackage } from '../src/formats/package'
import { writePackage } from '../src/formats/package.test-util'
import { decodeWav, readWavHeader } from '../src/formats/wav-read'
import { test } from './fixtures'
import {
  exported,
  drag,
  firstDifference,
  fromRoot,
  middleOf,
  openSample,
  peakOf,
  playedLive,
  regionGroup,
  sessionOf,
  throughRing,
  whenSaved,
  importAudio,
} from './support'

test('hear the sample session, turn one region down, fade it, take home a file that equals what was heard', async ({
  page,
}, info) => {
  await openSample(page)
  // Turn the region with the shouted line down by typing, and fade it in by its handle.
  const region = regionGroup(page, 'wheel pit, take 2')
  await region.click({ position: { x: 20, y: 20 } })
  await page.getByLabel('Clip gain', { exact: true }).fill('-7.5')
  await page.keyboard.press('Enter')
  await region.hover({ position: { x: 20, y: 20 } })
  const handle = await middleOf(page.getByRole('slider', { name: 'Fade in of wheel pit, take 2' }))
  await drag(page, handle, { dx: 30 })
  await page.getByRole('button', { name: 'Equal power' }).first().click()
  const session = await sessionOf(page)
  expect(session.regions.n2).toMatchObject({ clipGainDb: -7.5, fadeIn: { curve: 'equal-power' } })
  expect(session.regions.n2!.fadeIn!.length).toBeGreaterThan(48000)

  // What is heard in real time, across the region's start.
  const heard = await playedLive(page, 19.9, 2.5)
  expect(heard.channels[0]!.length).toBeGreaterThanOrEqual(2.5 * 48000)

  const ring = await throughRing(page, 0, 90 * 48000)
  const file = await exported(page, 'WAV, 32-bit float')
  expect(file.name).toBe('The Tide Mill - mix.wav')
  expect(file.said).toMatch(/Highest peak −\d+\.\d+ dBFS\. Nothing clipped\./)
  expect(file.header).toMatchObject({ frames: 90 * 48000, channels: 2, sampleRate: 48000 })
  expect(file.header.cues.map((c) => c.name)).toContain('wheel pit')

  // The whole of what went through the ring, and all that was heard live, is the file to the bit.
  for (const c of [0, 1]) {
    expect(firstDifference(ring[c]!, file.channels[c]!)).toBe(-1)
    expect(
      firstDifference(
        heard.channels[c]!,
        file.channels[c]!.slice(heard.from, heard.from + heard.channels[c]!.length),
      ),
    ).toBe(-1)
  }

  // And so is what the command line makes of the same session.
  const sample = await readPackage(bytesOf(fs.readFileSync(fromRoot('public/sample/tide-mill.oaken.zip'))))
  const packed = info.outputPath('edited.oaken.zip')
  fs.mkdirSync(path.dirname(packed), { recursive: true })
  const audio = new Map<string, Uint8Array>()
  for (const { sha256 } of Object.values(sample.session.sources)) {
    const file = (await sample.audio(sha256))!
    audio.set(sha256, await file.read(0, file.size))
  }
  fs.writeFileSync(packed, writePackage(session, audio))
  const wav = info.outputPath('mix.wav')
  execFileSync(process.execPath, [
    fromRoot('cli/oaken.mjs'),
    'render',
    packed,
    '-o',
    wav,
    '--format',
    'wav32f',
  ])
  const bytes = fs.readFileSync(wav)
  const header = await readWavHeader(bytesOf(bytes))
  const channels = decodeWav(header, bytes.subarray(header.dataFrom, header.dataFrom + header.frames * 8), 0)
  for (const c of [0, 1]) expect(firstDifference(channels[c]!, file.channels[c]!)).toBe(-1)

  // The region really is 7.5 dB lower where nothing else sounds louder: compare with the untouched render.
  const narrator = async (name: string, ...more: string[]) => {
    const to = path.join(path.dirname(wav), name)
    const stretch = ['--from', '29', '--to', '30', '--track', 'Narrator', '--format', 'wav32f', ...more]
    execFileSync(process.execPath, [fromRoot('cli/oaken.mjs'), 'render', packed, '-o', to, ...stretch])
    const bytes = fs.readFileSync(to)
    const { dataFrom, frames } = await readWavHeader(bytesOf(bytes))
    let sum = 0
    for (let at = dataFrom; at < dataFrom + frames * 8; at += 4) sum += bytes.readFloatLE(at) ** 2
    return 10 * Math.log10(sum)
  }
  expect((await narrator('shaped.wav')) - (await narrator('plain.wav', '--unshaped'))).toBeCloseTo(-7.5, 3)
})

test(
  'exports 16 bit with dither, can be cancelled, and says when the mix clips',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await page.getByRole('button', { name: /^Mix all tracks/ }).click()
    await page.getByLabel('Volume of the mix', { exact: true }).fill('+12')
    await page.keyboard.press('Enter')
    await whenSaved(page)
    await page.getByRole('link', { name: 'Export' }).click()
    await page.getByRole('radio', { name: 'WAV, 16 bit' }).check()
    await page.getByRole('button', { name: 'Render the mix' }).click()
    await page.getByRole('button', { name: 'Cancel' }).click()
    await expect(page.getByRole('button', { name: 'Render the mix' })).toBeVisible()
    await page.goBack()
    const file = await exported(page, 'WAV, 16 bit')
    expect(file.said).toMatch(
      /Highest peak 0\.0 dBFS\. \d+ samples clipped: the sound reached \+(\d+\.\d) dBFS\. Lower the mix by \1 dB/,
    )
    expect(file.header.bitsPerSample).toBe(16)
    expect(peakOf(file.channels[0]!.subarray(25 * 48000, 35 * 48000))).toBeGreaterThan(0.9)
  },
)

test('a 1 kHz sine comes out of the page as the formula says', async ({ page }) => {
  const frames = 96000
  const { wavHeader, WavEncoder } = await import('../src/formats/wav-write')
  const sine = Float32Array.from(
    { length: frames },
    (_, n) => 0.1 * Math.sin((2 * Math.PI * 1000 * n) / 48000),
  )
  const info = { format: 'wav32f' as const, channels: 1 as const, sampleRate: 48000, frames, seed: null }
  await page.goto('/?test')
  await importAudio(page, {
    name: 'sine.wav',
    mimeType: 'audio/wav',
    buffer: Buffer.concat([wavHeader(info), new WavEncoder(info).encode([sine])]),
  })
  await expect(page.getByTestId('timeline')).toBeVisible()
  await regionGroup(page, 'sine').click({ position: { x: 200, y: 30 } })
  for (const [label, value] of [
    ['Clip gain', '-6 dB'],
    ['Fade in', '1 s'],
  ] as const) {
    await page.getByLabel(label, { exact: true }).fill(value)
    await page.keyboard.press('Enter')
  }
  for (const [label, value] of [
    ['Volume of sine', '-3'],
    ['Pan of sine', 'R50'],
  ] as const) {
    await page.getByLabel(label, { exact: true }).fill(value)
    await page.keyboard.press('Enter')
  }
  const { channels } = await exported(page, 'WAV, 32-bit float')
  const worst = (c: number, pan: number) =>
    channels[c]!.reduce(
      (most, x, n) => Math.max(most, Math.abs(x - sine[n]! * 10 ** (-9 / 20) * Math.min(1, n / 48000) * pan)),
      0,
    )
  expect(worst(0, Math.cos((0.75 * Math.PI) / 2))).toBeLessThan(1e-6)
  expect(worst(1, Math.sin((0.75 * Math.PI) / 2))).toBeLessThan(1e-6)
})

test(
  'without shared memory blocks travel by message: it is said, and what is heard is still what is rendered',
  { tag: '@more' },
  async ({ page }) => {
    await page.route('**/*', async (route) => {
      const response = await route.fetch()
      const headers = { ...response.headers() }
      delete headers['cross-origin-opener-policy']
      delete headers['cross-origin-embedder-policy']
      await route.fulfill({ response, headers })
    })
    await openSample(page)
    expect(await page.evaluate(() => window.crossOriginIsolated)).toBe(false)
    await expect(page.getByText('without shared memory')).toBeVisible()
    const heard = await playedLive(page, 21, 1.5)
    expect(heard.channels[0]!.length).toBeGreaterThanOrEqual(1.5 * 48000)
    expect(peakOf(heard.channels[0]!)).toBeGreaterThan(0.05)
    const file = await exported(page, 'WAV, 32-bit float')
    for (const c of [0, 1])
      expect(
        firstDifference(
          heard.channels[c]!,
          file.channels[c]!.slice(heard.from, heard.from + heard.channels[c]!.length),
        ),
      ).toBe(-1)
  },
)
