import fc from 'fast-check'
import { dbToGain, gainToDb } from './decibel'
import { cosHalfPi, exp10, exp2, exp2Quick, log2, log2Quick, power, raisedCosine, sinHalfPi } from './exact'
import { dbToHeight, heightToDb, heightToGain, UNITY_HEIGHT } from './taper'
import { barAtFrame, barPosition, barToBeat, beatToFrame, beatToSeconds, secondsToBeat } from './tempo'

const unit = fc.double({ min: 0, max: 1, noNaN: true })

describe('elementary functions agree with Math', () => {
  test('sine, cosine and raised cosine over a quarter turn', () => {
    fc.assert(
      fc.property(unit, (x) => {
        expect(Math.abs(sinHalfPi(x) - Math.sin((Math.PI * x) / 2))).toBeLessThan(4e-16)
        expect(Math.abs(cosHalfPi(x) - Math.cos((Math.PI * x) / 2))).toBeLessThan(4e-16)
        expect(Math.abs(raisedCosine(x) - (1 - Math.cos(Math.PI * x)) / 2)).toBeLessThan(1e-15)
      }),
    )
    expect([sinHalfPi(0), sinHalfPi(1), cosHalfPi(0), cosHalfPi(1)]).toEqual([0, 1, 1, 0])
  })
  test('powers and logarithms', () => {
    fc.assert(
      fc.property(fc.double({ min: -60, max: 60, noNaN: true }), (x) => {
        expect(Math.abs(exp2(x) / 2 ** x - 1)).toBeLessThan(1e-14)
        expect(Math.abs(exp10(x / 10) / 10 ** (x / 10) - 1)).toBeLessThan(1e-14)
      }),
    )
    fc.assert(
      fc.property(fc.double({ min: 1e-300, max: 1e300, noNaN: true }), (x) => {
        expect(Math.abs(log2(x) - Math.log2(x))).toBeLessThanOrEqual(
          1e-15 * Math.max(1, Math.abs(Math.log2(x))),
        )
      }),
    )
    fc.assert(
      fc.property(unit, fc.double({ min: 0.1, max: 8, noNaN: true }), (x, y) => {
        fc.pre(x > 1e-30)
        expect(Math.abs(power(x, y) - x ** y)).toBeLessThan(1e-14)
      }),
    )
    expect([power(0, 2), power(0.3, 1), power(1, 5), exp2(0), exp2(-2000), exp2(2000)]).toEqual([
      0,
      0.3,
      1,
      1,
      0,
      Infinity,
    ])
  })
})

describe('levels', () => {
  test.each([
    [0, 1],
    [-6, 0.501187],
    [6, 1.995262],
    [-20, 0.1],
    [-Infinity, 0],
  ])('%p dB is a gain of %p', (db, gain) => {
    expect(dbToGain(db)).toBeCloseTo(gain, 6)
  })
  test('gain to dB is the inverse', () => {
    expect(gainToDb(dbToGain(-4.2))).toBeCloseTo(-4.2, 12)
    expect(gainToDb(0)).toBe(-Infinity)
  })
  test('the taper: +12 dB at the top, 0 dB at 0.63096, silence at the bottom', () => {
    expect(heightToDb(1)).toBeCloseTo(12, 12)
    expect(UNITY_HEIGHT).toBeCloseTo(0.63096, 5)
    expect(heightToGain(UNITY_HEIGHT)).toBeCloseTo(1, 14)
    expect(heightToGain(0)).toBe(0)
    // Half the height: 12 + 60·log10(0.5) = -6.06 dB.
    expect(heightToDb(0.5)).toBeCloseTo(-6.0618, 4)
    fc.assert(
      fc.property(fc.double({ min: -72, max: 12, noNaN: true }), (db) =>
        expect(heightToDb(dbToHeight(db))).toBeCloseTo(db, 10),
      ),
    )
  })
})

describe('tempo', () => {
  const steady = [{ beat: 0, bpm: 96, beatsPerBar: 4, beatUnit: 4 }]
  // 8 quarters of 120 bpm in 4/4 (two bars, 4 s), then 60 bpm in 6/8 (a bar is 3 quarters, 3 s).
  const changing = [
    { beat: 0, bpm: 120, beatsPerBar: 4, beatUnit: 4 },
    { beat: 8, bpm: 60, beatsPerBar: 6, beatUnit: 8 },
  ]
  test('a beat at 96 bpm is 0.625 s, 30000 frames at 48 kHz', () => {
    expect(beatToFrame(steady, 48000, 1)).toBe(30000)
    expect(secondsToBeat(steady, 0.625)).toBeCloseTo(1, 12)
  })
  test('beats far out are rounded once', () => {
    const odd = [{ beat: 0, bpm: 97.3, beatsPerBar: 4, beatUnit: 4 }]
    expect(beatToFrame(odd, 44100, 5838)).toBe(Math.round((5838 * 60 * 44100) / 97.3))
  })
  test('tempo changes add up, and bars follow the metre', () => {
    expect(beatToSeconds(changing, 11)).toBe(7)
    expect(secondsToBeat(changing, 7)).toBe(11)
    expect(barToBeat(changing, 3)).toBe(8)
    expect(barToBeat(changing, 4)).toBe(11)
    expect(barPosition(changing, 9.5)).toMatchObject({ bar: 3, beat: 4 })
    expect(barPosition(changing, 7)).toMatchObject({ bar: 2, beat: 4 })
  })
  test('time and beat are inverse everywhere', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1000, noNaN: true }), (beat) =>
        expect(secondsToBeat(changing, beatToSeconds(changing, beat))).toBeCloseTo(beat, 8),
      ),
    )
  })
})

test('the quick forms of 2^x and log2 x stay within 1e-11 and 1e-10 of the exact ones', () => {
  for (let i = 0; i <= 4000; i++) {
    const x = (i - 2000) / 37
    expect(Math.abs(exp2Quick(x) / 2 ** x - 1)).toBeLessThan(1e-11)
    expect(Math.abs(log2Quick(2 ** x) - x)).toBeLessThan(1e-10)
  }
  expect(exp2Quick(0)).toBe(1)
  expect(log2Quick(1)).toBe(0)
})

test('what stands on the line of a bar is at that bar, at any tempo and rate', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 20, max: 300, noNaN: true }),
      fc.constantFrom(44_100, 48_000, 96_000),
      fc.integer({ min: 1, max: 2000 }),
      fc.integer({ min: 0, max: 3 }),
      (bpm, rate, bar, beat) => {
        const tempo = [{ beat: 0, bpm, beatsPerBar: 4, beatUnit: 4 }]
        const frame = beatToFrame(tempo, rate, barToBeat(tempo, bar) + beat)
        const at = barAtFrame(tempo, rate, frame)
        expect([at.bar, at.beat, Math.floor(at.fraction * 10)]).toEqual([bar, beat + 1, 0])
      },
    ),
  )
})
