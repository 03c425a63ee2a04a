/**
 * Elementary functions made only of operations that IEEE 754 rounds exactly (+ - * / and table look-ups), so that every
 * JavaScript engine returns the same bits. The renderer uses these; `Math.sin` and its like may differ between engines.
 * Polynomials for sine and cosine: K. C. Ng, FDLIBM `k_sin.c` and `k_cos.c`; errors stay below 1e-15 relative.
 */

const HALF_PI = 1.5707963267948966
/** ln 2, ln 10, log2 10 and log2 e. */
export const LN2 = 0.6931471805599453
export const LN10 = 2.302585092994046
export const LOG2_OF_10 = 3.321928094887362
export const LOG2_OF_E = 1.4426950408889634

function kernelSin(z: number): number {
  const w = z * z
  return (
    z +
    z *
      w *
      (-1.66666666666666324348e-1 +
        w *
          (8.33333333332248946124e-3 +
            w *
              (-1.98412698298579493134e-4 +
                w *
                  (2.75573137070700676789e-6 +
                    w * (-2.50507602534068634195e-8 + w * 1.58969099521155010221e-10)))))
  )
}

function kernelCos(z: number): number {
  const w = z * z
  return (
    1 -
    (0.5 * w -
      w *
        w *
        (4.16666666666666019037e-2 +
          w *
            (-1.38888888888741095749e-3 +
              w *
                (2.48015872894767294178e-5 +
                  w *
                    (-2.75573143513906633035e-7 +
                      w * (2.0875723212981748279e-9 - w * 1.13596475577881948265e-11))))))
  )
}

/** `sin(πx/2)` for x in 0…1. Exactly 0 at 0 and 1 at 1. */
export function sinHalfPi(x: number): number {
  return x <= 0.5 ? kernelSin(x * HALF_PI) : kernelCos((1 - x) * HALF_PI)
}

/** `cos(πx/2)` for x in 0…1. Exactly 1 at 0 and 0 at 1. */
export function cosHalfPi(x: number): number {
  return x <= 0.5 ? kernelCos(x * HALF_PI) : kernelSin((1 - x) * HALF_PI)
}

/** `tan(πx)` for 0 ≤ x < 0.5. */
export function tanPi(x: number): number {
  return sinHalfPi(2 * x) / sinHalfPi(1 - 2 * x)
}

/**
 * `cos(πx/2)` for x in -1…1 by one polynomial, `(1 - x²)·q(x²)` with q fitted at Chebyshev nodes: within 1e-11, exactly 1
 * at 0 and 0 at ±1. For loops over every sample, which branches would slow down.
 */
export function cosHalfPiQuick(x: number): number {
  const z = x * x
  return (
    (1 - z) *
    (1 +
      z *
        (-0.23370054991158176 +
          z *
            (0.01996895516316129 +
              z * (-0.0008945119709039604 + z * (2.4716123441357273e-5 + z * -4.460047435259846e-7)))))
  )
}

/** The raised cosine `(1 - cos πu)/2` for u in 0…1, as `sin²(πu/2)`. */
export function raisedCosine(u: number): number {
  const s = sinHalfPi(u)
  return s * s
}

/** 2^-1080 … 2^1023 by exact doubling. */
const POWERS_OF_TWO = (() => {
  const table = new Float64Array(2104)
  table[1080] = 1
  for (let n = 1; n <= 1023; n++) table[1080 + n] = table[1080 + n - 1]! * 2
  for (let n = 1; n <= 1080; n++) table[1080 - n] = table[1080 - n + 1]! / 2
  return table
})()

/** `2^x`. Below 2^-1074 it is 0, above the largest double Infinity. */
export function exp2(x: number): number {
  if (x >= 1024) return Infinity
  if (!(x > -1080)) return Number.isNaN(x) ? NaN : 0
  const whole = Math.floor(x + 0.5)
  const r = (x - whole) * LN2
  // e^r for |r| ≤ 0.3466 by its series; the first term left out is under 2e-18.
  let sum = 1
  for (let n = 14; n >= 1; n--) sum = 1 + (sum * r) / n
  return whole === 1024 ? sum * 2 * POWERS_OF_TWO[1080 + 1023]! : sum * POWERS_OF_TWO[1080 + whole]!
}

