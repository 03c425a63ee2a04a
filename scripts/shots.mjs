// Screenshots of the main views with the sample session, into docs/screenshots/.
import { spawn } from 'node:child_process'
import { bin, ensureBuilt, ensureInstalled, inRoot, root } from './lib.mjs'
import { ensureChromium } from './chromium.mjs'

ensureInstalled()
const executablePath = ensureChromium()
if (!executablePath) {
  console.error('Screenshots need Chromium. Install it, or set CHROMIUM to the path of one.')
  process.exit(1)
}
ensureBuilt()
const port = 4399
const server = spawn(bin('tsx'), ['server/main.ts'], { cwd: root, env: { ...process.env, PORT: String(port) }, stdio: ['ignore', 'pipe', 'inherit'] })
await new Promise((resolve) => server.stdout.once('data', resolve))

const { chromium } = await import('@playwright/test')
const browser = await chromium.launch({ executablePath, args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--autoplay-policy=no-user-gesture-required'] })
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: `http://localhost:${port}` })
const shot = (name) => page.screenshot({ path: inRoot('docs', 'screenshots', `${name}.png`) })
try {
  await page.goto('/session/tide-mill')
  await page.getByTestId('timeline').waitFor({ timeout: 60_000 })
  await page.waitForTimeout(1500)
  // A few bars around the punch-in, with the region of the shouted line turned down and faded.
  const area = await page.getByTestId('timeline').boundingBox()
  await page.mouse.move(area.x + 255, area.y + 200)
  await page.keyboard.down('Control')
  for (let i = 0; i < 4; i++) {
    await page.mouse.wheel(0, -100)
    await page.waitForTimeout(50)
  }
  await page.keyboard.up('Control')
  await page.getByRole('group', { name: /^wheel pit, take 2/ }).click({ position: { x: 40, y: 30 } })
  await page.getByLabel('Clip gain', { exact: true }).fill('-7.5')
  await page.keyboard.press('Enter')
  await page.getByLabel('Fade in', { exact: true }).fill('900 ms')
  await page.keyboard.press('Enter')
  await page.evaluate(() => window.oakenThread.getPlayer().seek(24.3 * 48000))
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  await page.waitForTimeout(1200)
  await shot('editor')
  await page.getByRole('button', { name: 'Pause', exact: true }).click()
  // The shouted line lowered by a plateau in the region's gain thread.
  await page.getByLabel('Clip gain', { exact: true }).fill('0')
  await page.keyboard.press('Enter')
  await page.getByRole('group', { name: /^wheel pit, take 2/ }).click({ position: { x: 40, y: 30 } })
  await page.keyboard.press('9')
  await page.getByRole('button', { name: 'Plateau' }).click()
  const { view, region } = await page.evaluate(() => ({ view: window.oakenThread.getState().view.view, region: window.oakenThread.getState().session.session.regions.n2 }))
  const x = (seconds) => area.x + (region.start + seconds * 48000 - view.left) / view.framesPerPixel
  await page.mouse.move(x(5.2), area.y + 25)
  await page.mouse.down()
  await page.mouse.move(x(7.35), area.y + 60, { steps: 5 })
  await page.mouse.up()
  await page.getByRole('button', { name: 'Point' }).click()
  await page.getByTestId('timeline').getByRole('slider', { name: 'Knot 2 of wheel pit, take 2' }).focus()
  await shot('gain-thread')
  // Four takes matched.
  await page.keyboard.press('0')
  await page.getByRole('button', { name: /^Clip gain of/ }).first().click()
  await page.getByRole('group', { name: /^walk-in, take 1/ }).click({ position: { x: 40, y: 30 } })
  for (const name of ['wheel pit, take 2', 'the keeper, take 3', 'slack water, take 3']) await page.getByRole('group', { name: new RegExp(`^${name}`) }).click({ position: { x: 20, y: 30 }, modifiers: ['Shift'] })
  await page.keyboard.press('e')
  await page.getByRole('row', { name: /slack water/ }).first().waitFor({ timeout: 60_000 })
  await page.waitForTimeout(3000)
  await shot('match')
  await page.getByRole('button', { name: 'Cancel' }).click()
  // The seams that click.
  await page.keyboard.press('v')
  await page.getByRole('option').first().waitFor({ timeout: 60_000 })
  await page.getByRole('option').first().click()
  await page.waitForTimeout(800)
  await shot('seams')
  await page.getByRole('button', { name: 'Close' }).click()
  // The two drones crossfaded.
  await page.keyboard.press('Escape')
  await page.keyboard.press('0')
  await page.getByRole('group', { name: /^drone in D/ }).click({ position: { x: 60, y: 30 } })
  await page.getByRole('group', { name: /^drone in G/ }).click({ position: { x: 60, y: 30 }, modifiers: ['Shift'] })
  await page.keyboard.press('9')
  await page.keyboard.press('c')
  await page.getByLabel('Length', { exact: true }).fill('1.4 s')
  await page.keyboard.press('Enter')
  await page.getByRole('radio', { name: /^Level/ }).click()
  await page.waitForTimeout(1500)
  await shot('crossfade')
  await page.getByRole('link', { name: 'Deliver' }).click()
  await page.getByRole('button', { name: 'Render the mix' }).click()
  await page.getByRole('heading', { name: 'Rendered' }).waitFor({ timeout: 60_000 })
  await shot('deliver')
  await page.goto('/')
  await page.getByRole('link', { name: 'The Tide Mill' }).waitFor()
  await shot('sessions')
} finally {
  await browser.close()
  server.kill()
}
