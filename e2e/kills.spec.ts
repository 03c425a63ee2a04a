import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { expect, test, type Page } from '@playwright/test'
import { seededRandom } from '../src/core/units/random'
import { bytesOf } from '../src/formats/bytes'
import { readPackage, sourceBlocks } from '../src/formats/package'
import { WavEncoder, wavHeader } from '../src/formats/wav-write'
import { KilledBrowser } from './killed-browser'
import { fromRoot, importAudio, regionGroup, reload, sessionOf, whenSaved } from './support'

/** How often each is done: a few times in the tests, many in `npm run endure`. */
const times = (few: number, many: number) => (process.env.ENDURE ? many : few)

test.skip(process.platform !== 'linux', 'processes are found by /proc')

/** A state of the session: what it is, and its history. */
interface Seen {
  digest: string
  numbers: number[]
  done: number
}

declare global {
  interface Window {
    tell(seen: Seen & { saved: boolean }): void
    seenNow(): Seen
  }
}

/** Runs in the page: tells every state of the open session, and whether the screen calls it saved. */
function watchStates(): void {
  window.seenNow = () => {
    const { session, base, steps, done } = window.oakenThread.getState().session
    let hash = 0
    const text = JSON.stringify(base ?? session)
    for (let i = 0; i < text.length; i++) hash = (Math.imul(hash, 31) + text.charCodeAt(i)) | 0
    return { digest: `${hash}/${text.length}`, numbers: steps.map((s) => s.number), done }
  }
  let last = ''
  const look = () => {
    requestAnimationFrame(look)
    const shown = document.querySelector('header [role="status"]')?.textContent ?? ''
    if (!window.oakenThread?.getState().session.session) return
    const seen = { ...window.seenNow(), saved: shown.startsWith('saved') }
    const key = JSON.stringify(seen)
    if (key !== last) window.tell(seen)
    last = key
  }
  look()
}

const opened = (page: Page) => expect(page.getByTestId('timeline')).toBeVisible({ timeout: 60_000 })

const KEYS = [
  'ArrowUp',
  'ArrowUp',
  'ArrowDown',
  'ArrowRight',
  'm',
  's',
  'Control+z',
  'Control+z',
  'Control+Shift+z',
]

test('a browser that is killed at any moment has every step that it called saved, and a history that can be walked', async ({
  baseURL,
  launchOptions,
}) => {
  const kills = times(2, 100)
  test.setTimeout(120_000 + kills * 20_000)
  const random = seededRandom(11)
  const browser = new KilledBrowser({ ...launchOptions, baseURL })
  try {
    let states: Seen[] = []
    let lastSaved = -1
    for (let n = 0; n <= kills; n++) {
      const page = await browser.start('/session/tide-mill?test', async (fresh) => {
        await fresh.exposeBinding('tell', (_source, { saved, ...seen }: Seen & { saved: boolean }) => {
          states.push(seen)
          if (saved) lastSaved = states.length - 1
        })
      })
      await opened(page)
      await page.evaluate(watchStates)
      const found = await page.evaluate(() => window.seenNow())
      if (n > 0) {
        // What is opened was seen before, not earlier than what was called saved last.
        expect(states.slice(lastSaved)).toContainEqual(found)
        expect(await page.evaluate(() => window.oakenThread.getState().transport.notices)).toEqual([])
      }
      if (n === kills) {
        for (let i = found.done; i > 0; i--) await page.keyboard.press('Control+z')
        expect(await page.evaluate(() => window.oakenThread.getState().session.done)).toBe(0)
        break
      }
      states = [found]
      lastSaved = 0
      await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
      const dying = new Promise((resolve) => setTimeout(resolve, 300 + random() * 1500)).then(() =>
        browser.kill(),
      )
      try {
        for (;;) await page.keyboard.press(KEYS[Math.floor(random() * KEYS.length)]!)
      } catch {
        // The page has died.
      }
      await dying
    }
  } finally {
    await browser.end()
  }
})

