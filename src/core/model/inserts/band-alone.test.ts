import { bandAlone } from './band-alone'
import type { Insert } from '../session'

const equaliser = (values: Insert['values']): Insert => ({
  id: 'e',
  kind: 'equaliser',
  bypassed: false,
  values,
})

test('a bell leaves its bandwidth, a shelf its side, a cut what it takes away', () => {
  // A Q of 1.4142 is a bandwidth of one octave.
  const bell = bandAlone(equaliser({ 'b2.frequencyHz': 1000, 'b2.q': Math.SQRT2 }), 'b2')
  expect(bell['b1.kind']).toBe('low-cut')
  expect(bell['b1.frequencyHz']).toBeCloseTo(1000 / Math.SQRT2, 0)
  expect(bell['b2.frequencyHz']).toBeCloseTo(1000 * Math.SQRT2, 0)
  const narrow = bandAlone(equaliser({ 'b2.frequencyHz': 1000, 'b2.q': 30 }), 'b2')
  expect(narrow['b2.frequencyHz']).toBeCloseTo(1000 * 2 ** (1 / 6), 0)
  const shelf = bandAlone(equaliser({ 'b1.kind': 'high-shelf', 'b1.frequencyHz': 6000 }), 'b1')
  expect([shelf['b1.kind'], shelf['b1.frequencyHz'], shelf['b2.on']]).toEqual(['low-cut', 6000, undefined])
  expect(bandAlone(equaliser({ 'b1.kind': 'low-cut', 'b1.frequencyHz': 80 }), 'b1')['b1.kind']).toBe(
    'high-cut',
  )
})
