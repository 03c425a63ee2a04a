import { expect } from '@playwright/test'
import { flacFile } from '../src/formats/flac-encode.test-util'
import { samplesHash } from '../src/formats/samples-hash.test-util'
import { WavEncoder, wavHeader, type WavFormat } from '../src/formats/wav-write'
import { test } from './fixtures'
import { sessionOf, whenSaved, reload, importAudio } from './support'

function wav(format: WavFormat, sampleRate: number, channels: 1 | 2, seconds = 0.5): Buffer {
  const frames = Math.round(sampleRate * seconds)
  const info = { format, channels, sampleRate, frames, seed: 1 }
  const tone = Float32Array.from(
    { length: frames },
    (_, n) => 0.5 * Math.sin((2 * Math.PI * 440 * n) / sampleRate),
  )
  return Buffer.concat([wavHeader(info), new WavEncoder(info).encode(channels === 1 ? [tone] : [tone, tone])])
}

const file = (name: string, buffer: Buffer) => ({ name, mimeType: 'audio/wav', buffer })

/** A good file with some bytes of its header replaced. */
function changed(at: number, bytes: number[]): Buffer {
  const b = wav('wav16', 48000, 1)
  Buffer.from(bytes).copy(b, at)
  return b
}

test.use({ fresh: true })

test('a drop of good and bad files: each bad one gets a sentence, the good ones become one session at one rate', async ({
  page,
}) => {
  await page.goto('/?test')
  const nan = wav('wav32f', 48000, 1)
  nan.writeUInt32LE(0x7fc00000, nan.length - 400)
  const infinite = wav('wav32f', 48000, 1)
  infinite.writeUInt32LE(0x7f800000, infinite.length - 400)
  const long = `<b onclick="alert(1)">${'a'.repeat(9980)}</b>.wav`
  await importAudio(page, [
    file('mono 48k.wav', wav('wav24', 48000, 1)),
    file('empty.wav', Buffer.alloc(0)),
    file('words.wav', Buffer.from('these are only words')),
    file('cut header.wav', wav('wav16', 48000, 1).subarray(0, 30)),
    file('cut data.wav', wav('wav16', 48000, 1).subarray(0, 4000)),
    file('liar.wav', changed(40, [255, 255, 255, 127])),
    file('no frames.wav', changed(40, [0, 0, 0, 0])),
    file('no channels.wav', changed(22, [0, 0])),
    file('six.wav', changed(22, [6, 0])),
    file('nan.wav', nan),
    file('infinite.wav', infinite),
    file('rate 0.wav', changed(24, [0, 0, 0, 0])),
    file('rate 10M.wav', changed(24, [0x80, 0x96, 0x98, 0])),
    file(long, wav('wav16', 48000, 1)),
    file('stereo 44k1.wav', wav('wav16', 44100, 2)),
    file('mono 96k.wav', wav('wav32f', 96000, 1)),
  ])
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByRole('heading', { name: '13 files were not imported' })).toBeVisible()
  await expect(dialog).toContainText('The other 3 were imported.')
  const items = await dialog.getByRole('listitem').allInnerTexts()
  const said: [string, RegExp][] = [
    ['empty.wav', /is empty/],
    ['words.wav', /is not a WAV file/],
    ['cut header.wav', /middle of its header/],
    ['cut data.wav', /cut off/],
    ['liar.wav', /announces 2147483647 bytes/],
    ['no frames.wav', /0 frames/],
    ['no channels.wav', /0 channels/],
    ['six.wav', /6 channels/],
    ['nan.wav', /not a number/],
    ['infinite.wav', /Infinity/],
    ['rate 0.wav', /0 Hz/],
    ['rate 10M.wav', /10000000 Hz/],
    ['<b onclick', new RegExp(`name of ${long.length} characters`)],
  ]
  expect(items).toHaveLength(said.length)
  said.forEach(([name, words], i) => {
    expect(items[i]).toContain(name)
    expect(items[i]).toMatch(words)
    expect(items[i]!.length).toBeLessThan(300)
  })
  await dialog.getByRole('button', { name: 'Open the session' }).click()
  await expect(page.getByTestId('timeline')).toBeVisible()
  const session = await sessionOf(page)
  expect(session.trackIds.map((id) => [session.tracks[id]!.name, session.tracks[id]!.channels])).toEqual([
    ['mono 48k', 1],
    ['stereo 44k1', 2],
    ['mono 96k', 1],
  ])
  expect(Object.values(session.sources).map((s) => [s.frames, s.sampleRate])).toEqual([
    [24000, 48000],
    [24000, 48000],
    [24000, 48000],
  ])
})

