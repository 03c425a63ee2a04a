import { expect, type Page } from '@playwright/test'
import { test } from './fixtures'
import { openSample, regionGroup, reload, sessionOf, whenSaved } from './support'

const state = (page: Page) =>
  page.evaluate(() => {
    const { steps, readOnly, unsaved } = window.oakenThread.getState().session
    return { steps: steps.length, readOnly, unsaved }
  })

const editHere = (page: Page) => page.getByRole('button', { name: 'Edit here instead' })

test('a second tab shows what it cannot do, takes the session over when asked, and the first one can have it back', async ({
  context,
  page,
}) => {
  await openSample(page)
  await page.getByRole('button', { name: 'Mute Mill race' }).click()
  const second = await context.newPage()
  await openSample(second)
  await expect(second.getByText('open in another tab')).toBeVisible()
  await expect(second.getByRole('button', { name: 'Mute Narrator' })).toBeDisabled()
  await expect(second.getByRole('button', { name: /^Undo:|^Nothing to undo/ })).toBeDisabled()
  await expect(second.getByRole('button', { name: 'Draw', exact: true })).toBeDisabled()
  await expect(second.getByRole('slider', { name: /^Clip gain of/ })).toHaveCount(0)
  // What is tried all the same says why nothing happens; looking and selecting work.
  await regionGroup(second, 'drone in D').click({ position: { x: 60, y: 30 } })
  await second.keyboard.press('ArrowUp')
  await expect(second.getByText('Nothing can be changed here')).toBeVisible()

  // The first one is in the middle of a gesture and has just made a step.
  await page.getByRole('button', { name: 'Mute Concertina' }).click()
  await editHere(second).click()
  await expect(second.getByRole('button', { name: 'Mute Narrator' })).toBeEnabled()
  expect((await sessionOf(second)).tracks.concertina!.muted).toBe(true)
  await expect(page.getByText('edited in another tab now')).toBeVisible()
  expect(await state(page)).toMatchObject({ readOnly: 'given', unsaved: false })
  await second.getByRole('button', { name: 'Mute Narrator' }).click()
  await whenSaved(second)
  await editHere(page).click()
  await expect(page.getByRole('button', { name: 'Mute Narrator' })).toHaveAttribute('aria-pressed', 'true')
  expect(await state(page)).toMatchObject({ steps: 3, readOnly: null })
  await second.close()
})

test(
  'a tab that does not answer can be passed over after three seconds, and never writes again',
  { tag: '@more' },
  async ({ context, page }) => {
    await openSample(page)
    // It hears nothing any more, and what it writes from now on waits for ever.
    await page.evaluate(() => {
      BroadcastChannel.prototype.postMessage = () => undefined
      const { request } = LockManager.prototype
      const parked: (() => void)[] = []
      Object.assign(window, { wake: () => parked.forEach((go) => go()) })
      LockManager.prototype.request = function (this: LockManager, ...args: unknown[]) {
        const run = () => (request as (...all: unknown[]) => Promise<unknown>).apply(this, args)
        return String(args[0]).startsWith('oaken-thread/record')
          ? new Promise<void>((go) => parked.push(go)).then(run)
          : run()
      } as typeof request
    })
    await page.getByRole('button', { name: 'Mute Concertina' }).click()
    await expect(page.getByRole('status').filter({ hasText: 'saving…' })).toBeVisible()
    const second = await context.newPage()
    await openSample(second)
    await editHere(second).click()
    const question = second.getByRole('dialog', { name: 'The other tab does not answer' })
    await expect(question).toBeVisible()
    await question.getByRole('button', { name: 'Take it over' }).click()
    await expect(second.getByRole('button', { name: 'Mute Narrator' })).toBeEnabled()
    await second.getByRole('button', { name: 'Mute Narrator' }).click()
    await whenSaved(second)

    // The old one wakes up: it says so, keeps its step for a copy, and changes nothing that is stored.
    await page.evaluate(() => (window as unknown as { wake(): void }).wake())
    await expect(page.getByText('Another tab took this session over. Here')).toBeVisible()
    await expect(page.getByText('in this tab only')).toBeVisible()
    await expect(page.getByRole('button', { name: 'Save a copy…' })).toBeVisible()
    await expect(page.getByRole('button', { name: 'Mute Concertina' })).toHaveAttribute(
      'aria-pressed',
      'true',
    )
    expect(await state(page)).toMatchObject({ readOnly: 'taken', unsaved: true })
    await reload(second)
    await expect(second.getByTestId('timeline')).toBeVisible()
    const { tracks } = await sessionOf(second)
    expect([tracks.narrator!.muted, tracks.concertina!.muted]).toEqual([true, false])
  },
)

test(
  'when what was stored goes while the session is open, all of it is stored again at once, with its history',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    for (const name of ['Narrator', 'Concertina', 'Mill race'])
      await page.getByRole('button', { name: `Mute ${name}` }).click()
    await whenSaved(page)
    await page.evaluate(async () => {
      for (const { name } of await indexedDB.databases())
        if (name && !/-(audio|chunks|peaks)$/.test(name)) indexedDB.deleteDatabase(name)
    })
    await expect(page.getByText('were stored again at once')).toBeVisible()
    await expect(page.getByRole('status').filter({ hasText: /^saved / })).toBeVisible()
    await reload(page)
    for (const name of ['Narrator', 'Concertina', 'Mill race'])
      await expect(page.getByRole('button', { name: `Mute ${name}` })).toHaveAttribute('aria-pressed', 'true')
    for (const name of ['Mill race', 'Concertina', 'Narrator']) {
      await page.getByRole('button', { name: /^Undo: Mute/ }).click()
      await expect(page.getByRole('button', { name: `Mute ${name}` })).toHaveAttribute(
        'aria-pressed',
        'false',
      )
    }
  },
)
