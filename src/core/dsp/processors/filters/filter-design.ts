import { cosHalfPi, exp, exp10, sinHalfPi } from '../../../units/exact'

const HALF_PI = 1.5707963267948966
const TWO_PI = 6.283185307179586

/** Frequencies above this part of the sample rate act as it. */
export const HIGHEST_PART = 0.45

/** The six numbers of a section of a filter kernel: p, q, r, d, l, c. */
export type SectionNumbers = readonly [p: number, q: number, r: number, d: number, l: number, c: number]

/** A section that changes nothing. */
export const IDENTITY: SectionNumbers = [0, 0, 0, 1, 1, 0]

/** A digital filter `(b0 + b1 z⁻¹ + b2 z⁻²) / (1 + a1 z⁻¹ + a2 z⁻²)`. */
interface Biquad {
  b: readonly [number, number, number]
  a: readonly [number, number]
}

/** `cos x` for x in 0…π. */
const cos = (x: number) => (x <= HALF_PI ? cosHalfPi(x / HALF_PI) : -sinHalfPi(Math.min(1, x / HALF_PI - 1)))

/** `φ1 = sin²(w/2)` of the squared magnitude `φ0·B0 + φ1·B1 + 4·φ0·φ1·B2` at w radians a sample. */
const phiOf = (w: number) => {
  const s = sinHalfPi(Math.min(1, w / 2 / HALF_PI))
  return s * s
}

/** Denominator with the poles of `s² + s·ω/Q + ω²` (impulse invariance), ω in radians a sample. */
function polesOf(omega: number, q: number): readonly [number, number] {
  const damping = 1 / (2 * q)
  const decay = exp(-damping * omega)
  let ring: number
  if (damping <= 1) ring = cos(Math.sqrt(1 - damping * damping) * omega)
  else {
    const x = Math.sqrt(damping * damping - 1) * omega
    ring = (exp(x) + exp(-x)) / 2
  }
  return [-2 * decay * ring, decay * decay]
}

/** Points, besides 0, at which a squared magnitude is met, in radians a sample. */
type Points = readonly [near: number, far: number]

const pointsOf = (omega: number, reach = 1, most = 0.1875, far = 0.3125): Points => [
  Math.min(omega * reach, most * TWO_PI),
  far * TWO_PI,
]

/**
 * The polynomial of minimum phase whose squared magnitude is `at0` at 0 and `values` at two points: M. Vicanek, Matched second order digital
 * filters, 2016, with other points.
 */
function polynomialOf(
  at0: number,
  points: Points,
  values: readonly [number, number],
): [number, number, number] {
  const [phi, psi] = [phiOf(points[0]), phiOf(points[1])]
  const [first, second] = [(values[0] - (1 - phi) * at0) / phi, (values[1] - (1 - psi) * at0) / psi]
  const c2 = (first - second) / (4 * (psi - phi))
  const c1 = Math.max(0, first - 4 * (1 - phi) * c2)
  const [low, high] = [Math.sqrt(Math.max(0, at0)), Math.sqrt(c1)]
  const half = (low + high) / 2
  const x0 = (half + Math.sqrt(Math.max(0, half * half + c2))) / 2
  return [x0, (low - high) / 2, x0 === 0 ? 0 : -c2 / (4 * x0)]
}

/** The squared magnitude of `1 + a1 z⁻¹ + a2 z⁻²` or of `b0 + b1 z⁻¹ + b2 z⁻²`. */
function squaredAt(w: number, x0: number, x1: number, x2: number): number {
  const phi = phiOf(w)
  return (
    (1 - phi) * (x0 + x1 + x2) * (x0 + x1 + x2) +
    phi * ((x0 - x1 + x2) * (x0 - x1 + x2)) -
    16 * (1 - phi) * phi * x0 * x2
  )
}

/** An analogue polynomial `x2·s² + x1·s + x0`; its squared magnitude at s = j·x. */
type Prototype = readonly [x2: number, x1: number, x0: number]
const analogueAt = ([x2, x1, x0]: Prototype, x: number) =>
  (x0 - x2 * x * x) * (x0 - x2 * x * x) + x1 * x * (x1 * x)

/** Poles as given, and the numerator that meets an analogue prototype at 0 and at two points. */
function withPoles(
  a: readonly [number, number],
  numerator: Prototype,
  denominator: Prototype,
  omega: number,
  points: Points = pointsOf(omega),
): Biquad {
  const meet = (w: number) =>
    (squaredAt(w, 1, a[0], a[1]) * analogueAt(numerator, w / omega)) / analogueAt(denominator, w / omega)
  const low = ((1 + a[0] + a[1]) * numerator[2]) / denominator[2]
  return { a, b: polynomialOf(low * low, points, [meet(points[0]), meet(points[1])]) }
}

/**
 * Zeros as given, and the denominator that meets a prototype: `ratio(w)` is the squared magnitude of the zeros over that of the
 * prototype's numerator, `at0` its limit at 0.
 */
