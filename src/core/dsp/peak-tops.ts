import { sinHalfPi } from '../units/exact'
import { besselI0 } from './kaiser'
import { PHASES, POINT_TAPS, type Points } from './kernels/points'

/** `sin(πx)/(πx)` by the exact sine. */
export function sinc(x: number): number {
  if (x === 0) return 1
  const size = Math.abs(x)
  const whole = Math.floor(size)
  const part = size - whole
  const sine = (whole % 2 ? -1 : 1) * (part <= 0.5 ? sinHalfPi(2 * part) : sinHalfPi(2 * (1 - part)))
  return sine / (Math.PI * size)
}

/** Taps that give the signal at the points between two samples: a sinc under a Kaiser window (J. F. Kaiser, 1974), a row for each point. */
export const pointTaps = (count: number, beta: number): readonly Float64Array[] =>
  Array.from({ length: PHASES - 1 }, (_, p) =>
    Float64Array.from({ length: count }, (_unused, t) => {
      const distance = t - count / 2 + 1 - (p + 1) / PHASES
      const inside = 1 - (distance / (count / 2)) ** 2
      return inside <= 0 ? 0 : (sinc(distance) * besselI0(beta * Math.sqrt(inside))) / besselI0(beta)
    }),
  )

/** Those of the meter: flat to 20 kHz at 44.1 kHz within 0.03 dB, as 20 kHz is where the top of what is heard lies; 1 at 0 Hz. */
export const METER_TAPS: readonly Float64Array[] = pointTaps(POINT_TAPS, 4.6).map((taps) => {
  const sum = taps.reduce((a, b) => a + b, 0)
  return taps.map((t) => t / sum)
})

/** The height of the middle of three points; where it is the highest, that of the parabola through them. */
function topAt(before: number, now: number, next: number): number {
  if (now < before || now < next) return now
  const bend = before - 2 * now + next
  return bend < 0 ? now - ((next - before) * (next - before)) / (8 * bend) : now
}

/**
 * Raises `peaks[k]`, for `at` ≤ k < `at + count`, to the largest size of the signal from sample k to the next one, both of which belong
 * to it: eight points from sample to sample, and a parabola through the three around each that is higher than its neighbours. Sample k
 * lies at place `k + halfWidth` of the points' window, and the table has rows of `2·halfWidth` taps.
 */
export function raiseToTops(
  points: Points,
  table: number,
  halfWidth: number,
  at: number,
  count: number,
  peaks: Float64Array,
): void {
  const { window, sizes } = points
  points.fill(table, at, at + count + 1, 0, sizes.length - 1)
  const [p1, p2, p3, p4, p5, p6, p7] = sizes
  let before = p7![at]!
  let now = Math.abs(window[at + halfWidth]!)
  for (let k = at; k < at + count; k++) {
    const i = k + 1
    const [a, b, c, d] = [p1![i]!, p2![i]!, p3![i]!, p4![i]!]
    const [e, f, g, end] = [p5![i]!, p6![i]!, p7![i]!, Math.abs(window[i + halfWidth]!)]
    let peak = Math.max(peaks[k]!, end)
    peak = Math.max(peak, topAt(before, now, a), topAt(now, a, b), topAt(a, b, c), topAt(b, c, d))
    peaks[k] = Math.max(peak, topAt(c, d, e), topAt(d, e, f), topAt(e, f, g), topAt(f, g, end))
    before = g
    now = end
  }
}
