import { KEPT, LiveMeasure } from './live-measure'

const RATE = 48_000
const tone = (seconds: number, level: number, phase = 0) =>
  Float32Array.from(
    { length: seconds * RATE },
    (_, n) => level * Math.sin((2 * Math.PI * 1000 * n) / RATE + phase),
  )

function heard(left: Float32Array, right: Float32Array): LiveMeasure {
  const measure = new LiveMeasure(RATE)
  for (let at = 0; at < left.length; at += 800)
    measure.add(left.subarray(at, at + 800), right.subarray(at, at + 800))
  return measure
}

test('a sine of 1 kHz on both sides: loudness as its level, RMS 3 dB under its peak, fully correlated', () => {
  const sound = tone(5, 0.1)
  const measure = heard(sound, sound)
  expect(measure.now.momentary).toBeCloseTo(-20, 1)
  expect(measure.now.shortTerm).toBeCloseTo(-20, 1)
  expect(measure.whole.integrated).toBeCloseTo(-20, 1)
  expect(measure.truePeakDb).toBeCloseTo(-20, 1)
  for (const { peakDb, holdDb, rmsDb } of measure.sides) {
    expect(peakDb).toBeCloseTo(-20, 2)
    expect(holdDb).toBeCloseTo(-20, 2)
    expect(rmsDb).toBeCloseTo(-23.01, 1)
  }
  expect(measure.correlation).toBeCloseTo(1, 6)
  expect(measure.left[KEPT - 1]).toBe(sound.at(-1))
})

test('sides against each other are told, a quarter apart have nothing to do with each other', () => {
  expect(heard(tone(2, 0.1), tone(2, -0.1)).correlation).toBeCloseTo(-1, 6)
  expect(heard(tone(2, 0.1), tone(2, 0.1, Math.PI / 2)).correlation).toBeCloseTo(0, 2)
})

test('a measuring that begins in the middle of a sound has no peak of its own', () => {
  const sound = tone(2, 0.1)
  const measure = heard(sound.subarray(20_013), sound.subarray(20_013))
  expect(measure.truePeakDb).toBeCloseTo(-20, 1)
})

test('at rest peaks fall, and what was measured stays until it is begun anew', () => {
  const measure = heard(tone(4, 0.5), tone(4, 0.5))
  measure.rest(1)
  expect(measure.sides[0].peakDb).toBeCloseTo(-6.02 - 24, 1)
  expect(measure.whole.integrated).toBeCloseTo(-6.02, 1)
  measure.reset()
  expect(measure.whole.integrated).toBe(-Infinity)
  expect(measure.truePeakDb).toBe(-Infinity)
})
