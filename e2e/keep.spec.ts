import { expect } from '@playwright/test'
import { test } from './fixtures'
import { drag, middleOf, openSample, regionGroup, sessionOf, whenSaved, reload } from './support'

test('after a reload the session is as it was, and can still be undone step by step', async ({ page }) => {
  await openSample(page)
  const first = await sessionOf(page)
  await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
  for (const gain of ['-3', '-6', '+2']) {
    await page.getByLabel('Clip gain', { exact: true }).fill(gain)
    await page.keyboard.press('Enter')
  }
  await page.getByRole('button', { name: 'Mute Mill race' }).click()
  await page.getByRole('button', { name: /^Undo: Mute/ }).click()
  const before = await sessionOf(page)
  await whenSaved(page)
  await reload(page)
  await expect(page.getByTestId('timeline')).toBeVisible()
  expect(await sessionOf(page)).toEqual(before)
  await expect(page.getByRole('button', { name: /^Redo: Mute “Mill race”/ })).toBeEnabled()
  await page.getByRole('button', { name: 'History' }).click()
  await expect(page.getByRole('listitem').filter({ hasText: 'Clip gain of “drone in D”' })).toHaveCount(3)
  await page.getByRole('button', { name: 'As it was opened first' }).click()
  expect(await sessionOf(page)).toEqual(first)
})

test(
  'a page that dies right after a step loses nothing before it, and opens with the history whole',
  { tag: '@more' },
  async ({ context, page }) => {
    await openSample(page)
    await regionGroup(page, 'drone in D').click({ position: { x: 60, y: 30 } })
    await page.getByLabel('Clip gain', { exact: true }).focus()
    for (let i = 0; i < 25; i++) await page.keyboard.press('ArrowUp')
    await page.waitForTimeout(400)
    // Dies in the middle of saving the last ones.
    for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowUp')
    await page.close({ runBeforeUnload: false })
    const again = await context.newPage()
    await again.goto('/session/tide-mill?test')
    await expect(again.getByTestId('timeline')).toBeVisible()
    const { session, steps, done } = await again.evaluate(() => window.oakenThread.getState().session)
    expect(session!.regions.c1!.clipGainDb).toBe(done)
    expect(steps.length).toBe(done)
    expect(done).toBeGreaterThanOrEqual(25)
    for (let i = 0; i < done; i++) await again.getByRole('button', { name: /^Undo:/ }).click()
    expect((await sessionOf(again)).regions.c1!.clipGainDb).toBe(0)
  },
)

