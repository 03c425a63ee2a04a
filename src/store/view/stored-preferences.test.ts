import { readPreferences } from './stored-preferences'
import { initialPreferences } from './preferences-slice'

test('a person’s ways are read as they were kept; what is missing or unfit is left out, the rest stands', () => {
  const { weave } = initialPreferences
  expect(
    readPreferences(
      JSON.stringify({
        travels: true,
        thinning: null,
        shoulderMs: 12.5,
        weave: { ...weave, low: -0.5, high: 0.5 },
      }),
    ),
  ).toEqual({ travels: true, thinning: null, shoulderMs: 12.5, weave: { ...weave, low: -0.5, high: 0.5 } })
  expect(
    readPreferences(
      JSON.stringify({
        travels: 'yes',
        thinning: 40,
        mixHeight: 9,
        weave: { shape: 'zigzag' },
        follow: false,
        other: 1,
      }),
    ),
  ).toEqual({ follow: false })
  expect([null, '', 'not json', '7', '[]'].map(readPreferences)).toEqual([{}, {}, {}, {}, {}])
})
