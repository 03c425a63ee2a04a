import { exp, ln, LN2 } from '../../units/exact'
import { productOf, sumOf } from './narrow'

// What a saturator makes of the steps from one sample to the next, in 32 bits: the mean of its curve over each of them, weighted so that it
// rises to the sample that a step leads to, and so that it falls from the one it comes from.

/** Curves, in the order in which their kinds are numbered. */
export const BENDS = ['soft', 'hard', 'asymmetric'] as const

/** Places in the upper half of -1…1 and weights of Gauss and Legendre, for two, four and six places; three have one in the middle. */
const HALVES = {
  two: [[0.5773502691896257, 1]],
  four: [
    [0.8611363115940526, 0.3478548451374538],
    [0.3399810435848563, 0.6521451548625461],
  ],
  six: [
    [0.9324695142031521, 0.1713244923791704],
    [0.6612093864662645, 0.3607615730481386],
    [0.2386191860831969, 0.467913934572691],
  ],
} as const
/** The same on 0…1. */
const wholeOf = (half: readonly (readonly [number, number])[]) =>
  half.flatMap(([x, weight]) => [[(1 - x) / 2, weight / 2] as const, [(1 + x) / 2, weight / 2] as const])
const [TWO, FOUR, SIX] = [wholeOf(HALVES.two), wholeOf(HALVES.four), wholeOf(HALVES.six)]
const THREE = [[0.5, 4 / 9] as const, ...wholeOf([[0.7745966692414834, 5 / 9]])]
const TWELVE = [0, 0.5].flatMap((half) => SIX.map(([t, weight]) => [half + t / 2, weight / 2] as const))

/** For each place: itself, its weight where the weight of the step rises, and where it falls. */
export const STEP_PLACES = Float32Array.from(
  [...TWO, ...THREE, ...FOUR, ...SIX, ...TWELVE].flatMap(([t, weight]) => [t, weight * t, weight * (1 - t)]),
)

/**
 * Four steps of which the longest is no longer than this are averaged as cubics; up to the others by the places from one number to another
 * of `STEP_PLACES`; and those that are longer than `LONG_STEP` by antiderivatives. Each within some 1e-5.
 */
const SHORT_STEP = 0.125
const BY_PLACES = [
  { upTo: Math.fround(0.35), first: 0, last: 6 },
  { upTo: Math.fround(0.9), first: 6, last: 15 },
  { upTo: 1.5, first: 15, last: 27 },
  { upTo: 2.75, first: 27, last: 45 },
  { upTo: Infinity, first: 45, last: 81 },
] as const
const LONG_STEP = 5
const OFFSET = Math.fround(0.3)

const PI_SQUARED_24 = 0.4112335167120566

/** Pieces of the curves of the integrals of tanh from 0 to where they end. */
export const PIECES = 384
const PER_ONE = 32
const LAST = 11.984375

/** For each piece the cubic with the values and slopes (a unit) of a function at both its ends. */
function cubicsOf(value: (u: number) => number, slope: (u: number) => number): Float64Array {
  const cubics = new Float64Array(4 * PIECES)
  for (let k = 0; k < PIECES; k++) {
    const [from, to] = [value(k / PER_ONE), value((k + 1) / PER_ONE)]
    const [m0, m1] = [slope(k / PER_ONE) / PER_ONE, slope((k + 1) / PER_ONE) / PER_ONE]
    cubics.set([from, m0, 3 * (to - from) - 2 * m0 - m1, 2 * (from - to) + m0 + m1], 4 * k)
  }
  return cubics
}

const exactTanh = (u: number) => (1 - exp(-2 * u)) / (1 + exp(-2 * u))
/** What log cosh u has over u - log 2. */
const exactFirst = (u: number) => ln(1 + exp(-2 * u))
/** The integral of that from 0 on: π²/24 and half the dilogarithm of -e^(-2u), by Landen's identity. */
function exactSecond(u: number): number {
  const w = exp(-2 * u) / (1 + exp(-2 * u))
  let sum = 0
  for (let k = 60; k > 0; k--) sum = (sum + 1 / (k * k)) * w
  return PI_SQUARED_24 - (exactFirst(u) ** 2 / 2 + sum) / 2
}

/** What the first and second integral of tanh have besides a parabola, from 0 on, in 64 bits: each within 1e-8. */
export const FIRST_INTEGRAL = cubicsOf(exactFirst, (u) => exactTanh(u) - 1)
export const SECOND_INTEGRAL = cubicsOf(exactSecond, exactFirst)

/** A function by its cubics at a size. */
function valueOf(cubics: Float64Array, size: number): number {
  const scaled = Math.min(size, LAST) * PER_ONE
  const index = Math.trunc(scaled)
  const t = scaled - index
  const at = 4 * index
  return ((cubics[at + 3]! * t + cubics[at + 2]!) * t + cubics[at + 1]!) * t + cubics[at]!
}

/** `tanh u` is `u·P(u²)/Q(u²)` up to 7.5: of all such fractions the one whose largest error, as a part of it, is least (1.7e-6). */
const P = [0.99999821, 0.122576503, 0.00223550068, 3.72634652e-6] as const
const Q = [0.455897206, 0.0208831012, 0.00013774537] as const
const TANH_ENDS = 7.5

