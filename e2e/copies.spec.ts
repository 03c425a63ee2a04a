import fs from 'node:fs'
import { expect, type BrowserContext, type Page } from '@playwright/test'
import { strToU8, unzipSync, zipSync } from 'fflate'
import { test } from './fixtures'
import {
  firstDifference,
  fromRoot,
  openSample,
  reload,
  sessionOf,
  throughRing,
  whenSaved,
  chooseCopy,
} from './support'

/** A page of a browser that has no dialog for files, so that copies come as downloads. */
async function withoutPicker(context: BrowserContext): Promise<Page> {
  const page = await context.newPage()
  await page.addInitScript(() => delete window.showSaveFilePicker)
  return page
}

/** Saves a copy of the open session and returns where it lies. */
async function savedCopy(page: Page): Promise<{ name: string; path: string }> {
  const waiting = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save a copy of the session, with all its sound' }).click()
  const download = await waiting
  return { name: download.suggestedFilename(), path: (await download.path())! }
}

const rows = (page: Page) => page.getByRole('list', { name: 'Sessions' }).getByRole('listitem')

test('a session taken out of one browser into another one sounds the same, and its copy is told in the list', async ({
  browser,
  context,
  baseURL,
}) => {
  const page = await withoutPicker(context)
  await openSample(page)
  await page.getByLabel('Volume of Mill race').fill('-3')
  await page.keyboard.press('Enter')
  await whenSaved(page)
  const before = await sessionOf(page)
  const sound = await throughRing(page, 0, 20 * 48000)
  const { name, path } = await savedCopy(page)
  expect(name).toBe('The Tide Mill.oaken')
  await expect(
    page.getByText('A copy of “The Tide Mill” was saved as “The Tide Mill.oaken”.').first(),
  ).toBeVisible()
  await page.getByRole('link', { name: 'All sessions' }).click()
  await expect(rows(page).first()).toContainText('copy saved')

  const elsewhere = await browser.newContext(baseURL ? { baseURL } : {})
  const other = await elsewhere.newPage()
  await other.goto('/?test')
  await chooseCopy(other, name, fs.readFileSync(path))
  await expect(other.getByTestId('timeline')).toBeVisible()
  expect(await sessionOf(other)).toEqual(before)
  const again = await throughRing(other, 0, 20 * 48000)
  for (const c of [0, 1]) expect(firstDifference(again[c]!, sound[c]!)).toBe(-1)
  await elsewhere.close()
})

test(
  'a copy of a session that is here asks: keep both, replace, or neither; a damaged one changes nothing',
  { tag: '@more' },
  async ({ context }) => {
    const page = await withoutPicker(context)
    await openSample(page)
    const { name, path } = await savedCopy(page)
    const copy = fs.readFileSync(path)
    await page.getByRole('button', { name: 'Mute Narrator' }).click()
    await whenSaved(page)
    await page.getByRole('link', { name: 'All sessions' }).click()
    await expect(rows(page).first()).toContainText('changed since the copy of a moment ago')

    const question = page.getByRole('dialog', { name: 'This session is here already' })
    await chooseCopy(page, name, copy)
    await question.getByRole('button', { name: 'Cancel' }).click()
    await expect(rows(page)).toHaveCount(1)

    await chooseCopy(page, name, copy)
    await question.getByRole('button', { name: 'Keep both' }).click()
    await expect(page.getByRole('heading', { name: 'The Tide Mill (copy)' })).toBeVisible()
    expect((await sessionOf(page)).tracks.narrator!.muted).toBe(false)
    await page.getByRole('link', { name: 'All sessions' }).click()
    await expect(rows(page)).toHaveCount(2)

    await chooseCopy(page, name, copy)
    await question.getByRole('button', { name: 'Replace' }).click()
    await expect(page.getByRole('heading', { name: 'The Tide Mill', exact: true })).toBeVisible()
    await reload(page)
    await expect(page.getByTestId('timeline')).toBeVisible()
    expect((await sessionOf(page)).tracks.narrator!.muted).toBe(false)
    expect(await page.evaluate(() => window.oakenThread.getState().session.steps.length)).toBe(0)

    // One sample of one sound is another: the hash tells.
    await page.getByRole('link', { name: 'All sessions' }).click()
    const damaged = Buffer.from(copy)
    damaged[Math.floor(copy.length / 2)]! ^= 1
    await page.evaluate(() => indexedDB.deleteDatabase('oaken-thread-audio'))
    await chooseCopy(page, name, damaged)
    const missing = page.getByRole('dialog', { name: 'A sound is missing' })
    await expect(missing).toContainText('“The Tide Mill.oaken” lacks sound')
    await missing.getByText('What was found').click()
    await expect(missing).toContainText('holds other sound than the session expects')
    await missing.getByRole('button', { name: 'Do not open it' }).click()
    await expect(rows(page)).toHaveCount(2)
  },
)

