// Screenshots of the main views with the sample session, into docs/screenshots/.
import { ensureBuilt, ensureInstalled, inRoot, serveBuilt } from './lib.mjs'
import { ensureChromium } from './chromium.mjs'

ensureInstalled()
const executablePath = ensureChromium()
if (!executablePath) {
  console.error('Screenshots need Chromium. Install it, or set CHROMIUM to the path of one.')
  process.exit(1)
}
ensureBuilt()
const port = 4399
const server = await serveBuilt(port)

const { chromium } = await import('@playwright/test')
const browser = await chromium.launch({
  executablePath,
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--autoplay-policy=no-user-gesture-required',
  ],
})
const page = await browser.newPage({
  viewport: { width: 1280, height: 800 },
  baseURL: `http://localhost:${port}`,
})
// Nothing plays and the clock stands still, so that the same code makes the same pictures to the bit.
await page.addInitScript(() => {
  Date.now = () => new Date('2026-01-02T12:00:00').getTime()
  const still = new CSSStyleSheet()
  still.replaceSync('* { transition: none !important; caret-color: transparent !important }')
  document.adoptedStyleSheets = [still]
})
/** Height of a track's row, in pixels. */
const ROW = 72
/** Waits until the loudness of the whole session is known, which the overview shows: how far it is depends on the machine. */
const measured = () =>
  page.waitForFunction(
    () => {
      const overview = document.querySelector('[aria-label="Overview of the whole session"]')
      return !overview || !/measured$|^level of/.test(overview.getAttribute('aria-description') ?? '')
    },
    null,
    { timeout: 120_000 },
  )
