const numbers = new WeakMap<object, number>()
let count = 0

/** A number that is the same for the same object, and another for every other; for making keys of immutable data. */
export function identityOf(object: object): number {
  const known = numbers.get(object)
  if (known !== undefined) return known
  numbers.set(object, ++count)
  return count
}