test(
  'while nothing can be saved, leaving asks first, and the work can be taken away as a copy',
  { tag: '@more' },
  async ({ context }) => {
    const page = await withoutPicker(context)
    await openSample(page)
    await page.evaluate(() => {
      IDBObjectStore.prototype.put = () => {
        throw new DOMException('', 'QuotaExceededError')
      }
    })
    await page.getByRole('button', { name: 'Mute Narrator' }).click()
    await expect(page.getByText('Not saved: The browser’s storage is full.')).toBeVisible()
    const waiting = page.waitForEvent('download')
    await page.getByRole('button', { name: 'Save a copy…' }).click()
    const bytes = fs.readFileSync((await (await waiting).path())!)
    expect(bytes.length).toBeGreaterThan(19e6)
    // In the list, and on the way to another session, it stays in memory.
    await page.getByRole('link', { name: 'All sessions' }).click()
    await expect(page.getByRole('alert')).toContainText('“The Tide Mill” has changes that are not saved')
    await page.evaluate(() => history.pushState({}, '', '/session/other?test'))
    await page.evaluate(() => dispatchEvent(new PopStateEvent('popstate')))
    await expect(
      page.getByRole('heading', { name: '“The Tide Mill” has changes that are not saved' }),
    ).toBeVisible()
    await page.getByRole('link', { name: 'Back to “The Tide Mill”' }).click()
    expect((await sessionOf(page)).tracks.narrator!.muted).toBe(true)
    await expect(page.getByRole('button', { name: 'Mute Narrator' })).toHaveAttribute('aria-pressed', 'true')
    const asked = page.waitForEvent('dialog')
    const leaving = page.close({ runBeforeUnload: true })
    const dialog = await asked
    expect(dialog.type()).toBe('beforeunload')
    await dialog.dismiss()
    await leaving
  },
)

test(
  'a deleted session is in the trash with its size, comes back from there, and goes for good with its sound',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    await page.getByRole('link', { name: 'All sessions' }).click()
    await expect(rows(page).first()).toContainText(/\d+\.\d MB/)
    const toTrash = async () => {
      await page.getByRole('button', { name: 'What to do with The Tide Mill', exact: true }).click()
      await page.getByRole('menuitem', { name: 'Delete' }).click()
      await page.getByText('Trash: 1 session').click()
    }
    await toTrash()
    const trash = page.getByRole('list', { name: 'Trash' })
    await expect(trash).toContainText(/The Tide Mill\d+\.\d MB · stays 30 more days/)
    await trash.getByRole('button', { name: 'Restore The Tide Mill' }).click()
    await expect(rows(page).getByRole('link', { name: 'The Tide Mill' })).toBeVisible()
    await expect(trash).toHaveCount(0)
    await toTrash()
    // Installed anew, the sample does not take the place of the one in the trash.
    await page.getByRole('link', { name: 'The Tide Mill' }).click()
    await expect(page.getByTestId('timeline')).toBeVisible()
    await page.getByRole('link', { name: 'All sessions' }).click()
    await page.getByText('Trash: 1 session').click()
    await expect(trash).toContainText('shared')
    await page.getByRole('button', { name: 'Empty the trash…' }).click()
    await page.getByRole('dialog').getByRole('button', { name: 'Empty the trash' }).click()
    await expect(page.getByText(/^Trash:/)).toHaveCount(0)
    await expect(rows(page)).toHaveCount(1)
  },
)

