import fc from 'fast-check'
import { plainQuantiser, tpdfQuantiser } from './dither'
import { Resampler, resampledLength } from './resample'

function resample(input: Float32Array, from: number, to: number, cut = 4096): Float32Array {
  const r = new Resampler(from, to)
  const parts: Float32Array[] = []
  for (let at = 0; at < input.length; at += cut) parts.push(r.push(input.subarray(at, at + cut)))
  parts.push(r.finish(input.length))
  return Float32Array.from(parts.flatMap((p) => [...p]))
}

const sine = (hz: number, rate: number, seconds: number) =>
  Float32Array.from({ length: Math.round(rate * seconds) }, (_, n) => Math.sin((2 * Math.PI * hz * n) / rate))

/** RMS of the middle of a signal in dB. */
function middleDb(x: Float32Array): number {
  const from = Math.floor(x.length * 0.3)
  const to = Math.floor(x.length * 0.7)
  let sum = 0
  for (let i = from; i < to; i++) sum += x[i]! ** 2
  return 10 * Math.log10(sum / (to - from))
}

describe('resampling', () => {
  test.each([
    [44100, 48000, 1000],
    [44100, 48000, 19500],
    [96000, 48000, 20000],
    [22050, 48000, 9000],
    [48000, 44100, 19500],
    [44099, 48000, 5000],
  ])('%p to %p Hz keeps a sine of %p Hz within 1e-5 of the true one', (from, to, hz) => {
    const out = resample(sine(hz, from, 0.25), from, to)
    expect(out.length).toBe(resampledLength(Math.round(from * 0.25), from, to))
    let worst = 0
    for (let n = Math.floor(out.length * 0.3); n < out.length * 0.7; n++)
      worst = Math.max(worst, Math.abs(out[n]! - Math.sin((2 * Math.PI * hz * n) / to)))
    expect(worst).toBeLessThan(1e-5)
  })
  test.each([
    [96000, 48000, 24001],
    [96000, 48000, 30000],
    [88200, 44100, 40000],
    [96000, 44100, 22100],
  ])('%p to %p Hz: %p Hz lies at least 120 dB down', (from, to, hz) => {
    expect(middleDb(resample(sine(hz, from, 0.5), from, to))).toBeLessThan(-120)
  })
  test('going up, no image comes within 120 dB: the sum of a 20 kHz sine and its error', () => {
    const out = resample(sine(20000, 44100, 0.25), 44100, 96000)
    const error = out.map((x, n) => x - Math.sin((2 * Math.PI * 20000 * n) / 96000))
    expect(middleDb(error)).toBeLessThan(-110)
  })
  test('does not depend on how the input is cut', () => {
    const input = sine(441, 44100, 0.1)
    const whole = resample(input, 44100, 48000, 1e9)
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3000 }), (cut) =>
        expect(Buffer.from(resample(input, 44100, 48000, cut).buffer).equals(Buffer.from(whole.buffer))).toBe(
          true,
        ),
      ),
      { numRuns: 10 },
    )
  })
  test('rates that are none throw', () => expect(() => new Resampler(0, 48000)).toThrow(RangeError))
})

describe('dither', () => {
  test('makes the error of a constant between two steps average out, with the power of TPDF', () => {
    // Error variance of TPDF: 2·(1/12) from the dither and 1/12 from rounding, 0.25 LSB² in all.
    const q = tpdfQuantiser(16, 7)
    const n = 200000
    const level = 100.37
    let sum = 0
    let squares = 0
    for (let i = 0; i < n; i++) {
      const error = q.next(level / 32768) - level
      sum += error
      squares += error * error
    }
    expect(Math.abs(sum / n)).toBeLessThan(0.01)
    expect(squares / n).toBeGreaterThan(0.24)
    expect(squares / n).toBeLessThan(0.26)
  })
  test('limits and counts what does not fit; the same seed gives the same row', () => {
    const q = tpdfQuantiser(16, 1)
    expect([q.next(1.5), q.next(-1.5), q.next(0.5) > 16000]).toEqual([32767, -32768, true])
    expect(q.clipped).toBe(2)
    const row = (seed: number) => {
      const r = tpdfQuantiser(24, seed)
      return Array.from({ length: 20 }, () => r.next(0.1))
    }
    expect(row(3)).toEqual(row(3))
    expect(row(3)).not.toEqual(row(4))
  })
  test('plain rounding returns whole steps unchanged', () => {
    fc.assert(
      fc.property(fc.integer({ min: -32768, max: 32767 }), (n) =>
        expect(plainQuantiser(16).next(n / 32768) + 0).toBe(n),
      ),
    )
  })
})
