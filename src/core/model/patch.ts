/**
 * One change of plain data at a path: a new value, none where the key is removed, or other items in the
 * middle of a list.
 */
export interface Patch {
  path: (string | number)[]
  value?: unknown
  removed?: true
  items?: { at: number; remove: number; insert: readonly unknown[] }
}

/** A change and its inverse. */
export interface Change {
  forward: Patch[]
  inverse: Patch[]
}

type Plain = Record<string, unknown>

const isRecord = (x: unknown): x is Plain => typeof x === 'object' && x !== null && !Array.isArray(x)

/** The patches between two lists: their middles where both begin or end with the same items, else the lists whole. */
function listPatches(
  a: readonly unknown[],
  b: readonly unknown[],
  path: string[],
): { there: Patch; back: Patch } {
  const shorter = Math.min(a.length, b.length)
  let at = 0
  while (at < shorter && Object.is(a[at], b[at])) at++
  let same = 0
  while (same < shorter - at && Object.is(a[a.length - 1 - same], b[b.length - 1 - same])) same++
  if (at + same === 0) return { there: { path, value: b }, back: { path, value: a } }
  const [left, come] = [a.slice(at, a.length - same), b.slice(at, b.length - same)]
  return {
    there: { path, items: { at, remove: left.length, insert: come } },
    back: { path, items: { at, remove: come.length, insert: left } },
  }
}

/**
 * The patches from one immutable value to the next and back. Parts that are the same object are not looked
 * at, so the cost is that of what changed; of a long list they hold only what lies between the items that are
 * the same at both its ends.
 */
export function diff(before: unknown, after: unknown): Change {
  const forward: Patch[] = []
  const inverse: Patch[] = []
  const visit = (a: unknown, b: unknown, path: string[]) => {
    if (Object.is(a, b)) return
    if (Array.isArray(a) && Array.isArray(b)) {
      const { there, back } = listPatches(a, b, path)
      forward.push(there)
      inverse.push(back)
      return
    }
    if (!isRecord(a) || !isRecord(b)) {
      forward.push({ path, value: b })
      inverse.push({ path, value: a })
      return
    }
    for (const key of Object.keys(a)) {
      // Most parts are the same; they cost no more than this.
      if (a[key] === b[key] && a[key] !== undefined) continue
      if (key in b) visit(a[key], b[key], [...path, key])
      else {
        forward.push({ path: [...path, key], removed: true })
        inverse.push({ path: [...path, key], value: a[key] })
      }
    }
    for (const key of Object.keys(b)) {
      if (key in a) continue
      forward.push({ path: [...path, key], value: b[key] })
      inverse.push({ path: [...path, key], removed: true })
    }
  }
  visit(before, after, [])
  return { forward, inverse }
}

/**
 * The value after the patches; the given value is not changed, and parts that no patch touches stay the same
 * objects. Throws a RangeError when a path leads through something that is not there, or to a list that is
 * shorter than the patch says.
 */
export function applyPatches<T>(value: T, patches: readonly Patch[]): T {
  const fresh = new Set<unknown>()
  const copy = (x: Plain): Plain => {
    if (fresh.has(x)) return x
    const made = { ...x }
    fresh.add(made)
    return made
  }
  let root: unknown = value
  for (const patch of patches) {
    if (patch.path.length === 0) {
      root = patched(root, patch)
      continue
    }
    if (!isRecord(root))
      throw new RangeError(`patch ${patch.path.join('.')} leads into a value that has no parts`)
    root = copy(root)
    let at = root as Plain
    for (const key of patch.path.slice(0, -1)) {
      const next = at[key]
      if (!isRecord(next))
        throw new RangeError(`patch ${patch.path.join('.')} leads through ${key}, which has no parts`)
      at = (at[key] = copy(next)) as Plain
    }
    const last = patch.path[patch.path.length - 1]!
    if (patch.removed) delete at[last]
    else at[last] = patched(at[last], patch)
  }
  return root as T
}

/** What a patch makes of the value at its path. */
function patched(value: unknown, { path, value: whole, items }: Patch): unknown {
  if (!items) return whole
  const { at, remove, insert } = items
  if (!Array.isArray(value) || at + remove > value.length)
    throw new RangeError(
      `patch ${path.join('.')} is about ${at + remove} items, of which there are ${Array.isArray(value) ? value.length : 'none'}`,
    )
  return [...value.slice(0, at), ...insert, ...value.slice(at + remove)] as unknown[]
}
