import fs from 'node:fs'
import { expect } from '@playwright/test'
import { unzipSync } from 'fflate'
import { test } from './fixtures'
import { openSample, regionGroup, sessionOf, whenSaved, reload } from './support'

test(
  'a version is kept under a name, gone back to as one step, and opened as a session of its own',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const first = await sessionOf(page)
    await page.getByRole('button', { name: 'History' }).click()
    await page.getByRole('button', { name: 'Keep this as a version…' }).click()
    const dialog = page.getByRole('dialog', { name: 'Versions' })
    await expect(dialog).toContainText('None is kept yet')
    await dialog.getByRole('button', { name: 'Keep', exact: true }).click()
    await expect(dialog.getByRole('alert')).toContainText('at least one letter')
    await dialog.getByLabel('Keep this as').fill('before the ebb')
    await page.keyboard.press('Enter')
    await expect(dialog.getByRole('listitem')).toContainText('before the ebb')
    await dialog.getByRole('button', { name: 'Close' }).first().click()
    // A copy does not take it along, which is said before it is saved.
    await page.getByRole('button', { name: 'Save a copy of the session, with all its sound' }).click()
    const copying = page.getByRole('dialog', { name: 'Save a copy' })
    await expect(copying).toContainText('The version that was kept is not in the copy')
    await copying.getByRole('button', { name: 'Cancel' }).click()

    await page.getByRole('button', { name: 'Mute Narrator' }).click()
    await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
    await page.keyboard.press('Delete')
    await whenSaved(page)
    await reload(page)
    await page.getByRole('button', { name: 'History' }).click()
    await page.getByRole('button', { name: 'Keep this as a version…' }).click()
    await dialog.getByRole('button', { name: 'Go back to before the ebb' }).click()
    await expect(page.getByRole('button', { name: 'Undo: Go back to “before the ebb”' })).toBeEnabled()
    expect(await sessionOf(page)).toEqual(first)
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: /^Undo: Go back/ }).click()
    expect((await sessionOf(page)).tracks.narrator!.muted).toBe(true)

    await page.getByRole('button', { name: 'History' }).click()
    await page.getByRole('button', { name: 'Keep this as a version…' }).click()
    await dialog.getByRole('button', { name: 'Open before the ebb as a session of its own' }).click()
    await expect(page.getByRole('heading', { name: 'The Tide Mill · before the ebb' })).toBeVisible()
    expect(await sessionOf(page)).toMatchObject({ regions: first.regions, tracks: first.tracks })
    // Both share their sound.
    await page.getByRole('link', { name: 'All sessions' }).click()
    await expect(page.getByRole('list', { name: 'Sessions' }).getByRole('listitem').first()).toContainText(
      'shared',
    )
  },
)

test(
  'a copy leaves out sounds that no region uses, if that is wanted',
  { tag: '@more' },
  async ({ context }) => {
    const page = await context.newPage()
    await page.addInitScript(() => delete window.showSaveFilePicker)
    await openSample(page)
    await regionGroup(page, 'drone in G').click({ position: { x: 60, y: 30 } })
    await page.keyboard.press('Delete')
    const soundsIn = async (leaveOut: boolean) => {
      await page.getByRole('button', { name: 'Save a copy of the session, with all its sound' }).click()
      const dialog = page.getByRole('dialog', { name: 'Save a copy' })
      await expect(dialog).toContainText(/One sound is used by no region.*\d+\.\d MB/)
      if (leaveOut) await dialog.getByLabel('Leave out the unused sound').check()
      const waiting = page.waitForEvent('download')
      await dialog.getByRole('button', { name: 'Save…' }).click()
      const files = unzipSync(fs.readFileSync((await (await waiting).path())!))
      return Object.keys(files).filter((name) => name.startsWith('audio/')).length
    }
    const all = await soundsIn(false)
    expect(await soundsIn(true)).toBe(all - 1)
  },
)