const shot = async (name) => {
  await measured()
  await page.screenshot({ path: inRoot('docs', 'screenshots', `${name}.png`) })
}
try {
  await page.goto('/session/tide-mill?test')
  await page.getByTestId('timeline').waitFor({ timeout: 60_000 })
  await page.waitForTimeout(1500)
  // A few bars around the punch-in, with the region of the shouted line turned down and faded.
  const area = await page.getByTestId('timeline').boundingBox()
  await page.mouse.move(area.x + 335, area.y + 200)
  await page.keyboard.down('Control')
  for (let i = 0; i < 4; i++) {
    await page.mouse.wheel(0, -100)
    await page.waitForTimeout(50)
  }
  await page.keyboard.up('Control')
  await page.mouse.click(area.x + 335, area.y + 30)
  await page.getByLabel('Clip gain', { exact: true }).fill('-7.5')
  await page.keyboard.press('Enter')
  await page.getByLabel('Fade in', { exact: true }).fill('900 ms')
  await page.keyboard.press('Enter')
  await page.evaluate(() => window.oakenThread.getPlayer().seek(24.3 * 48000))
  await page.waitForTimeout(1200)
  // What is measured of the region is there.
  await page
    .getByText(/−[\d.]+ LUFS/)
    .first()
    .waitFor()
  await shot('editor')
  // The shouted line lowered by a plateau in the region's gain thread.
  await page.getByLabel('Clip gain', { exact: true }).fill('0')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await page.mouse.click(area.x + 335, area.y + 30)
  await page.keyboard.press('z')
  await page.getByRole('button', { name: 'Plateau' }).click()
  const { view, region } = await page.evaluate(() => ({
    view: window.oakenThread.getState().view.view,
    region: window.oakenThread.getState().session.session.regions.n2,
  }))
  const x = (seconds) => area.x + (region.start + seconds * 48000 - view.left) / view.framesPerPixel
  await page.mouse.move(x(5.2), area.y + 25)
  await page.mouse.down()
  await page.mouse.move(x(7.35), area.y + 60, { steps: 5 })
  await page.mouse.up()
  await page.getByRole('button', { name: 'Point' }).click()
  await page.getByTestId('timeline').getByRole('slider', { name: 'Knot 2 of wheel pit, take 2' }).focus()
  await page.waitForTimeout(1500)
  await shot('gain-thread')
  // Four takes matched.
  await page.keyboard.press('h')
  await page
    .getByRole('button', { name: /^Clip gain of/ })
    .first()
    .click()
  await page.getByRole('group', { name: /^walk-in, take 1/ }).click({ position: { x: 40, y: 20 } })
  for (const name of ['wheel pit, take 2', 'the keeper, take 3', 'slack water, take 3'])
    await page
      .getByRole('group', { name: new RegExp(`^${name}`) })
      .click({ position: { x: 20, y: 20 }, modifiers: ['Shift'] })
  await page.keyboard.press('e')
  await page
    .getByRole('row', { name: /slack water/ })
    .first()
    .waitFor({ timeout: 60_000 })
  await page.waitForTimeout(3000)
  await shot('match')
  await page.getByRole('button', { name: 'Cancel' }).click()
  // The seams that click.
  await page.keyboard.press('v')
  await page.getByRole('option').first().waitFor({ timeout: 60_000 })
  await page.getByRole('option').first().click()
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await page.evaluate(() => window.oakenThread.getPlayer().seek(30.6 * 48000))
  await page.waitForTimeout(800)
  await shot('seams')
  await page.getByRole('button', { name: 'Close' }).click()
  await page.keyboard.press('Escape')
  await page.keyboard.press('h')
  // The narrator's chain: the equaliser over the spectrum while it plays, and what lowering the shout does to the compressor.
  const narratorBead = (name) =>
    page
      .getByRole('group', { name: /^Inserts of Narrator/ })
      .getByRole('button', { name: new RegExp(`^${name}`) })
  await page.getByRole('group', { name: /^wheel pit, take 2/ }).click({ position: { x: 20, y: 20 } })
  await page.getByText(/^Turned down/).waitFor({ timeout: 60_000 })
  await page.getByLabel('Clip gain', { exact: true }).fill('-8')
  await page.keyboard.press('Enter')
  await page.getByText(/than before the change/).waitFor({ timeout: 60_000 })
  await shot('reduction')
  await page.keyboard.press('Control+z')
  await narratorBead('Equaliser').click()
  await page.evaluate(() => window.oakenThread.getPlayer().seek(24 * 48000))
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  await page.waitForTimeout(2500)
  await shot('equaliser')
  await page.getByRole('button', { name: 'Pause' }).click()
  // The two drones crossfaded.
  await page.keyboard.press('Escape')
  await page.keyboard.press('h')
  await page.getByRole('group', { name: /^drone in D/ }).click({ position: { x: 60, y: 20 } })
  await page
    .getByRole('group', { name: /^drone in G/ })
    .click({ position: { x: 60, y: 20 }, modifiers: ['Shift'] })
  await page.keyboard.press('z')
  await page.keyboard.press('c')
  await page.getByLabel('Length', { exact: true }).fill('1.4 s')
  await page.keyboard.press('Enter')
  await page.getByRole('radio', { name: /^Level/ }).click()
  await page.waitForTimeout(1500)
  await shot('crossfade')
  // The bass woven in dotted eighths, the drone in halves; then music that gives way.
  await page.getByRole('button', { name: 'Fold the Path to one line' }).click()
  const shown = async () => (await page.evaluate(() => window.oakenThread.getState().view)).view
  await page.keyboard.press('Escape')
  await page
    .getByRole('group', { name: /^pedal/ })
    .first()
    .click({ position: { x: 60, y: 20 } })
  await page.keyboard.press('z')
  for (let i = 0; i < 2; i++) await page.keyboard.press('i')
  const at = async (seconds) => {
    const now = await shown()
    return area.x + (seconds * 48000 - now.left) / now.framesPerPixel
  }
  const now = await shown()
  const first = (now.left + now.width * 0.1 * now.framesPerPixel) / 48000
  const last = (now.left + now.width * 0.9 * now.framesPerPixel) / 48000
  for (const [bead, row, from, to, shape, note] of [
    ['Pan', 3, 20, 62, 'Sine', '1/2'],
    ['Volume', 4, 28, 58, 'Square', '1/8 dotted'],
  ]) {
    await page.getByRole('button', { name: new RegExp(`^${bead} of the track`) }).click()
    await page.getByRole('button', { name: 'Weave', exact: true }).click()
    await page.mouse.move(await at(first), area.y + row * ROW + from)
    await page.mouse.down()
    await page.mouse.move(await at(last), area.y + row * ROW + to, { steps: 8 })
    await page.mouse.up()
    await page.getByRole('button', { name: shape, exact: true }).click()
    await page.getByLabel('Note value').selectOption(note)
  }
  // Both in sight: the drone's pan opened below its track.
  await page.getByRole('button', { name: 'Lanes of Concertina' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'Pan' }).click()
  await page.keyboard.press('Escape')
  await page.mouse.move(area.x + 400, area.y + 200)
  await page.mouse.wheel(0, 210)
  await page.waitForTimeout(700)
  await shot('weave')
  await page.mouse.wheel(0, -2000)
  await page.waitForTimeout(300)
  await page.getByRole('button', { name: 'Lanes of Concertina' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'Pan' }).click()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Point' }).click()
  await page.keyboard.press('h')
  await page.getByRole('button', { name: 'Unfold the Path' }).click()
  // The narrator's lanes opened below, one phrase lowered by a plateau that is selected.
  await page.getByRole('button', { name: /^Clip gain of the region/ }).click()
  await page.keyboard.press('h')
  await page.getByRole('button', { name: 'Lanes of Narrator' }).click()
  await page.getByRole('menuitem', { name: /^Open (all|volume)/ }).click()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Plateau', exact: true }).click()
  const sweep = async (from, to, y0, y1) => {
    await page.mouse.move(await at(from), area.y + y0)
    await page.mouse.down()
    await page.mouse.move(await at(to), area.y + y1, { steps: 8 })
    await page.mouse.up()
  }
  await sweep(24, 31.5, ROW + 18, ROW + 44)
  await page.getByRole('button', { name: 'Point', exact: true }).click()
  await sweep(22.5, 33, ROW + 5, ROW + 58)
  // Off the edge of the lane, which would show that it can be dragged.
  await page.mouse.move(area.x + 700, area.y + 40)
  await page.waitForTimeout(500)
  await shot('lanes')
  await page.getByRole('button', { name: 'Lanes of Narrator' }).click()
  await page.getByRole('menuitem', { name: /^Close (all|these)/ }).click()
  await page.keyboard.press('Escape')
  await page
    .getByRole('group', { name: /^mill race/ })
    .first()
    .click({ position: { x: 100, y: 20 } })
  await page.keyboard.press('g')
  for (const name of ['Narrator', 'Gulls and gates'])
    await page.getByRole('group', { name: 'while these sound' }).getByLabel(name).check()
  await page.getByText(/places\. \d+ knots/).waitFor({ timeout: 60_000 })
  await page.waitForTimeout(800)
  await shot('give-way')
  await page.getByRole('button', { name: 'Cancel' }).click()
  // Inserts, a send to a bus, and a lane of an insert.
  await page.getByRole('button', { name: 'Add a bus' }).click()
  await page.mouse.move(area.x + 400, area.y + 200)
  await page.mouse.wheel(0, -3000)
  await page.waitForTimeout(400)
  await page.getByRole('group', { name: /^drone in D/ }).click({ position: { x: 100, y: 20 } })
  await page.getByRole('button', { name: 'The inserts of Concertina as a whole' }).click()
  await page.getByRole('menuitem', { name: /^Show inserts/ }).click()
  const panel = page.getByRole('dialog')
  await panel.getByRole('button', { name: 'Add an insert' }).click()
  await page.getByRole('menuitem', { name: /^Delay/ }).click()
  await panel.getByRole('button', { name: 'Lane of Mix' }).click()
  await page.getByRole('button', { name: 'Add a send' }).click()
  await page.getByRole('menuitem', { name: /^Bus/ }).click()
  await page.mouse.move(area.x + 300, area.y + 10)
  await page.waitForTimeout(900)
  await shot('inserts')
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).first().click()
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z')
  await page.keyboard.press('Escape')
  // The evening, with two tracks in a group, rows of several heights and sound drawn as large as it fits.
  const head = (name) => page.getByRole('region', { name, exact: true })
  await page.keyboard.press('b')
  await page.waitForTimeout(300)
  await page.keyboard.press('Shift+h')
  await head('Narrator').click({ position: { x: 60, y: 4 } })
  await head('Gulls and gates').click({ position: { x: 60, y: 4 }, modifiers: ['Shift'] })
  await page.getByRole('button', { name: 'What to do with Narrator', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Group these tracks…' }).click()
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Escape')
  await page.getByRole('separator', { name: 'Height of Mill race' }).press('ArrowUp')
  await page.getByRole('separator', { name: 'Height of Concertina' }).press('ArrowDown')
  await page.keyboard.press('Shift+z')
  await page.emulateMedia({ colorScheme: 'dark' })
  await page.waitForTimeout(2000)
  await shot('evening')
  await page.emulateMedia({ colorScheme: 'light' })
  await page.waitForTimeout(1500)
  await page.keyboard.press('Control+k')
  await page.keyboard.type('duck')
  await page.waitForTimeout(500)
  await shot('commands')
  await page.keyboard.press('Escape')
  await page.getByRole('link', { name: 'Export' }).click()
  await page.getByRole('button', { name: 'Render the mix' }).click()
  await page.getByText('Read again: it is what was rendered.').waitFor({ timeout: 60_000 })
  await shot('export')
  await page.getByRole('link', { name: 'Report' }).click()
  await page.getByRole('heading', { name: 'Loudness over time' }).waitFor({ timeout: 60_000 })
  await page.waitForTimeout(1500)
  await shot('report')
  // The meters while it plays, on the sample as it comes.
  await page.goto('/session/tide-mill?test')
  await page.getByTestId('timeline').waitFor()
  await page.getByRole('button', { name: 'Meters', exact: true }).click()
  await page.waitForTimeout(6000)
  await page.evaluate(() => window.oakenThread.getPlayer().seek(20 * 48000))
  await page.keyboard.press('Space')
  await page.waitForTimeout(5500)
  await shot('meters')
  await page.keyboard.press('Space')
  await page.getByRole('button', { name: 'Meters', exact: true }).click()
  await page.goto('/?test')
  await page.getByRole('link', { name: 'The Tide Mill' }).waitFor()
  await shot('sessions')
} finally {
  await browser.close()
  server.kill()
}
