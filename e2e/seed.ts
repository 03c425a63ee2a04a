import type { Page } from '@playwright/test'

/** The databases in which a stored session lies, but for its sounds, which stay in the browser anyhow (see fixtures.ts). */
const OF_SESSIONS = ['oaken-thread-sessions', 'oaken-thread-heads', 'oaken-thread-steps']

/**
 * Runs in the page: copies all records of databases, each into the one whose name has `to` in place of `from`, but for those that
 * have records. Whether there was anything to copy.
 */
async function copyRecords([names, from, to]: readonly [
  readonly string[],
  string,
  string,
]): Promise<boolean> {
  const EPOCH = '#epoch'
  const known = new Set((await indexedDB.databases()).map(({ name }) => name))
  const open = (name: string) =>
    new Promise<IDBDatabase>((resolve, reject) => {
      const request = indexedDB.open(name)
      request.onupgradeneeded = () => request.result.createObjectStore('keyvaluepairs')
      request.onsuccess = () => resolve(request.result)
      request.onerror = () => reject(request.error!)
    })
  const done = <T>(request: IDBRequest<T>) =>
    new Promise<T>((resolve, reject) => {
      request.onsuccess = () => resolve(request.result)
      request.onerror = () => reject(request.error!)
    })
  for (const name of names) {
    const [source, target] = [`${from}${name}`, `${to}${name}`]
    if (!known.has(source)) return false
    const [a, b] = [await open(source), await open(target)]
    const records = a.transaction('keyvaluepairs').objectStore('keyvaluepairs')
    const [keys, values] = await Promise.all([done(records.getAllKeys()), done(records.getAll())])
    const copies = b.transaction('keyvaluepairs', 'readwrite').objectStore('keyvaluepairs')
    const stored = (await done(copies.getAllKeys())).some((key) => key !== EPOCH)
    // Each database keeps an epoch of its own.
    await Promise.all(
      keys.map((key, i) => (stored || key === EPOCH ? null : done(copies.put(values[i], key)))),
    )
    a.close()
    b.close()
  }
  return true
}

/** Keeps the stored sessions of this browser under a name, for `sow`. */
export const keepSeed = (page: Page, name: string): Promise<boolean> =>
  page.evaluate(copyRecords, [OF_SESSIONS, '', `seed-${name}-`] as const)

/** Stores the sessions that were kept under a name again, where there are none. Whether any were kept. */
export async function sow(page: Page, name: string): Promise<boolean> {
  await page.goto('/empty')
  return page.evaluate(copyRecords, [OF_SESSIONS, `seed-${name}-`, ''] as const)
}
