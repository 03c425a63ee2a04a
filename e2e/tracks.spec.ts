import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { manyTracks, renderedHere } from './many-tracks'
import { exported, firstDifference, openPackage, playedLive, sessionOf, throughRing } from './support'

/** The long form runs by `npm run endure`. */
const LONG = process.env.ENDURE === '1'
const [TRACKS, SECONDS] = LONG ? [200, 30] : [90, 4]

const notices = (page: Page) => page.evaluate(() => window.oakenThread.getState().transport.notices)
const position = (page: Page) => page.evaluate(() => window.oakenThread.getPlayer().position() / 48000)
const underruns = (page: Page) => page.evaluate(() => window.oakenThread.getPlayer().underruns)

/** Marks a range by holding R and sweeping over the timeline, and loops it. */
async function loopOver(page: Page, from: number, to: number): Promise<void> {
  const area = (await page.getByTestId('timeline').boundingBox())!
  const { view } = await page.evaluate(() => window.oakenThread.getState().navigation)
  const x = (seconds: number) => area.x + (seconds * 48000 - view.left) / view.framesPerPixel
  await page.keyboard.down('r')
  await page.mouse.move(x(from), area.y + 200)
  await page.mouse.down()
  await page.mouse.move(x(to), area.y + 205, { steps: 4 })
  await page.mouse.up()
  await page.keyboard.up('r')
  if (!(await page.evaluate(() => window.oakenThread.getState().listening.loop)))
    await page.keyboard.press('l')
}

test(
  `${TRACKS} tracks, each with ${SECONDS} s of a sound of its own: played, looped, looked through and exported as they are`,
  { tag: '@more' },
  async ({ page }) => {
    test.setTimeout(LONG ? 1_800_000 : 240_000)
    const loudFrom = SECONDS / 2
    const made = manyTracks(TRACKS, SECONDS, loudFrom)
    await openPackage(page, made.bytes)

    // The overload of the one loud track is flagged, on it and on the mix, and nothing else is.
    const flags = page.getByRole('button', { name: /overloads at/ })
    await expect(flags).toHaveCount(2, { timeout: LONG ? 300_000 : 60_000 })
    await expect(page.getByRole('button', { name: /^Track 1 overloads at/ })).toBeVisible()

    // Loops of a fifth of a second, a tenth of the session and all of it play on and stay inside.
    for (const [from, to] of [
      [0.4, 0.6],
      [SECONDS * 0.2, SECONDS * 0.3],
      [0, SECONDS],
    ] as const) {
      await loopOver(page, from, to)
      await page.evaluate((at) => window.oakenThread.getPlayer().seek(at * 48000), from)
      await page.getByRole('button', { name: 'Play', exact: true }).click()
      for (let i = 0; i < 4; i++) {
        await page.waitForTimeout(LONG ? 2000 : 700)
        const at = await position(page)
        expect(at).toBeGreaterThan(from - 0.1)
        expect(at).toBeLessThan(to + 0.1)
      }
      await page.getByRole('button', { name: 'Pause', exact: true }).click()
      expect(await notices(page)).toEqual([])
    }
    console.log(`${TRACKS} tracks looped: ${await underruns(page)} underruns`)
    await page.keyboard.press('l')

    // What is played from 0 is what is rendered here, to the bit.
    const session = await sessionOf(page)
    const frames = Math.min(SECONDS, 6) * 48000
    const played = await throughRing(page, 0, frames)
    const rendered = renderedHere(made, session, 0, frames)
    for (const c of [0, 1]) expect(firstDifference(played[c]!, rendered[c]!)).toBe(-1)

    // Listening at equal loudness measures all of it.
    await page.getByRole('button', { name: /= loud/ }).click()
    await expect
      .poll(() => page.evaluate(() => window.oakenThread.getState().listening.shapedLufs), {
        timeout: LONG ? 300_000 : 60_000,
      })
      .toBeLessThan(0)
    await page.getByTitle(/at the same measured loudness/).click()

    // Every edge is measured: all are faded, so none clicks.
    await page.getByRole('button', { name: /^Seams/ }).click()
    const dialog = page.getByRole('dialog', { name: 'Seams' })
    await expect(dialog.getByRole('status')).toHaveText(`0 of ${2 * TRACKS} seams click.`, {
      timeout: LONG ? 300_000 : 60_000,
    })
    await page.keyboard.press('Escape')

    const { channels } = await exported(page, 'WAV, 32-bit float')
    for (const c of [0, 1]) expect(firstDifference(channels[c]!.subarray(0, frames), rendered[c]!)).toBe(-1)
    expect(await notices(page)).toEqual([])
  },
)