function withZeros(
  zeros: readonly [number, number, number],
  ratio: (w: number) => number,
  at0: number,
  denominator: Prototype,
  omega: number,
  points: Points,
): Biquad {
  const meet = (w: number) => ratio(w) * analogueAt(denominator, w / omega)
  const [a0, a1, a2] = polynomialOf(at0, points, [meet(points[0]), meet(points[1])])
  return { b: [zeros[0] / a0, zeros[1] / a0, zeros[2] / a0], a: [a1 / a0, a2 / a0] }
}

/** 1/H, for a filter whose zeros lie inside the unit circle. */
const inverse = ({ b: [b0, b1, b2], a: [a1, a2] }: Biquad): Biquad => ({
  b: [1 / b0, a1 / b0, a2 / b0],
  a: [b1 / b0, b2 / b0],
})

const omegaOf = (frequencyHz: number, sampleRate: number) =>
  TWO_PI * Math.min(frequencyHz / sampleRate, HIGHEST_PART)

/** The numbers of a section that does what a biquad does (V. Zavalishin, The art of VA filter design, ch. 4: trapezoidal integrators). */
function sectionOf({ b: [b0, b1, b2], a: [a1, a2] }: Biquad): SectionNumbers {
  const [low, high] = [1 + a1 + a2, 1 - a1 + a2]
  const g = Math.sqrt(low / high)
  const k = (2 * (1 - a2)) / (high * g)
  const t1 = 1 / (1 + g * (g + k))
  const t2 = g * t1
  const t3 = g * t2
  const atZero = (b0 + b1 + b2) / low
  const atHalf = (b0 - b1 + b2) / high
  const band = (b0 - b2) / (2 * t2)
  const [m1, m2] = [band - k * atHalf, atZero - atHalf]
  return [2 * t1 - 1, 2 * t2, 2 * t3, atHalf + (m1 * t2 + m2 * t3), atZero, m1 * t1 + m2 * t2]
}

/** The numbers of a section of first order, `(b0 + b1 z⁻¹) / (1 + a1 z⁻¹)`. */
function firstOrderSection(b0: number, b1: number, a1: number): SectionNumbers {
  // With one state: r = 1 + a1; at 0 it is l, at half the sample rate h.
  const r = 1 + a1
  const [l, h] = [(b0 + b1) / r, (b0 - b1) / (1 - a1)]
  return [0, 0, r, h * (1 - r / 2) + (l * r) / 2, l, 0]
}

/** `A(s²…)`: bell `(s² + sA/Q + 1)/(s² + s/(AQ) + 1)`, A = 10^(gainDb/40). A cut is the inverse of its boost. */
export function bell(frequencyHz: number, gainDb: number, q: number, sampleRate: number): SectionNumbers {
  const omega = omegaOf(frequencyHz, sampleRate)
  const a = exp10(Math.abs(gainDb) / 40)
  const made = withPoles(polesOf(omega, q * a), [1, a / q, 1], [1, 1 / (a * q), 1], omega)
  return sectionOf(gainDb < 0 ? inverse(made) : made)
}

/** Low shelf `A(s² + s√A/Q + A)/(As² + s√A/Q + 1)`. A cut is the inverse of its boost. */
export function lowShelf(frequencyHz: number, gainDb: number, q: number, sampleRate: number): SectionNumbers {
  const omega = omegaOf(frequencyHz, sampleRate)
  const a = exp10(Math.abs(gainDb) / 40)
  const s = Math.sqrt(a)
  const made = withPoles(polesOf(omega / s, q), [a, (a * s) / q, a * a], [a, s / q, 1], omega)
  return sectionOf(gainDb < 0 ? inverse(made) : made)
}

/** High shelf `A(As² + s√A/Q + 1)/(s² + s√A/Q + A)`. A boost is the inverse of its cut. */
export function highShelf(
  frequencyHz: number,
  gainDb: number,
  q: number,
  sampleRate: number,
): SectionNumbers {
  const omega = omegaOf(frequencyHz, sampleRate)
  const a = exp10(-Math.abs(gainDb) / 40)
  const s = Math.sqrt(a)
  const made = withPoles(polesOf(omega * s, q), [a * a, (a * s) / q, a], [1, s / q, a], omega)
  return sectionOf(gainDb > 0 ? inverse(made) : made)
}

/** Notch `(s² + 1)/(s² + s/Q + 1)`, with its zeros on the unit circle. */
export function notch(frequencyHz: number, q: number, sampleRate: number): SectionNumbers {
  const omega = omegaOf(frequencyHz, sampleRate)
  const middle = cos(omega)
  const sine = Math.sqrt(Math.max(0, 1 - middle * middle))
  const ratio = (w: number) => {
    if (Math.abs(w - omega) < 1e-5 * omega) return omega * sine * (omega * sine)
    const x = (2 * (cos(w) - middle)) / (1 - (w / omega) * (w / omega))
    return x * x
  }
  // At 0: (2(1 - cos ω))², by half angles.
  const low = 4 * phiOf(omega)
  return sectionOf(withZeros([1, -2 * middle, 1], ratio, low * low, [1, 1 / q, 1], omega, pointsOf(omega)))
}

