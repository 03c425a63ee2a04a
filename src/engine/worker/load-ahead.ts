/** Where the build lists its parts, by their addresses (see `vite.config.ts`). */
const LIST = '/parts.json'

let loaded: Promise<number> | null = null

/**
 * Fetches all parts of the program that are not loaded yet, one after another, so that saving, copying and exporting work though
 * the server goes away: the browser keeps them, since their addresses change with their contents. Resolves to how many there
 * are; what cannot be fetched is fetched when it is needed, and said then.
 */
export function loadAhead(): Promise<number> {
  loaded ??= fetchParts().catch(() => {
    loaded = null
    return 0
  })
  return loaded
}

async function fetchParts(): Promise<number> {
  const response = await fetch(LIST)
  // Not in a build that lists none, such as one that is being worked on.
  if (!response.ok || !response.headers.get('Content-Type')?.includes('json')) return 0
  const parts = (await response.json()) as string[]
  // To its end, or it would not be kept.
  for (const part of parts) await (await fetch(part)).arrayBuffer()
  return parts.length
}
