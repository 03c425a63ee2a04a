import { factorWords, PLAIN_SOUND, soundHeight, soundMarks } from './sound-scale'

test('heights are the sample times the factor, or its decibels over 60 dB, and stop at the rim', () => {
  expect(soundHeight(PLAIN_SOUND, -0.25)).toBe(-0.25)
  expect(soundHeight({ factor: 3, decibels: false }, 0.25)).toBe(0.75)
  expect(soundHeight({ factor: 8, decibels: false }, -0.25)).toBe(-1)
  // -20 dB of 60 is two thirds up; with ten times the size it is full scale.
  expect(soundHeight({ factor: 1, decibels: true }, 0.1)).toBeCloseTo(2 / 3, 12)
  expect(soundHeight({ factor: 10, decibels: true }, 0.1)).toBe(1)
  expect(soundHeight({ factor: 1, decibels: true }, -0.0005)).toBe(-0)
  expect(soundHeight({ factor: 1, decibels: true }, 0)).toBe(0)
})

test('a scale names levels where they are drawn, none on top of another', () => {
  const marks = soundMarks(PLAIN_SOUND, 40, 9)
  expect(marks.map((m) => m.db)).toEqual([0, -6, -12])
  expect(marks[1]!.fromMiddle).toBeCloseTo(40 * 10 ** (-6 / 20), 12)
  // Four times as large, -12 dB is at the rim, and what is louder is not on the scale.
  expect(soundMarks({ factor: 4, decibels: false }, 40, 9).map((m) => m.db)).toEqual([-18, -24])
  expect(soundMarks({ factor: 1, decibels: true }, 40, 9).map((m) => m.db)).toEqual([0, -18, -36])
})

test('a factor in words', () =>
  expect([1, 1.5, 4, 12.34, 0.25].map(factorWords)).toEqual(['×1', '×1.5', '×4', '×12.3', '×0.25']))
