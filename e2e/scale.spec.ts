import { expect, type Page } from '@playwright/test'
import { createSession, createTrack } from '../src/core/model/create'
import type { Knot, Region, Session, Track } from '../src/core/model/session'
import { exactWav } from '../src/formats/package'
import { writePackage } from '../src/formats/package.test-util'
import { samplesHash } from '../src/formats/samples-hash.test-util'
import { test } from './fixtures'
import { comparedFrames, framesOf, frameWords, type Doing } from './frames'
import { openPackage, openSample, playedOn } from './support'

/** A package with so many tracks of so many regions of one second of sound each, `shape` for the lanes of each. */
function large(
  tracks: number,
  shape: (track: Track) => Track = (track) => track,
  regions = 20,
): Uint8Array<ArrayBuffer> {
  const sound = [
    Float32Array.from(
      { length: 48000 },
      (_, n) => Math.round(Math.sin(n / 20) * Math.exp(-n / 20000) * 16000) / 32768,
    ),
  ]
  const session: Session = {
    ...createSession('tide-mill', 'Large', 48000),
    sources: {
      s: {
        id: 's',
        name: 's.wav',
        channels: 1,
        frames: 48000,
        sampleRate: 48000,
        sha256: samplesHash(sound),
      },
    },
  }
  for (let t = 0; t < tracks; t++) {
    session.trackIds.push(`t${t}`)
    session.tracks[`t${t}`] = shape(createTrack(`t${t}`, `Track ${t + 1}`, 1, t))
    for (let r = 0; r < regions; r++) {
      const region: Region = {
        id: `r${t}-${r}`,
        trackId: `t${t}`,
        sourceId: 's',
        start: r * 60000 + t * 100,
        offset: 0,
        length: 48000,
        name: `hit ${r + 1}`,
        clipGainDb: -(r % 7),
        polarity: 1,
        reversed: false,
        muted: false,
        gainThreadId: null,
        fadeIn: null,
        fadeOut: null,
      }
      session.regions[region.id] = region
    }
  }
  return writePackage(session, new Map([[session.sources.s!.sha256, exactWav(sound, 48000)]]))
}

/** How many times as long as adding up 200,000 sines on the same machine a frame may take. */
const MOST = 6

/** Says how long frames took, and that they are no slower than they should be. */
/** Does something in frames, says how long they took, and that they are no slower than they should be. */
async function report(page: Page, what: string, doing: Doing, rounds = 3): Promise<void> {
  const { work, arithmetic, ratio } = await comparedFrames(page, doing, rounds)
  console.log(
    `${what} (median / p95 of a frame): ${frameWords(work)}; ${ratio.toFixed(2)} times the arithmetic ` +
      `beside it: ${frameWords(arithmetic)}`,
  )
  expect(ratio).toBeLessThan(MOST)
}

test(
  '200 tracks of all heights and 2000 regions: dragging the gain of all, scrolling, and a saved step',
  { tag: ['@alone', '@more'] },
  async ({ page }) => {
    // From a single line to a third of the screen.
    await page.addInitScript(() => {
      const rowHeights = Object.fromEntries(
        Array.from({ length: 200 }, (_, t) => [`t${t}`, [72, 28, 56, 72, 120, 40, 260][t % 7]]),
      )
      const place = { left: 0, framesPerPixel: 700, top: 0, openLanes: [], rowHeights }
      if (!localStorage.getItem('oaken-thread/places'))
        localStorage.setItem('oaken-thread/places', JSON.stringify({ 'tide-mill': place }))
    })
    await openPackage(
      page,
      large(200, (track) => track, 10),
    )
    // Seams and overloads of all are looked for first; the drag is measured at rest.
    await page.waitForTimeout(12_000)
    await page.keyboard.press('Control+a')
    const hem = page.getByRole('slider', { name: 'Clip gain of hit 5' }).first()
    const box = (await hem.boundingBox())!
    const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 }
    await report(page, '2000 regions dragged', { dragFrom: middle }, 1)
    await page.waitForTimeout(1500)
    await report(page, '200 tracks of all heights scrolled', 'scroll down')
    const { steps, session } = await page.evaluate(() => window.oakenThread.getState().session)
    expect(steps.map((s) => s.label)).toEqual([expect.stringMatching(/^Clip gain of 2000 regions /)])
    // All moved together: their differences are those of before.
    expect(session!.regions['r199-6']!.clipGainDb - session!.regions['r0-0']!.clipGainDb).toBeCloseTo(-6, 9)
    expect(session!.regions['r50-3']!.clipGainDb).toBeGreaterThan(-3)
    await page.evaluate(() => window.oakenThread.whenSaved())
    await page.keyboard.press('Control+z')
    expect(
      await page.evaluate(() => window.oakenThread.getState().session.session!.regions['r50-3']!.clipGainDb),
    ).toBe(-3)
  },
)