/** A recording of so many seconds at a rate that must be converted. */
function recording(name: string, seconds: number) {
  const info = {
    format: 'wav24' as const,
    channels: 2 as const,
    sampleRate: 44100,
    frames: 44100 * seconds,
    seed: 1,
  }
  const noise = seededRandom(name.length + seconds)
  const tone = Float32Array.from({ length: info.frames }, () => noise() - 0.5)
  const buffer = Buffer.concat([wavHeader(info), new WavEncoder(info).encode([tone, tone])])
  return { name, mimeType: 'audio/wav', buffer }
}

test(
  'a browser that is killed while it imports has the files that were finished, whole, and no other',
  { tag: '@more' },
  async ({ baseURL, launchOptions }) => {
    const kills = times(1, 20)
    test.setTimeout(120_000 + kills * 30_000)
    const random = seededRandom(12)
    const files = ['one', 'two', 'three', 'four'].map((name) => recording(`${name}.wav`, 12))
    const browser = new KilledBrowser({ ...launchOptions, baseURL })
    try {
      for (let n = 0; n < kills; n++) {
        const page = await browser.start('/?test')
        await page.getByRole('button', { name: 'New session' }).click()
        await page.getByRole('button', { name: 'Make it' }).click()
        await expect(page.getByText('Drop recordings here')).toBeVisible()
        const address = new URL(page.url()).pathname
        let shown = 0
        await importAudio(page, files)
        const dying = new Promise((resolve) => setTimeout(resolve, random() * 2500)).then(() =>
          browser.kill(),
        )
        try {
          // A file counts as finished when the screen shows it, saved.
          for (;;)
            shown = await page
              .evaluate(() => {
                const { session, unsaved } = window.oakenThread.getState().session
                return unsaved ? 0 : Object.keys(session?.regions ?? {}).length
              })
              .then((now) => Math.max(shown, now))
        } catch {
          // The page has died.
        }
        await dying
        const again = await browser.start(`${address}?test`)
        await expect(again.getByRole('heading', { name: 'Untitled session' })).toBeVisible()
        const { session, missing } = await again.evaluate(() => window.oakenThread.getState().session)
        expect(missing).toEqual([])
        const names = Object.values(session!.regions).map((r) => r.name)
        expect(names).toEqual(['one', 'two', 'three', 'four'].slice(0, names.length))
        expect(names.length).toBeGreaterThanOrEqual(shown)
        await browser.kill()
      }
    } finally {
      await browser.end()
    }
  },
)

/** Runs in the page: copies go into the origin's private file system, as into a file that was chosen. */
const chooseWithin = () =>
  Object.assign(window, {
    showSaveFilePicker: async () =>
      (await navigator.storage.getDirectory()).getFileHandle('copy.oaken', { create: true }),
  })

/** The copy in the origin's private file system, with its title, when every sound in it is whole. */
async function copyIn(page: Page): Promise<string> {
  const base64 = await page.evaluate(async () => {
    const handle = await (await navigator.storage.getDirectory()).getFileHandle('copy.oaken')
    const reader = new FileReader()
    reader.readAsDataURL(await handle.getFile())
    await new Promise((resolve) => (reader.onload = resolve))
    return (reader.result as string).split(',')[1]!
  })
  const { session, audio } = await readPackage(bytesOf(Buffer.from(base64, 'base64')))
  for (const source of Object.values(session.sources))
    for await (const _ of sourceBlocks(source, await audio(source.sha256), 65536)) continue
  return session.title
}