test(
  'a session that another tab works on is renamed there, as a step, and is not deleted under its hands',
  { tag: '@more' },
  async ({ context, page }) => {
    await openSample(page)
    const list = await context.newPage()
    await list.goto('/?test')
    const menu = async (item: string) => {
      await list.getByRole('button', { name: 'What to do with The Tide Mill', exact: true }).click()
      await list.getByRole('menuitem', { name: item }).click()
    }
    await menu('Delete')
    await expect(list.getByText('is open in another tab. Close it there').first()).toBeVisible()
    await menu('Rename')
    await list.getByLabel('Title').fill('Slack water')
    await list.getByRole('button', { name: 'Rename', exact: true }).click()
    await expect(rows(list).getByRole('link', { name: 'Slack water' })).toBeVisible()
    await expect(page.getByRole('heading', { name: 'Slack water' })).toBeVisible()
    await page.getByRole('button', { name: 'Mute Narrator' }).click()
    await whenSaved(page)
    await reload(page)
    await expect(page.getByRole('heading', { name: 'Slack water' })).toBeVisible()
    expect(await page.evaluate(() => window.oakenThread.getState().session.steps.length)).toBe(2)
  },
)

test('packages that are damaged, or made to mislead, cost one sentence each, and nothing is imported', async ({
  page,
}) => {
  const whole = fs.readFileSync(fromRoot('public/sample/tide-mill.oaken.zip'))
  const { 'session.json': json } = unzipSync(whole, { filter: ({ name }) => name === 'session.json' })
  const session = JSON.parse(new TextDecoder().decode(json)) as Record<string, unknown>
  const zip = (files: Record<string, string>) =>
    Buffer.from(zipSync(Object.fromEntries(Object.entries(files).map(([n, t]) => [n, strToU8(t)]))))
  const withSession = (change: Record<string, unknown>) =>
    zip({ 'session.json': JSON.stringify({ ...session, ...change }) })
  const counted = Buffer.from(whole)
  counted.writeUInt16LE(60_000, counted.length - 22 + 10)
  const doubled = zip({ 'session.json': '{}', 'session.jsom': '{}' })
  for (let at = doubled.indexOf('session.jsom'); at >= 0; at = doubled.indexOf('session.jsom'))
    doubled.write('session.json', at)
  const bad: [string, Buffer, RegExp][] = [
    ['cut off', whole.subarray(0, 5_000_000), /its end is missing/],
    ['counts', counted, /directory/],
    ['outside', zip({ 'session.json': '{}', '../a.wav': 'x' }), /leads outside/],
    ['absolute', zip({ 'session.json': '{}', '/etc/a.wav': 'x' }), /leads outside/],
    ['doubled', doubled, /same name/],
    [
      'packed',
      zip({ 'session.json': `{"a":"${' '.repeat(30_000_000)}"}` }),
      /more than it can|unpack|session\.json/,
    ],
    ['json', zip({ 'session.json': '{"schema":' }), /not valid JSON/],
    ['no session', zip({ 'notes.txt': 'x' }), /session\.json/],
    ['newer', withSession({ version: 99 }), /newer version/],
    ['rules', withSession({ sampleRate: -1 }), /sampleRate/],
  ]
  await page.goto('/?test')
  await expect(rows(page)).toHaveCount(1)
  for (const [name, buffer, sentence] of bad) {
    await chooseCopy(page, `${name}.oaken`, buffer)
    const said = page.getByRole('listitem').filter({ hasText: `“${name}.oaken”` })
    await expect(said).toContainText(sentence)
    expect((await said.innerText()).split('\n')[0]!.length).toBeLessThan(300)
    await said.getByRole('button', { name: 'Put away' }).click()
  }
  await expect(page.getByText('Open the sample')).toBeVisible()
  await expect(rows(page)).toHaveCount(1)
})
