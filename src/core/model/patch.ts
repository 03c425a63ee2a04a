/** One change of plain data at a path: a new value, or none where the key is removed. */
export interface Patch {
  path: (string | number)[]
  value?: unknown
  removed?: true
}

/** A change and its inverse. */
export interface Change {
  forward: Patch[]
  inverse: Patch[]
}

type Plain = Record<string, unknown>

const isRecord = (x: unknown): x is Plain => typeof x === 'object' && x !== null && !Array.isArray(x)

/**
 * The patches from one immutable value to the next and back. Parts that are the same object are not looked at, so the cost is
 * that of what changed. Lists are replaced whole.
 */
export function diff(before: unknown, after: unknown): Change {
  const forward: Patch[] = []
  const inverse: Patch[] = []
  const visit = (a: unknown, b: unknown, path: string[]) => {
    if (Object.is(a, b)) return
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
 * The value after the patches; the given value is not changed, and parts that no patch touches stay the same objects.
 * Throws a RangeError when a path leads through something that is not there.
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
      root = patch.value
      continue
    }
    if (!isRecord(root)) throw new RangeError(`patch ${patch.path.join('.')} leads into a value that has no parts`)
    root = copy(root)
    let at = root as Plain
    for (const key of patch.path.slice(0, -1)) {
      const next = at[key]
      if (!isRecord(next)) throw new RangeError(`patch ${patch.path.join('.')} leads through ${key}, which has no parts`)
      at = (at[key] = copy(next)) as Plain
    }
    const last = patch.path[patch.path.length - 1]!
    if (patch.removed) delete at[last]
    else at[last] = patch.value
  }
  return root as T
}
