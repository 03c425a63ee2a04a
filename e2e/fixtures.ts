import { test as base, type BrowserContext, type Route } from '@playwright/test'

/**
 * Databases that hold nothing but sound and pictures of it, by its hash: they may stay, and opening a session
 * again is quick.
 */
const SOUND = ['oaken-thread-audio', 'oaken-thread-chunks', 'oaken-thread-peaks']

/** A page of this address without the application. */
const nothing = (route: Route) => route.fulfill({ contentType: 'text/html', body: '' })

interface Fixtures {
  /** A browser that has never been here; without it only the sounds of earlier tests are there already. */
  fresh: boolean
}

/** Runs in the page: forgets all that is stored but sound. */
async function forget(kept: readonly string[]): Promise<void> {
  localStorage.clear()
  for (const { name } of await indexedDB.databases())
    if (name && !kept.includes(name) && !name.startsWith('seed-'))
      await new Promise((resolve) => {
        const request = indexedDB.deleteDatabase(name)
        request.onsuccess = request.onerror = resolve
      })
}

/**
 * Playwright's `test`, with a browser context that the tests of a worker share: each finds it without
 * sessions or settings.
 */
export const test = base.extend<Fixtures, { shared: BrowserContext }>({
  fresh: [false, { option: true }],
  shared: [
    async ({ browser }, use, { project }) => {
      const { baseURL, viewport } = project.use
      const context = await browser.newContext({
        ...(baseURL ? { baseURL } : {}),
        viewport: viewport ?? null,
      })
      await context.route('**/empty', nothing)
      await use(context)
      await context.close()
    },
    { scope: 'worker' },
  ],
  context: async ({ browser, shared, fresh, baseURL, viewport }, use) => {
    if (fresh) {
      const context = await browser.newContext({ ...(baseURL ? { baseURL } : {}), viewport })
      await context.route('**/empty', nothing)
      await use(context)
      return context.close()
    }
    await use(shared)
    for (const page of shared.pages()) await page.close()
    const page = await shared.newPage()
    await page.goto('/empty')
    await page.evaluate(forget, SOUND)
    await page.close()
  },
})