test(
  'nothing but bad files makes no session and leaves nothing in the storage',
  { tag: '@more' },
  async ({ page }) => {
    await page.goto('/?test')
    await importAudio(page, [
      file('words.wav', Buffer.from('these are only words')),
      file('cut data.wav', wav('wav32f', 44100, 2, 4).subarray(0, 900_000)),
    ])
    await expect(page.getByRole('dialog')).toContainText('Nothing was changed.')
    await page.getByRole('button', { name: 'Close' }).click()
    await expect(page.getByRole('list', { name: 'Sessions' }).getByRole('listitem')).toHaveCount(1)
    const kept = await page.evaluate(async () => {
      const counts: Record<string, number> = {}
      for (const { name } of await indexedDB.databases()) {
        counts[name!] = await new Promise<number>((resolve) => {
          const open = indexedDB.open(name!)
          open.onsuccess = () => {
            const stores = [...open.result.objectStoreNames].filter((s) => s === 'keyvaluepairs')
            if (stores.length === 0) return resolve(0)
            const count = open.result.transaction(stores).objectStore(stores[0]!).count()
            count.onsuccess = () => resolve(count.result)
          }
        })
      }
      return counts
    })
    expect(Object.values(kept).reduce((a, b) => a + b, 0)).toBe(0)
  },
)

test('a new session takes files dropped on it, each on a track, as one step that can be undone', async ({
  page,
}) => {
  await page.goto('/?test')
  await page.getByRole('button', { name: 'New session' }).click()
  await page.getByRole('button', { name: 'Make it' }).click()
  await expect(page.getByText('Drop recordings here')).toBeVisible()
  await importAudio(page, [file('one.wav', wav('wav16', 48000, 1)), file('two.wav', wav('wav16', 48000, 2))])
  await expect(page.getByRole('region', { name: 'two' })).toBeVisible()
  expect((await sessionOf(page)).trackIds).toHaveLength(2)
  // All of it is seen, and not much else; so it is after a longer file has come.
  const seen = async (seconds: number) => {
    await expect
      .poll(() =>
        page.evaluate(() => {
          const { left, width, framesPerPixel } = window.oakenThread.getState().navigation.view
          return left === 0 ? (width * framesPerPixel) / 48000 : 0
        }),
      )
      .toBeCloseTo(seconds * 1.04, 2)
  }
  await seen(0.5)
  await importAudio(page, [file('long.wav', wav('wav16', 48000, 1, 4))])
  await expect(page.getByRole('region', { name: 'long' })).toBeVisible()
  await seen(4)
  await page.getByRole('button', { name: 'Untitled session' }).dblclick()
  await page.getByLabel('Title of the session').fill('Ferry')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'Ferry' })).toBeVisible()
  for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z')
  await page.getByRole('button', { name: /^Undo: Import 2 files/ }).click()
  await expect(page.getByText('Drop recordings here')).toBeVisible()
  await page.getByRole('button', { name: /^Redo: Import 2 files/ }).click()
  await whenSaved(page)
  await reload(page)
  await expect(page.getByRole('region', { name: 'two' })).toBeVisible()
})

test('leaving the page in the middle of an import asks first', { tag: '@more' }, async ({ page }) => {
  await page.goto('/?test')
  // Browsers ask only on pages that somebody has touched.
  await page.getByRole('heading', { name: 'Sessions' }).click()
  await importAudio(page, [file('long.wav', wav('wav24', 44100, 2, 60))])
  await expect(page.getByRole('progressbar')).toBeVisible()
  const asked = page.waitForEvent('dialog')
  const leaving = page.close({ runBeforeUnload: true })
  const dialog = await asked
  expect(dialog.type()).toBe('beforeunload')
  await dialog.dismiss()
  await leaving
  // The import goes on, and what it made is there.
  await expect(page.getByTestId('timeline')).toBeVisible({ timeout: 120_000 })
  expect(Object.keys((await sessionOf(page)).regions)).toHaveLength(1)
})