test(
  'Space pressed thirty times: what is heard at last is what is rendered',
  { tag: '@more' },
  async ({ page }) => {
    const made = manyTracks(12, 12, 10)
    await openPackage(page, made.bytes)
    await page
      .getByTestId('timeline')
      .focus()
      .catch(() => undefined)
    for (let i = 0; i < 30; i++) {
      await page.keyboard.press('Space')
      // Sometimes at once, sometimes after sound has begun.
      if (i % 4 === 3) await page.waitForTimeout(40 + 30 * (i % 5))
    }
    await expect.poll(() => page.evaluate(() => window.oakenThread.getState().transport.playing)).toBe(false)
    const { from, channels } = await playedLive(page, 3, 1)
    const rendered = renderedHere(made, made.session, from, channels[0]!.length)
    for (const c of [0, 1]) expect(firstDifference(channels[c]!, rendered[c]!)).toBe(-1)
    expect(await notices(page)).toEqual([])
  },
)

test('a session that plays in a hidden tab stops at its end', { tag: '@more' }, async ({ page, context }) => {
  const made = manyTracks(2, 3, 1)
  await openPackage(page, made.bytes)
  await page.evaluate(() => {
    // No frames are drawn in a hidden tab.
    window.requestAnimationFrame = () => 0
    window.oakenThread.getPlayer().seek(2 * 48000)
  })
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  const other = await context.newPage()
  await other.goto('/help')
  await other.bringToFront()
  await expect.poll(() => page.evaluate(() => window.oakenThread.getState().transport.playing)).toBe(false)
  expect(await position(page)).toBe(3)
})

test('what scripts can ask is only on pages that say so', { tag: '@more' }, async ({ page }) => {
  await page.goto('/help')
  await expect(page.getByRole('heading', { name: 'The job, step by step' })).toBeVisible()
  await page.waitForTimeout(500)
  expect(await page.evaluate(() => 'oakenThread' in window)).toBe(false)
  await page.goto('/help?test')
  await page.waitForFunction(() => 'oakenThread' in window)
})

test(
  `${LONG ? 60 : 30} tracks with sounds of their own, edited for ${LONG ? 'five minutes' : 'a while'} while they play: no gap is heard`,
  { tag: '@alone' },
  async ({ page }) => {
    const [tracks, forSeconds] = LONG ? [60, 300] : [30, 12]
    test.setTimeout(LONG ? 900_000 : 240_000)
    await openPackage(page, manyTracks(tracks, LONG ? 30 : 6, 3).bytes)
    await page.waitForTimeout(LONG ? 20_000 : 3000)
    await page.keyboard.press('l')
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await expect.poll(() => position(page)).toBeGreaterThan(0.2)
    const begun = Date.now()
    let edits = 0
    while (Date.now() - begun < forSeconds * 1000) {
      const track = 1 + (edits % 4)
      const fader = page.getByRole('slider', { name: `Fader of Track ${track}`, exact: true }).last()
      await fader.focus()
      for (let i = 0; i < 3; i++) await page.keyboard.press(edits % 2 ? 'ArrowUp' : 'ArrowDown')
      await page.getByRole('button', { name: `Mute Track ${track}`, exact: true }).click()
      await page.getByRole('button', { name: `Mute Track ${track}`, exact: true }).click()
      if (edits % 3 === 0) await page.keyboard.press('Control+z')
      edits++
      await page.waitForTimeout(500)
    }
    expect(await page.evaluate(() => window.oakenThread.getState().transport.playing)).toBe(true)
    const gaps = await underruns(page)
    console.log(`${tracks} tracks edited ${edits} times in ${forSeconds} s while playing: ${gaps} underruns`)
    expect(await page.evaluate(() => window.oakenThread.getState().session.steps.length)).toBeGreaterThan(
      edits,
    )
    expect(await notices(page)).toEqual([])
    expect(gaps).toBe(0)
  },
)