export function narrowTanh(u: number): number {
  let x = u < -TANH_ENDS ? -TANH_ENDS : u
  x = TANH_ENDS < x ? TANH_ENDS : x
  const y = productOf(x, x)
  const p = sumOf(P[0], y * sumOf(P[1], y * sumOf(P[2], y * Math.fround(P[3]))))
  const q = sumOf(1, y * sumOf(Q[0], y * sumOf(Q[1], y * Math.fround(Q[2]))))
  return Math.fround(productOf(x, p) / q)
}

/** What is added to the sound before tanh is taken of it, and what tanh makes of that, by the number of the curve. */
export const offsetOf = (curve: number) =>
  curve === 2 ? { offset: OFFSET, out: narrowTanh(OFFSET) } : { offset: 0, out: 0 }

/** What a step adds to the sample it leads to (`rise`), and to the one it comes from (`fall`). */
export const step = { rise: 0, fall: 0 }

/** Which places the mean of four steps takes, the longest of which has a size; null for none. */
export const placesFor = (size: number) =>
  size <= SHORT_STEP ? null : BY_PLACES.find(({ upTo }) => size <= upTo)!

/** The mean of tanh, less `out`, over a step, by places; a long one by antiderivatives. */
export function stepByPlaces(
  from: number,
  by: number,
  out: number,
  { first, last }: (typeof BY_PLACES)[number],
): void {
  if (Math.abs(by) > LONG_STEP) return longStep(from, Math.fround(from + by), out)
  step.rise = step.fall = 0
  for (let k = first; k < last; k += 3) {
    const value = sumOf(narrowTanh(sumOf(from, by * STEP_PLACES[k]!)), -out)
    step.rise = sumOf(step.rise, value * STEP_PLACES[k + 1]!)
    step.fall = sumOf(step.fall, value * STEP_PLACES[k + 2]!)
  }
}

const [NEAR, FAR, LESS, MORE] = [0.15, 0.35, 1 / 30, 0.05].map(Math.fround) as [
  number,
  number,
  number,
  number,
]

/** The same by the cubic with the values of tanh and its slopes at both ends. */
export function shortStep(by: number, first: number, last: number, out: number): void {
  const m0 = productOf(by, sumOf(1, -first * first))
  const m1 = productOf(by, sumOf(1, -last * last))
  const [p0, p1] = [sumOf(first, -out), sumOf(last, -out)]
  step.rise = sumOf(sumOf(p0 * NEAR, p1 * FAR), sumOf(m0 * LESS, -m1 * MORE))
  step.fall = sumOf(sumOf(p0 * FAR, p1 * NEAR), sumOf(m0 * MORE, -m1 * LESS))
}

/** By the integral of tanh, log cosh, and its integral, in which the dilogarithm stands; in 64 bits. */
function longStep(from: number, to: number, out: number): void {
  integrals(from)
  const [first, second] = [integral.first, integral.second]
  integrals(to)
  const inverse = 1 / (to - from)
  const mean = (integral.first - first) * inverse
  const rise = (integral.first - (integral.second - second) * inverse) * inverse
  step.rise = Math.fround(rise - out * 0.5)
  step.fall = Math.fround(mean - rise - out * 0.5)
}

const integral = { first: 0, second: 0 }

function integrals(u: number): void {
  const size = Math.abs(u)
  const second = size * (size * 0.5 - LN2) + valueOf(SECOND_INTEGRAL, size)
  integral.first = size - LN2 + valueOf(FIRST_INTEGRAL, size)
  integral.second = u < 0 ? -second : second
}

const [THIRD, SIXTH] = [1 / 3, 1 / 6].map(Math.fround) as [number, number]

/** The mean of a clamp to -1…1 over a step: that of a line, less what is above 1, and what is below -1. */
export function hardStep(from: number, to: number): void {
  straightStep(from, to)
  const [rise, fall] = [step.rise, step.fall]
  beyond(sumOf(from, -1), sumOf(to, -1))
  const [riseOver, fallOver] = [step.rise, step.fall]
  beyond(sumOf(-from, -1), sumOf(-to, -1))
  step.rise = sumOf(sumOf(rise, -riseOver), step.rise)
  step.fall = sumOf(sumOf(fall, -fallOver), step.fall)
}

function straightStep(from: number, to: number): void {
  const by = sumOf(to, -from)
  step.rise = sumOf(from * 0.5, by * THIRD)
  step.fall = sumOf(from * 0.5, by * SIXTH)
}

/** The same of what a step has over 0. */
function beyond(from: number, to: number): void {
  const by = sumOf(to, -from)
  if (from > 0 && to > 0) straightStep(from, to)
  else if (to > 0) {
    // It passes 0 on its way: this part of it is over.
    const part = Math.fround(to / by)
    const over = productOf(to, part)
    step.rise = productOf(over, sumOf(sumOf(1, -part) * 0.5, part * THIRD))
    step.fall = productOf(productOf(over, part), SIXTH)
  } else if (from > 0) {
    const part = Math.fround(from / -by)
    const over = productOf(from, part)
    step.rise = productOf(productOf(over, part), SIXTH)
    step.fall = productOf(over, sumOf(0.5, -part * SIXTH))
  } else step.rise = step.fall = 0
}