test('sessions are renamed, duplicated, deleted and brought back', { tag: '@more' }, async ({ page }) => {
  await openSample(page)
  await page.getByRole('link', { name: 'All sessions' }).click()
  const list = page.getByRole('list', { name: 'Sessions' })
  const menu = async (title: string, item: string) => {
    await page.getByRole('button', { name: `What to do with ${title}`, exact: true }).click()
    await page.getByRole('menuitem', { name: item }).click()
  }
  await menu('The Tide Mill', 'Duplicate')
  await expect(list.getByRole('link', { name: 'The Tide Mill (copy)' })).toBeVisible()
  await menu('The Tide Mill (copy)', 'Rename')
  await page.getByLabel('Title').fill('   ')
  await page.getByRole('button', { name: 'Rename', exact: true }).click()
  await expect(page.getByRole('alert')).toContainText('at least one letter')
  await page.getByLabel('Title').fill('<i>Second</i> walk')
  await page.getByRole('button', { name: 'Rename', exact: true }).click()
  await expect(list.getByRole('link', { name: '<i>Second</i> walk' })).toBeVisible()
  await menu('<i>Second</i> walk', 'Delete')
  await expect(list.getByRole('link', { name: '<i>Second</i> walk' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await list.getByRole('link', { name: '<i>Second</i> walk' }).click()
  await expect(page.getByRole('heading', { name: '<i>Second</i> walk' })).toBeVisible()
  await expect(page.getByRole('button', { name: /^Undo: Rename to/ })).toBeEnabled()
})

test(
  'work before and after a session was renamed in the list, and after steps were undone and done otherwise, outlasts reloads',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    for (const name of ['Narrator', 'Concertina', 'Mill race'])
      await page.getByRole('button', { name: `Mute ${name}` }).click()
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z')
    await page.getByRole('button', { name: 'Solo Concertina' }).click()
    await whenSaved(page)
    await page.getByRole('link', { name: 'All sessions' }).click()
    await page.getByRole('button', { name: 'What to do with The Tide Mill', exact: true }).click()
    await page.getByRole('menuitem', { name: 'Rename' }).click()
    await page.getByLabel('Title').fill('Ebb')
    await page.getByRole('button', { name: 'Rename', exact: true }).click()
    await page.getByRole('list', { name: 'Sessions' }).getByRole('link', { name: 'Ebb' }).click()
    await expect(page.getByTestId('timeline')).toBeVisible()
    await page.getByRole('button', { name: 'Solo Mill race' }).click()
    await page.getByRole('button', { name: 'Solo Mill wheel' }).click()
    await whenSaved(page)
    for (let i = 0; i < 2; i++) {
      await reload(page)
      await expect(page.getByRole('heading', { name: 'Ebb' })).toBeVisible()
      const { session, steps, done } = await page.evaluate(() => window.oakenThread.getState().session)
      expect(done).toBe(i === 0 ? 5 : 4)
      expect(steps.slice(0, done).map((s) => s.label)).toEqual(
        [
          'Mute “Narrator”',
          'Solo “Concertina”',
          'Rename to “Ebb”',
          'Solo “Mill race”',
          'Solo “Mill wheel”',
        ].slice(0, done),
      )
      expect(
        Object.values(session!.tracks)
          .filter((t) => t.soloed)
          .map((t) => t.name),
      ).toEqual(i === 0 ? ['Mill wheel', 'Mill race', 'Concertina'] : ['Mill race', 'Concertina'])
      expect(
        Object.values(session!.tracks)
          .filter((t) => t.muted)
          .map((t) => t.name),
      ).toEqual(['Narrator'])
      // The last step is taken back, and so is one after it.
      await page.getByRole('button', { name: 'Solo Mill wheel' }).click()
      await page.keyboard.press('Control+z')
      await page.keyboard.press('Control+z')
      await whenSaved(page)
    }
  },
)

test('several regions keep their differences under one drag; Escape gives a drag up; 0 dB is one action', async ({
  page,
}) => {
  await openSample(page)
  const first = regionGroup(page, 'drone in D')
  await first.click({ position: { x: 60, y: 30 } })
  await page.getByLabel('Clip gain', { exact: true }).fill('-6')
  await page.keyboard.press('Enter')
  await regionGroup(page, 'drone in G').click({ position: { x: 60, y: 30 }, modifiers: ['Shift'] })
  await expect(page.getByRole('heading', { name: '2 regions' })).toBeVisible()
  const gains = async () => {
    const { regions } = await sessionOf(page)
    return [regions.c1!.clipGainDb, regions.c2!.clipGainDb]
  }
  const hem = await middleOf(page.getByRole('slider', { name: 'Clip gain of drone in G' }))
  await drag(page, hem, { dy: -30 })
  expect(await gains()).toEqual([-3, 3])
  await page.keyboard.down('Alt')
  await drag(page, hem, { dy: -30 })
  await page.keyboard.up('Alt')
  expect(await gains()).toEqual([-2.7, 3.3])
  // A gesture in progress shows at once, and Escape takes it back.
  await page.mouse.move(hem.x, hem.y)
  await page.mouse.down()
  await page.mouse.move(hem.x, hem.y + 50, { steps: 4 })
  expect(await gains()).toEqual([-7.7, -1.7])
  await page.keyboard.press('Escape')
  await page.mouse.up()
  expect(await gains()).toEqual([-2.7, 3.3])
  await page.keyboard.press('ArrowDown')
  expect(await gains()).toEqual([-3.7, 2.3])
  const field = page.getByLabel('Clip gain of 2 regions', { exact: true })
  await field.fill('+2')
  await expect(page.getByText('2 regions, +2.0 dB each')).toBeVisible()
  await page.keyboard.press('Enter')
  expect(await gains()).toEqual([-1.7, 4.3])
  await field.fill('loud')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('−72.0 dB to +36.0 dB')
  expect(await gains()).toEqual([-1.7, 4.3])
  // Escape takes back what was typed, good or bad.
  await page.keyboard.press('Escape')
  await expect(page.getByRole('alert')).toHaveCount(0)
  await field.fill('-9')
  await page.keyboard.press('Escape')
  await expect(field).toHaveValue('')
  expect(await gains()).toEqual([-1.7, 4.3])
  await page.getByRole('button', { name: /^Reset clip gain of 2 regions/ }).click()
  expect(await gains()).toEqual([0, 0])
  const { steps } = await page.evaluate(() => window.oakenThread.getState().session)
  expect(steps.map((s) => s.label)).toEqual([
    'Clip gain of “drone in D” 0.0 → −6.0 dB',
    ...['+3.0', '+0.3', '−1.0', '+2.0'].map((by) => `Clip gain of 2 regions ${by} dB`),
    'Reset clip gain of 2 regions',
  ])
})

test(
  'sweeping selects what it touches; the range hand sets a range that loops; keys zoom to samples and out',
  { tag: '@more' },
  async ({ page }) => {
    await openSample(page)
    const area = (await page.getByTestId('timeline').boundingBox())!
    await drag(page, { x: area.x + 2, y: area.y + 90 }, { dx: 400, dy: 80 })
    const { regions } = await sessionOf(page)
    const selection = await page.evaluate(() => window.oakenThread.getState().selection.regionIds)
    expect(selection.length).toBeGreaterThan(5)
    expect(new Set(selection.map((id) => regions[id]!.trackId))).toEqual(new Set(['wheel', 'race']))
    // Escape closes a menu and leaves what is selected.
    await page.getByRole('button', { name: 'Lanes of Narrator' }).click()
    await expect(page.getByRole('menu')).toBeVisible()
    await page.keyboard.press('Escape')
    await expect(page.getByRole('menu')).toHaveCount(0)
    expect(await page.evaluate(() => window.oakenThread.getState().selection.regionIds)).toEqual(selection)
    await page.keyboard.down('r')
    await page.waitForTimeout(350)
    await drag(page, { x: area.x + 300, y: area.y + 20 }, { dx: 30 })
    await page.keyboard.up('r')
    const { selection: picked, navigation } = await page.evaluate(() => window.oakenThread.getState())
    expect(picked.hand).toBe('point')
    const range = picked.range!
    // Its ends are caught by what is near.
    expect(Math.abs((range.to - range.from) / navigation.view.framesPerPixel - 30)).toBeLessThanOrEqual(16)
    await page.keyboard.press('l')
    await page.evaluate((from) => window.oakenThread.getPlayer().seek(from), range.from)
    await page.keyboard.press('Space')
    const seen: number[] = []
    const seconds = (range.to - range.from) / 48000
    for (let t = 0; t < seconds * 2.2; t += 0.2) {
      await page.waitForTimeout(200)
      seen.push(await page.evaluate(() => window.oakenThread.getPlayer().position()))
    }
    await page.keyboard.press('Space')
    expect(seen.every((p) => p >= range.from && p <= range.to)).toBe(true)
    expect(seen.some((p, i) => i > 0 && p < seen[i - 1]!)).toBe(true)
    for (let i = 0; i < 40; i++) await page.keyboard.press('i')
    expect(
      await page.evaluate(() => window.oakenThread.getState().navigation.view.framesPerPixel),
    ).toBeLessThan(0.05)
    await page.keyboard.press('h')
    const whole = await page.evaluate(() => window.oakenThread.getState().navigation.view)
    expect(whole.framesPerPixel * whole.width).toBeGreaterThan(90 * 48000)
  },
)
