import { bell, highCut, highShelf, lowCut, lowShelf, notch, type SectionNumbers } from './filter-design'

const RATE = 48_000

/** dB of sections at a frequency, by the transfer function of the state equations. */
function digitalDb(sections: readonly SectionNumbers[], hz: number): number {
  const w = (2 * Math.PI * hz) / RATE
  let sum = 0
  for (const [p, q, r, d, l, c] of sections) {
    // z·s1 = p·s1 + q·(x - s2), z·s2 = s2 + q·s1 + r·(x - s2): two complex equations by Cramer's rule, x = 1.
    const [zr, zi] = [Math.cos(w), Math.sin(w)]
    const mul = (a: number[], b: number[]) => [a[0]! * b[0]! - a[1]! * b[1]!, a[0]! * b[1]! + a[1]! * b[0]!]
    const a11 = [zr - p, zi]
    const a22 = [zr - 1 + r, zi]
    const product = mul(a11, a22)
    const det = [product[0]! + q * q, product[1]!]
    const over = (n: number[]) => {
      const size = det[0]! ** 2 + det[1]! ** 2
      return [(n[0]! * det[0]! + n[1]! * det[1]!) / size, (n[1]! * det[0]! - n[0]! * det[1]!) / size]
    }
    const s1 = over([q * a22[0]! - q * r, q * a22[1]!])
    const s2 = over([r * a11[0]! + q * q, r * a11[1]!])
    const re = d * (1 - s2[0]!) + l * s2[0]! + c * s1[0]!
    const im = -d * s2[1]! + l * s2[1]! + c * s1[1]!
    sum += 10 * Math.log10(re * re + im * im)
  }
  return sum
}

/** |N/D|² of polynomials of s at s = jx, in dB; coefficients from s⁰ up. */
function analogueDb(numerator: readonly number[], denominator: readonly number[], x: number): number {
  const squared = (k: readonly number[]) => {
    const re = k[0]! - (k[2] ?? 0) * x * x
    const im = (k[1] ?? 0) * x
    return re * re + im * im
  }
  return 10 * Math.log10(squared(numerator) / squared(denominator))
}

const FREQUENCIES = [
  10, 20, 50, 100, 300, 1000, 3000, 6000, 7500, 9000, 10_500, 12_000, 13_500, 15_000, 16_500, 18_000, 20_000,
]

/** The largest error up to a third of the sample rate where the prototype is above a level. */
function worst(make: (hz: number) => SectionNumbers[], prototype: (x: number) => number, above = -200) {
  let largest = 0
  for (const hz of FREQUENCIES) {
    const sections = make(hz)
    for (let i = 1; i <= 300; i++)
      for (const f of [(RATE / 3) * (i / 300), 5 * (RATE / 15) ** (i / 300)]) {
        const wanted = prototype(f / hz)
        if (wanted < above) continue
        largest = Math.max(largest, Math.abs(digitalDb(sections, f) - wanted))
      }
  }
  return largest
}

test.each([-18, -6, 6, 18])('bells and shelves of %p dB follow their prototypes within 0.1 dB', (db) => {
  const A = 10 ** (db / 40)
  const s = Math.sqrt(A)
  for (const q of [0.3, 0.7071, 1, 3, 10]) {
    expect(
      worst(
        (f) => [bell(f, db, q, RATE)],
        (x) => analogueDb([1, A / q, 1], [1, 1 / (A * q), 1], x),
      ),
    ).toBeLessThan(0.1)
    if (q > 1) continue
    expect(
      worst(
        (f) => [lowShelf(f, db, q, RATE)],
        (x) => analogueDb([A * A, (A * s) / q, A], [1, s / q, A], x),
      ),
    ).toBeLessThan(0.1)
    expect(
      worst(
        (f) => [highShelf(f, db, q, RATE)],
        (x) => analogueDb([A, (A * s) / q, A * A], [A, s / q, 1], x),
      ),
    ).toBeLessThan(0.1)
  }
})

test('notches follow theirs within 0.1 dB where they are above -40 dB', () => {
  for (const q of [0.3, 0.7071, 1, 3, 10])
    expect(
      worst(
        (f) => [notch(f, q, RATE)],
        (x) => analogueDb([1, 0, 1], [1, 1 / q, 1], x),
        -40,
      ),
    ).toBeLessThan(0.1)
})

test.each([6, 12, 18, 24, 30, 36, 42, 48])(
  'cuts of %p dB an octave are Butterworth within 0.15 dB where they are above -60 dB',
  (slope) => {
    const n = slope / 6
    expect(
      worst(
        (f) => highCut(f, n, RATE),
        (x) => -10 * Math.log10(1 + x ** (2 * n)),
        -60,
      ),
    ).toBeLessThan(0.15)
    expect(
      worst(
        (f) => lowCut(f, n, RATE),
        (x) => -10 * Math.log10(1 + x ** (-2 * n)),
        -60,
      ),
    ).toBeLessThan(0.15)
  },
)