test(
  'a browser that is killed while it saves a copy leaves the old one or the new one, and while it opens one, all of it or nothing',
  { tag: '@more' },
  async ({ baseURL, launchOptions }) => {
    const kills = times(1, 20)
    test.setTimeout(180_000 + kills * 60_000)
    const random = seededRandom(13)
    const browser = new KilledBrowser({ ...launchOptions, baseURL })
    const other = new KilledBrowser({ ...launchOptions, baseURL })
    const save = (page: Page) =>
      page.getByRole('button', { name: 'Save a copy of the session, with all its sound' }).click()
    const retitle = async (page: Page, title: string) => {
      await page.getByRole('heading').getByRole('button').dblclick()
      await page.getByLabel('Title of the session').fill(title)
      await page.keyboard.press('Enter')
      await whenSaved(page)
    }
    try {
      let known = ''
      for (let n = 0; n <= kills; n++) {
        const page = await browser.start('/session/tide-mill?test', (fresh) =>
          fresh.addInitScript(chooseWithin),
        )
        await opened(page)
        if (n > 0) {
          const title = await copyIn(page)
          expect([known, `walk ${n}`]).toContain(title)
          known = title
        } else {
          await retitle(page, (known = 'walk 0'))
          await save(page)
          await expect(page.getByText('was saved as “copy.oaken”').first()).toBeVisible({ timeout: 60_000 })
          expect(await copyIn(page)).toBe('walk 0')
        }
        await retitle(page, `walk ${n + 1}`)
        if (n < kills) await save(page)
        await page.waitForTimeout(n < kills ? random() * 1200 : 0)
        await browser.kill()
      }
      const copy = fromRoot('public/sample/tide-mill.oaken.zip')
      for (let n = 0; n < kills; n++) {
        const page = await other.start('/?test')
        await page.getByLabel('Copies of sessions').setInputFiles(copy)
        await page.waitForTimeout(random() * 2500)
        await other.kill()
        const again = await other.start('/?test')
        const row = again.getByRole('list', { name: 'Sessions' }).getByRole('listitem').first()
        await expect(row).toBeVisible()
        if (!(await row.innerText()).includes('Open the sample')) {
          await again.goto('/session/tide-mill?test')
          await opened(again)
          expect(await again.evaluate(() => window.oakenThread.getState().session.missing)).toEqual([])
          await again.goto('/?test')
          await again.getByRole('button', { name: 'What to do with The Tide Mill', exact: true }).click()
          await again.getByRole('menuitem', { name: 'Delete' }).click()
          await expect(again.getByText(/^Trash: \d+ session/)).toBeVisible()
        }
        await other.kill()
      }
    } finally {
      await browser.end()
      await other.end()
    }
  },
)

test(
  'storage that fails at any write of a script costs nothing: it is said, and the next step saves all',
  { tag: '@more' },
  async ({ page }) => {
    test.setTimeout(240_000)
    await page.goto('/session/tide-mill?test')
    await opened(page)
    await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
    await page.evaluate(() => {
      const put = IDBObjectStore.prototype.put
      let left = Infinity
      Object.assign(window, { failAt: (n: number) => (left = n), saidFailures: 0 })
      // A failure may be made good by itself before a slow test looks: what is said is counted where it is said.
      let said = false
      new MutationObserver(() => {
        const now = [...document.querySelectorAll('[role="status"]')].some(
          (e) => e.textContent === 'not saved',
        )
        if (now && !said) (window as unknown as { saidFailures: number }).saidFailures++
        said = now
      }).observe(document.body, { subtree: true, childList: true, characterData: true })
      IDBObjectStore.prototype.put = function (this: IDBObjectStore, ...args: Parameters<typeof put>) {
        // What is written besides, such as pictures of sound, is not what a step is saved by.
        const ofSteps = /-(sessions|heads|steps)$/.test(this.transaction.db.name)
        if (ofSteps && --left === 0) throw new DOMException('', 'QuotaExceededError')
        return put.apply(this, args)
      }
    })
    // Steps that follow each other write a step and a head each: every place in the script is met.
    for (let n = 1; n <= times(6, 40); n++) {
      await page.evaluate(
        (at) => (window as unknown as { failAt(n: number): void }).failAt(at),
        ((n - 1) % 6) + 1,
      )
      for (let i = 0; i < 3; i++) {
        await page.keyboard.press(['ArrowUp', 'ArrowDown', 's'][i]!)
        await whenSaved(page)
      }
      await page.keyboard.press('m')
      await whenSaved(page)
      const { saved, unsaved } = await page.evaluate(() => window.oakenThread.getState().session)
      expect([n, saved.failure, unsaved]).toEqual([n, null, false])
    }
    const failures = await page.evaluate(() => (window as unknown as { saidFailures: number }).saidFailures)
    expect(failures).toBeGreaterThanOrEqual(times(6, 40))
    const before = await sessionOf(page)
    await reload(page)
    await opened(page)
    expect(await sessionOf(page)).toEqual(before)
  },
)