/** The Q of the sections of second order of a Butterworth filter, the sharpest first. */
export function butterworthQs(order: number): number[] {
  const qs: number[] = []
  for (let k = 0; k < order >> 1; k++) {
    // cos of the angle between a pair of poles and the negative real axis.
    const angle = order % 2 ? (2 * (k + 1)) / order : (2 * k + 1) / order
    qs.push(1 / (2 * cosHalfPi(angle)))
  }
  return qs.sort((a, b) => b - a)
}

/** High cut of an order: Butterworth. */
export function highCut(frequencyHz: number, order: number, sampleRate: number): SectionNumbers[] {
  const omega = omegaOf(frequencyHz, sampleRate)
  const sections = butterworthQs(order).map((q) =>
    sectionOf(withPoles(polesOf(omega, q), [0, 0, 1], [1, 1 / q, 1], omega)),
  )
  if (order % 2) {
    const pole = exp(-omega)
    const w = 0.3125 * TWO_PI
    const at0 = (1 - pole) * (1 - pole)
    const met = squaredAt(w, 1, -pole, 0) / (1 + (w / omega) * (w / omega))
    const [low, high] = [1 - pole, Math.sqrt(Math.max(0, (met - (1 - phiOf(w)) * at0) / phiOf(w)))]
    sections.push(firstOrderSection((low + high) / 2, (low - high) / 2, -pole))
  }
  return sections
}

/**
 * Where the sections of a low cut meet their prototypes, by its order: near (as a part of its own frequency, and of the sample rate
 * at most) and far (of the sample rate). Found by search for the least error of the whole.
 */
const LOW_CUT_POINTS: Readonly<Record<number, readonly (readonly [number, number, number])[]>> = {
  4: [
    [1.1, 0.28, 0.31],
    [0.6, 0.28, 0.3125],
  ],
  5: [
    [1.1, 0.28, 0.31],
    [0.6, 0.28, 0.3125],
  ],
  6: [
    [1.1, 0.28, 0.31],
    [1.1, 0.2, 0.28],
    [0.6, 0.28, 0.3125],
  ],
  7: [
    [1.077, 0.292, 0.304],
    [1.045, 0.2635, 0.2755],
    [0.375, 0.1808, 0.3208],
  ],
  8: [
    [1.0677, 0.2879, 0.2999],
    [0.5638, 0.1811, 0.2432],
    [0.4293, 0.2329, 0.2454],
    [0.4608, 0.193, 0.3201],
  ],
}

/**
 * Low cut of an order: Butterworth, with all zeros at 0 Hz. Each section makes up, at the points that it meets, for what those
 * before it miss.
 */
export function lowCut(frequencyHz: number, order: number, sampleRate: number): SectionNumbers[] {
  const omega = omegaOf(frequencyHz, sampleRate)
  const zeros = (w: number) => {
    // (2 sin(w/2)·ω/w)², of one zero over one of the prototype's.
    const x = (2 * sinHalfPi(w / 2 / HALF_PI) * omega) / w
    return x * x
  }
  const sections: SectionNumbers[] = []
  /** Squared magnitude of what was made, over that of its prototypes. */
  let missed: (w: number) => number = () => 1
  const qs = butterworthQs(order)
  if (order % 2) {
    const w = Math.min(Math.max(omega, 0.25 * TWO_PI), 0.3125 * TWO_PI)
    const at0 = omega * omega
    const met = zeros(w) * (1 + (w / omega) * (w / omega))
    const high = Math.sqrt(Math.max(0, (met - (1 - phiOf(w)) * at0) / phiOf(w)))
    const [a0, a1] = [(omega + high) / 2, (omega - high) / 2]
    sections.push(firstOrderSection(1 / a0, -1 / a0, a1 / a0))
    missed = (v) => (zeros(v) * (1 + (v / omega) * (v / omega))) / squaredAt(v, a0, a1, 0)
  }
  qs.forEach((q, k) => {
    const before = missed
    const ratio = (w: number) => zeros(w) * zeros(w) * before(w)
    const points = pointsOf(omega, ...(LOW_CUT_POINTS[order]?.[k] ?? []))
    const at0 = omega * omega * (omega * omega)
    const made = withZeros([1, -2, 1], ratio, at0, [1, 1 / q, 1], omega, points)
    const { b, a } = made
    sections.push(sectionOf(made))
    missed = (w) =>
      (before(w) * squaredAt(w, b[0], b[1], b[2]) * analogueAt([1, 1 / q, 1], w / omega)) /
      (squaredAt(w, 1, a[0], a[1]) * (w / omega) ** 4)
  })
  return sections
}
