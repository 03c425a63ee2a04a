import { processorKind } from '..'
import { impulse, RATE, run, setup, sine, steady, transform } from '../run.test-util'
import { runs } from '../../../units/runs.test-util'

const db = (power: number) => 10 * Math.log10(power)
const power = (x: Float64Array) => x.reduce((sum, v) => sum + v * v, 0)

/** What comes out of a room alone for what comes in on one side or both. */
const wet = (values: Record<string, number>, sides: readonly Float64Array[], sampleRate = RATE) =>
  run(setup('room', { mix: 1, preDelayMs: 0, ...values }, 2, sampleRate), 'room', sides) as [
    Float64Array,
    Float64Array,
  ]
const IN = { both: [1, 1], left: [1, 0], right: [0, 1] } as const
/** The impulse response, from what comes in on both sides or on one. */
const response = (values: Record<string, number>, seconds: number, from: keyof typeof IN = 'both') =>
  wet(
    values,
    IN[from].map((level) => impulse(seconds * RATE).map((x) => x * level)),
  )

/** The power of each line of a spectrum, `1 / 65536` of the rate apart, of half a second under a Hann window. */
function spectrumAt(x: Float64Array, seconds: number): Float64Array {
  const [re, im] = [new Float64Array(65_536), new Float64Array(65_536)]
  const [at, length] = [Math.round(seconds * RATE), RATE / 2]
  for (let i = 0; i < length; i++)
    re[i] = (x[at + i] ?? 0) * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / length))
  transform(re, im)
  return re.map((r, k) => r * r + im[k]! ** 2)
}

/** By how many dB the strongest line of an octave is above the mean of all. */
function crestDb(spectrum: Float64Array, hz: number): number {
  const line = (frequency: number) => (frequency * spectrum.length) / RATE
  const lines = spectrum.subarray(Math.ceil(line(hz / Math.SQRT2)), Math.floor(line(hz * Math.SQRT2)))
  return db((Math.max(...lines) * lines.length) / lines.reduce((sum, v) => sum + v, 0))
}

/**
 * The normalised echo density in 20 ms around a time: which part of the samples lies outside their standard deviation, over the part of
 * Gaussian noise that does (J. S. Abel, P. Huang, AES 121st Convention, 2006).
 */
function echoDensity(x: Float64Array, seconds: number): number {
  const length = 0.02 * RATE
  const part = x.subarray(Math.round(seconds * RATE) - length / 2).subarray(0, length)
  const weights = part.map((_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / length))
  const sum = (of: (v: number) => number) => part.reduce((all, v, i) => all + weights[i]! * of(v), 0)
  const deviation = Math.sqrt(sum((v) => v * v) / sum(() => 1))
  return sum((v) => (Math.abs(v) > deviation ? 1 : 0)) / sum(() => 1) / 0.3173105
}

/** The decay by Schroeder's backward integration, of what is left from 5 to 35 dB down. */
function decayOf(x: Float64Array, begin: number): number {
  const energy = new Float64Array(x.length + 1)
  for (let i = x.length - 1; i >= 0; i--) energy[i] = energy[i + 1]! + x[i]! * x[i]!
  const when = (down: number) => {
    let i = begin
    while (db(energy[i]! / energy[begin]!) > -down) i++
    return i / RATE
  }
  return 2 * (when(35) - when(5))
}

/** The octave around a frequency, without a time shift. */
function octave(x: Float64Array, hz: number): Float64Array {
  // Silence on both sides takes what the filter rings before and after.
  const silence = 8192
  const length = 2 ** Math.ceil(Math.log2(x.length + 2 * silence))
  const [re, im] = [new Float64Array(length), new Float64Array(length)]
  re.set(x, silence)
  transform(re, im)
  for (let k = 0; k < length; k++) {
    const away = Math.abs(Math.log2((Math.min(k, length - k) * RATE) / length / hz))
    const weight = away < 1 ? Math.cos((Math.PI * away) / 2) ** 2 / length : 0
    re[k] = re[k]! * weight
    im[k] = -im[k]! * weight
  }
  transform(re, im)
  return re.subarray(silence, silence + x.length)
}

test.each([0.3, 1.2, 4])('a room dies by 60 dB at 1 kHz in %p s, within 10 %', (decaySeconds) => {
  const frames = Math.round((decaySeconds + 1) * RATE)
  const burst = new Float64Array(frames)
  for (let i = 0; i < 4800; i++)
    burst[i] = Math.sin((2 * Math.PI * 1000 * i) / RATE) * Math.sin((Math.PI * i) / 4800) ** 2
  const [left] = run(setup('room', { decaySeconds, mix: 1, preDelayMs: 0 }), 'room', [burst])
  expect(decayOf(left!, 4800) / decaySeconds).toBeGreaterThan(0.9)
  expect(decayOf(left!, 4800) / decaySeconds).toBeLessThan(1.1)
})

