import fc from 'fast-check'
import type { Knot } from '../../model/session'
import { firstDifference, RATE, impulse, run, setup, sine } from './run.test-util'
import { softness } from './soft-jump'

/** The size of a sound at a frequency, in dB: its Fourier transform at one place. */
function dbAt(x: Float64Array, hz: number): number {
  let [re, im] = [0, 0]
  for (let i = 0; i < x.length; i++) {
    const angle = (2 * Math.PI * hz * i) / RATE
    re += x[i]! * Math.cos(angle)
    im -= x[i]! * Math.sin(angle)
  }
  return 10 * Math.log10(re * re + im * im)
}

const knot = (frame: number, value: number): Knot => ({ frame, value, shape: 'line', bend: 0 })

test('bands follow one another: a bell of +6 dB at 1 kHz, a high cut of 24 dB/octave at 8 kHz, an output of -2 dB', () => {
  const [out] = run(
    setup('equaliser', {
      'b1.on': 1,
      'b1.gainDb': 6,
      'b1.q': 2,
      'b3.on': 1,
      'b3.kind': 'high-cut',
      'b3.slope': 24,
      'b3.frequencyHz': 8000,
      outputDb: -2,
    }),
    'equaliser',
    [impulse(16_384)],
  )
  // The bell at its middle; the cut is Butterworth: -3.01 dB at its frequency.
  expect(dbAt(out!, 1000)).toBeCloseTo(6 - 2, 2)
  expect(dbAt(out!, 8000)).toBeCloseTo(-3.01 - 2, 1)
  expect(dbAt(out!, 20)).toBeCloseTo(-2, 2)
  expect(dbAt(out!, 16_000)).toBeCloseTo(-10 * Math.log10(1 + 2 ** 8) - 2, 0)
})

test('a band of the side leaves what both sides share, and one of the left leaves the right', () => {
  const both = sine(8192, 1000, 0.5)
  const of = (channel: string) => ({ 'b2.on': 1, 'b2.gainDb': -12, 'b2.q': 1, 'b2.channel': channel })
  const side = run(setup('equaliser', of('side'), 2), 'equaliser', [both, both])
  for (let i = 0; i < 8192; i++)
    if (Math.abs(side[0]![i]! - both[i]!) > 1e-12) throw new Error(`the middle changed at ${i}`)
  const inverted = both.map((x) => -x)
  const apart = run(setup('equaliser', of('side'), 2), 'equaliser', [both, inverted])
  expect(dbAt(apart[0]!, 1000) - dbAt(both, 1000)).toBeCloseTo(-12, 1)
  const left = run(setup('equaliser', of('left'), 2), 'equaliser', [both, both])
  expect(dbAt(left[0]!, 1000) - dbAt(both, 1000)).toBeCloseTo(-12, 1)
  expect(firstDifference([left[1]!], [both])).toBe(-1)
})

test('bands that are off or at 0 dB change no bit', () => {
  const noise = sine(4096, 3456, 0.7)
  const [out] = run(setup('equaliser', { 'b1.on': 1, 'b1.gainDb': 0, 'b4.kind': 'low-cut' }), 'equaliser', [
    noise,
  ])
  expect(firstDifference([out!], [noise])).toBe(-1)
})

const kinds = ['low-cut', 'low-shelf', 'bell', 'notch', 'high-shelf', 'high-cut']
const jump = (at: number, [from, to]: readonly number[]) => [knot(at, from!), knot(at + 48, to!)]

test('any jump within 1 ms over the whole range of a band stays under 20 times full scale', () => {
  const ends = (low: number, high: number) => fc.constantFrom([low, high], [high, low])
  fc.assert(
    fc.property(
      fc.constantFrom(...kinds),
      ends(Math.log2(10), Math.log2(20_000)),
      ends(-24, 24),
      ends(0, 1),
      fc.constantFrom(40, 440, 5000),
      fc.constantFrom(6, 12, 48),
      (kind, hz, gain, sharp, tone, slope) => {
        // A shelf that is sharper than 1 is louder than that by itself.
        const shelf = kind.endsWith('shelf')
        const most = shelf ? 1 : 30
        const q = sharp.map((x) => Math.log2(x ? most : 0.1))
        const at = 9600
        const frames = 48_000
        const sound = sine(frames, tone)
        const [out] = run(
          setup('equaliser', {
            'b1.on': 1,
            'b1.kind': kind,
            'b1.slope': slope,
            'b1.frequencyHz': jump(at, hz),
            'b1.gainDb': jump(at, gain),
            'b1.q': jump(at, q),
          }),
          'equaliser',
          [sound],
        )
        let largest = 0
        for (const x of out!) largest = Math.max(largest, Math.abs(x))
        // A gain of +24 dB is a factor of 15.8 by itself.
        if (!(largest < 20)) throw new Error(`${kind}: ${largest}`)
      },
    ),
    { numRuns: 60 },
  )
})

test.each([
  ['its frequency', { 'b1.frequencyHz': jump(9600, [Math.log2(20_000), Math.log2(10)]), 'b1.q': 0.7 }, 440],
  ['its Q', { 'b1.frequencyHz': 10, 'b1.q': jump(9600, [Math.log2(0.1), 0]) }, 40],
])(
  'a high shelf of +24 dB that jumps by %s comes in softly, and is whole 0.1 s later',
  (_what, moved, tone) => {
    const shelf = { 'b1.on': 1, 'b1.kind': 'high-shelf', 'b1.gainDb': 24 }
    const [out] = run(setup('equaliser', { ...shelf, ...moved }), 'equaliser', [sine(24_000, tone)])
    const sizes = (from: number, to: number) => Math.max(...out!.subarray(from, to).map(Math.abs))
    // Without it: 28 and 36 times full scale.
    expect(sizes(9600, 14_400)).toBeLessThan(20)
    // Above its frequency it lifts by 24 dB, a factor of 15.85, and by 1 dB more where it is sharp.
    expect(sizes(14_400, 19_200)).toBeGreaterThan(15.8)
  },
)