test(
  '24 tracks with 5000 knots each on volume and pan: played without a gap, scrolled and dragged',
  { tag: ['@alone', '@more'] },
  async ({ page }) => {
    // A knot every 10 ms and more, over 25 s of session.
    const knots = (low: number, high: number): Knot[] =>
      Array.from({ length: 5000 }, (_, i) => ({
        frame: i * 250,
        value: low + (high - low) * (0.5 + 0.5 * Math.sin(i / 7) * Math.cos(i / 31)),
        shape: 'line',
        bend: 0,
      }))
    const lanes = {
      volume: { bypassed: false, visible: true, knots: knots(0.3, 0.6) },
      pan: { bypassed: false, visible: true, knots: knots(-0.8, 0.8) },
    }
    await openPackage(
      page,
      large(24, (track) => ({ ...track, volumeDb: -24, lanes })),
    )
    await page.waitForTimeout(4000)
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    const { position, underruns } = await playedOn(page, 5)
    await page.getByRole('button', { name: 'Pause', exact: true }).click()
    console.log(
      `24 × 2 lanes of 5000 knots: ${(position / 48000).toFixed(1)} s played, ${underruns} underruns`,
    )
    expect(underruns).toBe(0)
    await page.getByRole('button', { name: /^Volume of the track/ }).click()
    for (let i = 0; i < 6; i++) await page.keyboard.press('i')
    await page.waitForTimeout(1500)
    await report(page, 'scrolling over these lanes', 'scroll')
    await page.waitForTimeout(1500)
    await report(page, 'scrolling down through the tracks and up again', 'scroll down')
    for (let i = 0; i < 6; i++) await page.keyboard.press('i')
    await page.waitForTimeout(1000)
    // A knot in sight, in the middle of the picture.
    const area = (await page.getByTestId('timeline').boundingBox())!
    const places = await page
      .getByTestId('timeline')
      .locator('[data-handle="knot"]')
      .evaluateAll((all) =>
        all.flatMap((knot) => {
          const { x, y, width, height } = knot.getBoundingClientRect()
          const middle = { x: x + width / 2, y: y + height / 2 }
          // One that lies on top, so that a hand can take it.
          return document.elementFromPoint(middle.x, middle.y) === knot ? [middle] : []
        }),
      )
    const knot = places.find(
      (p) => p.x > area.x + 300 && p.x < area.x + area.width - 100 && p.y < area.y + 80,
    )!
    const before = await page.evaluate(() =>
      JSON.stringify(window.oakenThread.getState().session.session!.tracks.t0!.lanes.volume!.knots.length),
    )
    await report(page, 'dragging a knot among them', { dragFrom: knot }, 1)
    const { steps, session } = await page.evaluate(() => window.oakenThread.getState().session)
    expect(steps).toHaveLength(1)
    expect(String(session!.tracks.t0!.lanes.volume!.knots.length)).toBe(before)
  },
)

test('scrolling the sample session: frame times', { tag: '@alone' }, async ({ page }) => {
  await openSample(page)
  for (let i = 0; i < 4; i++) await page.keyboard.press('i')
  console.log(`standing still: ${frameWords(await framesOf(page, 180, 'rest'))}`)
  const before = await page.evaluate(() => window.oakenThread.getState().navigation.view.left)
  await report(page, 'scrolling the sample session', 'scroll')
  const after = await page.evaluate(() => window.oakenThread.getState().navigation.view.left)
  // There and back again, without a frame's scroll lost on the way.
  expect(Math.abs(after - before)).toBeLessThan(1)
})
