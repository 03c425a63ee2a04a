/** The modified Bessel function of the first kind of order 0, by its series; for x ≥ 0. */
export function besselI0(x: number): number {
  let term = 1
  let sum = 1
  for (let k = 1; term > sum * 1e-17; k++) {
    term *= (x / (2 * k)) * (x / (2 * k))
    sum += term
  }
  return sum
}