const bits = new Float64Array(1)
const words = new Uint32Array(bits.buffer)

/** `log2(x)` for finite x > 0 (normal numbers); -Infinity at 0. */
export function log2(x: number): number {
  if (x === 0) return -Infinity
  bits[0] = x
  let exponent = ((words[1]! >>> 20) & 0x7ff) - 1023
  words[1] = (words[1]! & 0x800fffff) | 0x3ff00000
  let mantissa = bits[0]!
  if (mantissa > 1.4142135623730951) {
    mantissa /= 2
    exponent += 1
  }
  // ln m = 2·atanh((m-1)/(m+1)); |s| ≤ 0.1716, the first term left out is under 1e-18.
  const s = (mantissa - 1) / (mantissa + 1)
  const w = s * s
  let sum = 0
  for (let n = 23; n >= 1; n -= 2) sum = sum * w + 1 / n
  return exponent + 2 * s * sum * LOG2_OF_E
}

/** 1.5·2⁵²: what is added to it becomes a whole number, the nearest. */
const ROUNDING = 6755399441055744

/**
 * `2^x` for -1000 < x < 1000 within 1e-11 of its size, without a division: for loops over every sample. The series of e^r up to
 * r⁹/9!, by pairs of terms (G. Estrin, 1960): a processor works on several of them at once.
 */
export function exp2Quick(x: number): number {
  const whole = x + ROUNDING - ROUNDING
  const r = (x - whole) * LN2
  const r2 = r * r
  const r4 = r2 * r2
  const low = 1 + r + r2 * (0.5 + r * 0.16666666666666666)
  const middle =
    4.1666666666666664e-2 + r * 8.333333333333333e-3 + r2 * (1.3888888888888889e-3 + r * 1.984126984126984e-4)
  const high = 2.48015873015873e-5 + r * 2.7557319223985893e-6
  return (low + r4 * middle + r4 * r4 * high) * POWERS_OF_TWO[1080 + whole]!
}

/** 1/n for n = 11, 9 … 1. */
const LOG_TERMS = [
  0.09090909090909091, 0.1111111111111111, 0.14285714285714285, 0.2, 0.3333333333333333, 1,
] as const

/** `log2(x)` for normal x > 0 within 1e-10, with one division: for loops over every sample. */
export function log2Quick(x: number): number {
  bits[0] = x
  let exponent = ((words[1]! >>> 20) & 0x7ff) - 1023
  words[1] = (words[1]! & 0x800fffff) | 0x3ff00000
  let mantissa = bits[0]!
  if (mantissa > 1.4142135623730951) {
    mantissa *= 0.5
    exponent += 1
  }
  const s = (mantissa - 1) / (mantissa + 1)
  const w = s * s
  let sum: number = LOG_TERMS[0]
  for (let n = 1; n < 6; n++) sum = sum * w + LOG_TERMS[n]!
  return exponent + 2 * s * sum * LOG2_OF_E
}

/** `x^y` for x ≥ 0. `0^y` is 0 for y > 0; `x^1` is exactly x. */
export function power(x: number, y: number): number {
  if (y === 1) return x
  if (x === 0) return y === 0 ? 1 : 0
  if (x === 1) return 1
  return exp2(y * log2(x))
}

/** `10^x`. Exactly 1 at 0. */
export function exp10(x: number): number {
  return exp2(x * LOG2_OF_10)
}

/** `e^x`. */
export const exp = (x: number): number => exp2(x * LOG2_OF_E)

/** `ln x` for finite x > 0 (normal numbers); -Infinity at 0. */
export const ln = (x: number): number => log2(x) * LN2