test(
  'a disk that is really full: nothing is called saved that is not, and with room again all is kept',
  { tag: '@endure' },
  async ({ baseURL, launchOptions }) => {
    test.setTimeout(600_000)
    const folder = fs.mkdtempSync('/tmp/oaken-disk-')
    const [image, disk] = [path.join(folder, 'image'), path.join(folder, 'disk')]
    fs.mkdirSync(disk)
    fs.closeSync(fs.openSync(image, 'w'))
    // Browsers refuse to work at all on a disk that is small; of this one next to nothing is ever written.
    fs.truncateSync(image, 12 * 1024 ** 3)
    const made =
      spawnSync('mkfs.ext4', ['-q', '-F', '-m', '0', image]).status === 0 &&
      spawnSync('mount', ['-o', 'loop', image, disk]).status === 0
    if (!made) fs.rmSync(folder, { recursive: true })
    test.skip(!made, 'a file system of its own can only be made by the system’s administrator')
    const browser = new KilledBrowser({ ...launchOptions, baseURL }, path.join(disk, 'profile'))
    const fillers = (bytes: number) => path.join(disk, `filler-${bytes}`)
    /** Takes all the room that is left, in ever smaller pieces. */
    const fill = () => {
      for (let bytes = 8 * 1024 ** 3; bytes >= 4096; bytes /= 2)
        for (let n = 0; n < 2; n++)
          if (spawnSync('fallocate', ['-l', String(bytes), `${fillers(bytes)}-${n}`]).status !== 0) break
    }
    const free = () => {
      for (const name of fs.readdirSync(disk)) if (name.startsWith('filler')) fs.rmSync(path.join(disk, name))
    }
    try {
      const page = await browser.start('/session/tide-mill?test')
      await opened(page)
      await page.getByRole('button', { name: 'Mute Narrator' }).click()
      await whenSaved(page)
      fill()
      // Many steps, large enough that no buffer takes them all.
      await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
      let said = ''
      for (let i = 0; i < 400 && !said; i++) {
        await page.keyboard.press('ArrowUp')
        await page.keyboard.press('ArrowRight')
        const { saved } = await page.evaluate(() => window.oakenThread.getState().session)
        said = saved.failure ?? ''
      }
      console.log(`a full disk: ${said || 'every step was stored'}`)
      const work = await sessionOf(page)
      free()
      const again = page.getByRole('button', { name: 'Keep it here again' })
      await expect
        .poll(
          async () => {
            if (await again.isVisible()) await again.click()
            return page.evaluate(() => window.oakenThread.getState().session.unsaved)
          },
          { timeout: 60_000, intervals: [1000] },
        )
        .toBe(false)
      await browser.kill()
      const after = await browser.start('/session/tide-mill?test')
      await opened(after)
      expect(await sessionOf(after)).toEqual(work)
      const { missing } = await after.evaluate(() => window.oakenThread.getState().session)
      // What the disk has cost is told; without a cost nothing is.
      await expect(after.getByText(/missing and silent/)).toHaveCount(missing.length ? 1 : 0)
      await browser.kill()
    } finally {
      await browser.end()
      spawnSync('umount', ['-l', disk])
      fs.rmSync(folder, { recursive: true, force: true })
    }
  },
)