test.each([
  [0, 0.4],
  [0.4, 0.3],
  [0.4, 1.2],
  [0.4, 4],
  [1, 1.5],
])('so does the octave around 1 kHz in a room of size %p in %p s, on both sides', (size, decaySeconds) => {
  for (const dampingHz of [2000, 6000, 20_000])
    for (const side of response({ size, decaySeconds, dampingHz }, decaySeconds + 0.5)) {
      const decay = decayOf(octave(side, 1000), 0)
      expect(Math.abs(decay / decaySeconds - 1)).toBeLessThan(0.1)
    }
})

test('at the damping sound dies twice as fast as low sound', () => {
  const [left] = response({ decaySeconds: 2, dampingHz: 4000 }, 2.5)
  const ratio = decayOf(octave(left, 250), 0) / decayOf(octave(left, 4000), 0)
  expect(ratio).toBeGreaterThan(1.7)
  expect(ratio).toBeLessThan(2.3)
})

test.each(runs([0.4], [0, 0.4, 1]))('in a room of size %p nothing is heard of 0 Hz', (size) => {
  for (const decaySeconds of [0.3, 1.2, 4])
    for (const from of ['both', 'left', 'right'] as const)
      for (const side of response({ size, decaySeconds }, 3 + decaySeconds, from))
        expect(Math.abs(side.reduce((sum, v) => sum + v, 0))).toBeLessThan(1e-3)
  const [left] = wet({ size, decaySeconds: 2 }, [steady(6 * RATE, 1), steady(6 * RATE, 1)])
  expect(Math.abs(left.at(-1)!)).toBeLessThan(1e-3)
})

test('below 100 Hz both sides are alike within 1 dB, whichever side sound comes in on', () => {
  for (const from of ['both', 'left', 'right'] as const)
    for (const size of from === 'both' ? [0, 0.4, 1] : [0.4]) {
      const [left, right] = response({ size }, 1, from).map((side) => octave(side, 60))
      expect(Math.abs(db(power(left!) / power(right!)))).toBeLessThan(0.3)
    }
  for (const hz of [25, 40, 63, 80, 100]) {
    const tone = sine(2 * RATE, hz, 0.5)
    const [left, right] = wet({}, [tone, tone]).map((side) => power(side.subarray(RATE)))
    expect(Math.abs(db(left! / right!))).toBeLessThan(1)
  }
})

test('low sound is as loud as other sound within 2 dB', () => {
  const sides = response({ dampingHz: 20_000 }, 2)
  const [low, middle] = [100, 1000].map((hz) =>
    sides.reduce((sum, side) => sum + power(octave(side, hz)) / hz, 0),
  )
  expect(Math.abs(db(low! / middle!))).toBeLessThan(2)
})

describe.each(runs([0.4], [0, 0.4, 1]))('in a room of size %p', (size) => {
  test('echoes are dense from 100 ms on', () => {
    for (const decaySeconds of [0.5, 1.2, 2])
      for (const from of ['both', 'left'] as const)
        for (const side of response({ size, decaySeconds, dampingHz: 20_000 }, 1, from))
          for (let seconds = 0.1; seconds < 0.3; seconds += 0.005)
            expect(echoDensity(side, seconds)).toBeGreaterThanOrEqual(0.8)
  })
  test.each(runs([0.5, 2], [0.5, 1, 2]))('no mode rings out of a decay of %p s', (decaySeconds) => {
    for (const side of response({ size, decaySeconds, dampingHz: 20_000 }, 1)) {
      const late = spectrumAt(side, 0.25)
      for (const hz of [63, 125, 250, 500, 1000, 2000, 4000, 8000])
        expect(crestDb(late, hz)).toBeLessThanOrEqual(11)
    }
  })
})

test('another size or pre-delay is heard at once, without a step, and after a while as if it had always been so', () => {
  const tone = sine(4 * RATE, 150, 0.5)
  const others = { size: 0.9, preDelayMs: 60, decaySeconds: 0.3, mix: 1 }
  const processor = processorKind('room').create(setup('room', { decaySeconds: 0.3, mix: 1 }, 2))
  const always = run(setup('room', others, 2), 'room', [tone, tone])
  const out = [new Float64Array(tone.length), new Float64Array(tone.length)] as const
  for (let at = 0; at + 1024 <= tone.length; at += 1024) {
    if (at === 64 * 1024) processor.update(setup('room', others, 2))
    const sound = [tone.slice(at, at + 1024), tone.slice(at, at + 1024)] as const
    processor.process(sound, at, 1024)
    for (const c of [0, 1] as const) out[c].set(sound[c], at)
  }
  const end = 180 * 1024
  for (const c of [0, 1] as const) {
    let [step, usual, off] = [0, 0, 0]
    for (let i = 40 * 1024; i < end; i++) {
      const size = Math.abs(out[c][i + 1]! - 2 * out[c][i]! + out[c][i - 1]!)
      if (i > 60 * 1024 && i < 80 * 1024) step = Math.max(step, size)
      if (i < 60 * 1024 || i > 150 * 1024) usual = Math.max(usual, size)
      if (i > 150 * 1024) off = Math.max(off, Math.abs(out[c][i]! - always[c]![i]!))
    }
    expect(step).toBeLessThan(5 * usual)
    expect(off).toBeLessThan(1e-6)
    expect(power(always[c]!.subarray(150 * 1024, end))).toBeGreaterThan(1)
  }
})
