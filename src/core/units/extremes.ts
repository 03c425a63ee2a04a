/**
 * The smallest value of a list by some measure, `Infinity` for an empty list. Unlike `Math.min(...list)` it
 * takes lists of any length.
 */
export function least<T>(list: readonly T[], measure: (item: T) => number): number {
  let found = Infinity
  for (const item of list) found = Math.min(found, measure(item))
  return found
}

/** The largest value of a list by some measure, `-Infinity` for an empty list. */
export function most<T>(list: readonly T[], measure: (item: T) => number): number {
  let found = -Infinity
  for (const item of list) found = Math.max(found, measure(item))
  return found
}