test('a high shelf that is swept over its whole range in a second is whole all the time', () => {
  const { values } = setup('equaliser', {
    'b1.frequencyHz': [knot(0, Math.log2(10)), knot(RATE, Math.log2(20_000))],
    'b1.gainDb': 24,
    'b1.q': 0.7,
  })
  const shelf = { frequencyHz: values['b1.frequencyHz']!, gainDb: values['b1.gainDb']!, q: values['b1.q']! }
  for (let frame = 0; frame < RATE; frame += 1000) expect(softness(shelf, frame, RATE)).toBe(1)
})

test.each(kinds)('0.1 s after a jump a %s sounds as if it had never been elsewhere', (kind) => {
  const sound = sine(24_000, 700)
  const still = { 'b1.on': 1, 'b1.kind': kind, 'b1.slope': 24, 'b1.gainDb': 12 }
  const [jumped] = run(
    setup('equaliser', {
      ...still,
      'b1.frequencyHz': jump(9600, [Math.log2(8000), Math.log2(300)]),
      'b1.q': jump(9600, [Math.log2(0.3), 0]),
    }),
    'equaliser',
    [sound],
  )
  const [there] = run(setup('equaliser', { ...still, 'b1.frequencyHz': 300, 'b1.q': 1 }), 'equaliser', [
    sound,
  ])
  let largest = 0
  for (let i = 9648 + 4800; i < sound.length; i++)
    largest = Math.max(largest, Math.abs(jumped![i]! - there![i]!))
  expect(largest).toBeLessThan(1e-5)
})

test('a bell that is swept once a second makes no products over -80 dB, 100 Hz and more away from a sine', () => {
  const frames = 2 * RATE
  const curve = (low: number, high: number): Knot[] =>
    Array.from({ length: 9 }, (_, k) => ({
      frame: k * (RATE / 4),
      value: k % 4 === 0 ? low : k % 4 === 2 ? high : (low + high) / 2,
      shape: 'line',
      bend: 0,
    }))
  const [out] = run(
    setup('equaliser', {
      'b1.on': 1,
      'b1.frequencyHz': curve(Math.log2(2000), Math.log2(8000)),
      'b1.gainDb': curve(-12, 12),
      'b1.q': curve(Math.log2(0.5), Math.log2(2)),
    }),
    'equaliser',
    [sine(frames, 1000)],
  )
  // A window whose side lobes lie under -92 dB (Blackman-Harris).
  const part = out!.slice(RATE / 2, RATE / 2 + RATE)
  for (let i = 0; i < part.length; i++) {
    const x = (2 * Math.PI * i) / part.length
    part[i]! *= 0.35875 - 0.48829 * Math.cos(x) + 0.14128 * Math.cos(2 * x) - 0.01168 * Math.cos(3 * x)
  }
  const carrier = dbAt(part, 1000)
  for (const hz of [200, 500, 800, 900, 1100, 1200, 1500, 2000, 3000, 3010, 6000, 7000, 12_000, 23_000])
    expect(dbAt(part, hz) - carrier).toBeLessThan(-80)
})

test.each<[string, Record<string, number | string | readonly Knot[]>]>([
  ['its gain', { 'b1.gainDb': steps(-12, 12) }],
  ['its frequency', { 'b1.gainDb': 12, 'b1.q': 2, 'b1.frequencyHz': steps(Math.log2(500), Math.log2(4000)) }],
  ['its Q', { 'b1.gainDb': 12, 'b1.q': steps(-2, 3) }],
  ['the band', { 'b1.gainDb': 12, 'b1.on': steps(0, 1) }],
])('where a lane of holds steps %s, a tone gets no click: products stay under -60 dBFS', (_what, values) => {
  const [out] = run(setup('equaliser', { 'b1.on': 1, 'b1.q': 1, ...values }), 'equaliser', [
    sine(40_000, 1000, 0.5),
  ])
  const length = 4096
  let worst = 0
  for (let from = 14_000; from < 36_000; from += 1024)
    for (let hz = 100; hz < 20_000; hz += 291) {
      if (Math.abs(hz - 1000) < 500) continue
      let [re, im, sum] = [0, 0, 0]
      for (let i = 0; i < length; i++) {
        const t = (2 * Math.PI * i) / length
        const w = 0.35875 - 0.48829 * Math.cos(t) + 0.14128 * Math.cos(2 * t) - 0.01168 * Math.cos(3 * t)
        re += w * out![from + i]! * Math.cos((2 * Math.PI * hz * i) / RATE)
        im += w * out![from + i]! * Math.sin((2 * Math.PI * hz * i) / RATE)
        sum += w
      }
      worst = Math.max(worst, (2 * Math.hypot(re, im)) / sum)
    }
  expect(20 * Math.log10(worst)).toBeLessThan(-60)
})

/** A lane of holds that steps between two places. */
function steps(from: number, to: number): readonly Knot[] {
  return [0, 16_001, 27_003].map((frame, n) => ({ frame, value: n % 2 ? to : from, shape: 'hold', bend: 0 }))
}
