import { expect, type Page } from '@playwright/test'
import { createRegion, createSession, createTrack } from '../src/core/model/create'
import type { Session } from '../src/core/model/session'
import { seededRandom } from '../src/core/units/random'
import { exactWav } from '../src/formats/package'
import { writePackage } from '../src/formats/package.test-util'
import { samplesHash } from '../src/formats/samples-hash.test-util'
import { test } from './fixtures'
import { chooseCopy, openPackage, sessionOf, throughRing } from './support'

const RATE = 48_000
const FRAMES = 6 * RATE
const LATER = 24

/** Two microphones at one drum, as a group: the second is turned round, and hears it some samples later. */
function pairPackage(): Uint8Array<ArrayBuffer> {
  const random = seededRandom(5)
  const top = Float32Array.from({ length: FRAMES }, () => 0.2 * (random() - 0.5))
  // Half of each frame is the one before: what is heard agrees a little with itself a few samples later.
  for (let n = 1; n < FRAMES; n++) top[n] = 0.5 * top[n]! + 0.5 * top[n - 1]!
  const under = top.map((_, n) => (n < LATER ? 0 : -top[n - LATER]!))
  const session: Session = createSession('tide-mill', 'Two microphones', RATE)
  const audio = new Map<string, Uint8Array>()
  for (const [n, samples] of [top, under].entries()) {
    const [id, name] = [`t${n}`, n ? 'Gate under' : 'Gate top']
    const sha256 = samplesHash([samples])
    audio.set(sha256, exactWav([samples], RATE))
    session.trackIds.push(id)
    session.tracks[id] = createTrack(id, name, 1, n)
    session.sources[id] = { id, name: `${id}.wav`, channels: 1, frames: FRAMES, sampleRate: RATE, sha256 }
    session.regions[id] = createRegion(id, id, session.sources[id], RATE, name)
  }
  session.groups = [{ id: 'g', name: 'Gate', trackIds: ['t0', 't1'] }]
  return writePackage(session, audio)
}

const command = async (page: Page, text: string) => {
  await page.keyboard.press('Control+k')
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}

test('two microphones of a group are inverted and shifted one against the other, and then agree', async ({
  page,
}) => {
  await openPackage(page, pairPackage())
  await page.getByRole('region', { name: 'Gate top', exact: true }).click({ position: { x: 60, y: 4 } })
  await page
    .getByRole('region', { name: 'Gate under', exact: true })
    .click({ position: { x: 60, y: 4 }, modifiers: ['Shift'] })
  await command(page, 'left and right, and phase')
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText('Compared as they leave their inserts.')).toBeVisible()
  // Inverted first: only then the shift is offered.
  await expect(dialog.getByText('invert it first')).toBeVisible()
  await expect(dialog.getByRole('button', { name: /^Shift/ })).toHaveCount(0)
  await dialog.getByRole('button', { name: /^Invert “Gate under”/ }).click()
  await dialog.getByRole('button', { name: /^Shift “Gate under” by 24 samples earlier/ }).click()
  await expect(dialog.getByText(/1\.00: they go together/)).toBeVisible()
  await page.keyboard.press('Escape')
  const { regions, tracks } = await sessionOf(page)
  expect(Object.values(tracks).map(({ polarity }) => polarity)).toEqual([1, -1])
  expect(Object.values(regions).map(({ start }) => start)).toEqual([RATE, RATE - LATER])
  // Both together are twice one of them, where they cancelled before.
  const both = await throughRing(page, 2 * RATE, RATE)
  await page.getByRole('button', { name: 'Mute Gate under' }).click()
  const one = await throughRing(page, 2 * RATE, RATE)
  const rms = (x: Float32Array) => Math.sqrt(x.reduce((sum, v) => sum + v * v, 0) / x.length)
  expect(rms(both[0]!) / rms(one[0]!)).toBeCloseTo(2, 3)

  // An insert put on one of two selected heads reaches both, as one step.
  await command(page, 'add an insert to the track: compressor')
  const kinds = async () =>
    Object.values((await sessionOf(page)).tracks).map(({ inserts }) => inserts.map(({ kind }) => kind))
  expect(await kinds()).toEqual([['compressor'], ['compressor']])
  await page.keyboard.press('Control+z')
  expect(await kinds()).toEqual([[], []])
})

test('a sound or the text of a session, chosen as a copy, is told what it is, and goes in by the right door', async ({
  page,
}) => {
  await page.goto('/?test')
  const samples = Float32Array.from({ length: RATE }, (_, n) => 0.1 * Math.sin(n / 20))
  await chooseCopy(page, 'sluice.wav', exactWav([samples], RATE))
  await expect(page.getByText('“sluice.wav” is a sound, not a copy of a session.').first()).toBeVisible()
  const text = JSON.stringify(createSession('one', 'One', RATE))
  await chooseCopy(page, 'session.json', Buffer.from(text))
  await expect(page.getByText(/“session\.json” is the session of an unpacked copy/).first()).toBeVisible()
  await page.getByRole('button', { name: 'Import it as a new session' }).click()
  await page.getByRole('button', { name: 'Make the session' }).click()
  await expect(page.getByRole('region', { name: 'sluice', exact: true })).toBeVisible()
  expect(Object.values((await sessionOf(page)).regions)).toMatchObject([{ length: RATE }])
})
