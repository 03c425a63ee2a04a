import { drawnMessage, passMessage } from './thinning-message'

test('a thinned line says its points, its knots and how far it lies off at most', () => {
  expect(drawnMessage({ knots: 5, worst: 0.44 }, 120, true, 'dB')).toBe(
    '120 points → 5 knots, 0.4 dB apart at most',
  )
  expect(drawnMessage({ knots: 120, worst: 0 }, 120, false, 'dB')).toBe('120 knots drawn')
  expect(drawnMessage({ knots: 2, worst: 0 }, 2, true, 'dB')).toBe('2 knots drawn')
})

test('a pass of riding says in how many lanes it was written', () => {
  const pass = { lanes: 1, points: 300, knots: 12, worst: 0.5 }
  expect(passMessage(pass)).toBe('Pass kept: 300 points → 12 knots, 0.5 apart at most')
  expect(passMessage({ ...pass, lanes: 2 })).toBe(
    'Pass kept in 2 lanes: 300 points → 12 knots, 0.5 apart at most',
  )
})