test('files go where their time stamps or the dialog say, in a row or each on a track, at the rate that was chosen', async ({
  page,
}) => {
  const stamped = (seconds: number) => {
    const info = { format: 'wav24' as const, channels: 1 as const, sampleRate: 48000, frames: 4800, seed: 1 }
    const broadcast = { description: 'take', timeReference: seconds * 48000, writtenAt: new Date(0) }
    const sound = new WavEncoder(info).encode([new Float32Array(4800).fill(0.25)])
    return Buffer.concat([wavHeader({ ...info, broadcast }), sound])
  }
  await page.goto('/?test')
  await page
    .getByLabel('Import audio files')
    .setInputFiles([
      file('b.wav', stamped(36_010)),
      file('a.wav', stamped(36_002)),
      file('c.wav', wav('wav16', 44100, 2)),
    ])
  const dialog = page.getByRole('dialog', { name: 'New session of 3 files' })
  await expect(dialog.getByLabel('Sample rate')).toHaveValue('48000')
  await dialog.getByLabel('Sample rate').selectOption('96 kHz')
  await dialog.getByLabel('Title').fill('Low water')
  await dialog.getByLabel('Apart as their time stamps are, the first at the start').check()
  await dialog.getByLabel('One track, one after another').check()
  await dialog.getByRole('button', { name: 'Make the session' }).click()
  await expect(page.getByRole('heading', { name: 'Low water' })).toBeVisible()
  const placed = async () => {
    const { regions, tracks, trackIds, sampleRate } = await sessionOf(page)
    return {
      sampleRate,
      tracks: trackIds.map((id) => tracks[id]!.name),
      starts: Object.fromEntries(Object.values(regions).map((r) => [r.name, r.start / sampleRate])),
    }
  }
  expect(await placed()).toEqual({ sampleRate: 96000, tracks: ['b', 'c'], starts: { a: 0, b: 8, c: 0 } })

  // Into the open session: at the playhead is proposed; ten hours later is a place, too.
  await page.evaluate(() => window.oakenThread.getPlayer().seek(3 * 96000))
  await importAudio(page, [file('d.wav', wav('wav16', 48000, 1))])
  await expect(page.getByRole('region', { name: 'd' })).toBeVisible()
  expect((await placed()).starts.d).toBe(3)
  await page.getByLabel('Import audio files').setInputFiles([file('e.wav', stamped(3600))])
  await page.getByRole('dialog').getByLabel('At their time stamps, the first at 60:00.000').check()
  await page.getByRole('button', { name: 'Import', exact: true }).click()
  await expect.poll(async () => (await placed()).starts.e).toBe(3600)
  // Later than a session can be: a sentence, and no region.
  await page.getByLabel('Import audio files').setInputFiles([file('f.wav', stamped(80_000))])
  await page
    .getByRole('dialog')
    .getByLabel(/^At their time stamps/)
    .check()
  await page.getByRole('button', { name: 'Import', exact: true }).click()
  await expect(page.getByRole('dialog', { name: 'One file was not imported' })).toContainText(
    'later than a session can be long',
  )
})

test(
  'AIFF and FLAC come in at their full depth, and an import that a reload cuts off leaves what was finished, as one step',
  { tag: '@more' },
  async ({ page }) => {
    const sound = Float32Array.from({ length: 24000 }, (_, n) => Math.round(Math.sin(n / 9) * 6e6) / 8388608)
    const flac = Buffer.from(await flacFile([Int32Array.from(sound, (x) => x * 8388608)], 48000, 24))
    const big = (n: number, bytes: number) => {
      const b = Buffer.alloc(bytes)
      b.writeIntBE(n, 0, bytes)
      return b
    }
    const samples = Buffer.concat(Array.from(sound, (x) => big(x * 8388608, 3)))
    const common = Buffer.concat([
      big(1, 2),
      big(24000, 4),
      big(24, 2),
      Buffer.from('400ebb80000000000000', 'hex'),
    ])
    const form = Buffer.concat([
      Buffer.from('AIFFCOMM'),
      big(18, 4),
      common,
      Buffer.from('SSND'),
      big(samples.length + 8, 4),
      Buffer.alloc(8),
      samples,
    ])
    const aiff = Buffer.concat([Buffer.from('FORM'), big(form.length, 4), form])
    await page.goto('/?test')
    await page.getByRole('button', { name: 'New session' }).click()
    await page.getByRole('button', { name: 'Make it' }).click()
    // The list has a way to import, too.
    await expect(page.getByText('Drop recordings here')).toBeVisible()
    await importAudio(page, [
      file('one.flac', flac),
      file('two.aif', aiff),
      file('long.wav', wav('wav24', 44100, 2, 90)),
    ])
    // The first two are in the session while the third is still being read.
    await expect(page.getByRole('region', { name: 'two' })).toBeVisible()
    await expect(page.getByRole('progressbar')).toBeVisible()
    await whenSaved(page)
    page.on('dialog', (dialog) => void dialog.accept())
    await reload(page)
    await expect(page.getByRole('region', { name: 'two' })).toBeVisible()
    const { sources, regions } = await sessionOf(page)
    const expected = samplesHash([sound])
    expect(Object.values(sources).map((s) => [s.name, s.sha256 === expected, s.origin!.format])).toEqual([
      ['one.flac', true, '24-bit FLAC'],
      ['two.aif', true, '24-bit'],
    ])
    expect(Object.keys(regions)).toHaveLength(2)
    await page.getByRole('button', { name: /^Undo: Import 2 files/ }).click()
    await expect(page.getByText('Drop recordings here')).toBeVisible()
  },
)
