import { expect } from '@playwright/test'
import { WavEncoder, wavHeader, type WavFormat } from '../src/formats/wav-write'
import { test } from './fixtures'
import { sessionOf, whenSaved, reload } from './support'

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
  await page
    .getByLabel('Import audio files')
    .setInputFiles([
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
  await expect(dialog.getByRole('heading', { name: '13 files were not imported' })).toBeVisible({
    timeout: 20_000,
  })
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

test('nothing but bad files makes no session and leaves nothing in the storage', async ({ page }) => {
  await page.goto('/?test')
  await page
    .getByLabel('Import audio files')
    .setInputFiles([
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
})

test('a new session takes files dropped on it, each on a track, as one step that can be undone', async ({
  page,
}) => {
  await page.goto('/?test')
  await page.getByRole('button', { name: 'New session' }).click()
  await expect(page.getByText('Drop recordings here')).toBeVisible()
  await page
    .getByLabel('Import audio files')
    .setInputFiles([file('one.wav', wav('wav16', 48000, 1)), file('two.wav', wav('wav16', 48000, 2))])
  await expect(page.getByRole('region', { name: 'two' })).toBeVisible()
  expect((await sessionOf(page)).trackIds).toHaveLength(2)
  // All of it is seen, and not much else; so it is after a longer file has come.
  const seen = async (seconds: number) => {
    await expect
      .poll(() =>
        page.evaluate(() => {
          const { left, width, framesPerPixel } = window.oakenThread.getState().view.view
          return left === 0 ? (width * framesPerPixel) / 48000 : 0
        }),
      )
      .toBeCloseTo(seconds * 1.04, 2)
  }
  await seen(0.5)
  await page.getByLabel('Import audio files').setInputFiles([file('long.wav', wav('wav16', 48000, 1, 4))])
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

test('leaving the page in the middle of an import asks first', async ({ page }) => {
  await page.goto('/?test')
  // Browsers ask only on pages that somebody has touched.
  await page.getByRole('heading', { name: 'Sessions' }).click()
  await page.getByLabel('Import audio files').setInputFiles([file('long.wav', wav('wav24', 44100, 2, 60))])
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
