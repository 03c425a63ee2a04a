import { reductionFigures, reductionWords } from './use-reductions'

const steps = (...db: number[]) => Float32Array.from(db)

test('a reduction is averaged where it, or the one before, does anything', () => {
  expect(reductionFigures(steps(0, 4, 2, 0), null)).toEqual({ mean: 3, most: 4 })
  expect(reductionFigures(steps(0, 0, 2, 0), steps(0, 4, 4, 0))).toEqual({ mean: 1, most: 2 })
  expect(reductionFigures(steps(0, 0), null)).toEqual({ mean: 0, most: 0 })
})

test('what an edit does to it is said', () => {
  expect(reductionWords({ now: steps(4, 2), before: null })).toBe('Turned down 3.0 dB, at most 4.0 dB.')
  expect(reductionWords({ now: steps(4, 2), before: steps(6, 4) })).toBe(
    'Turned down 3.0 dB, at most 4.0 dB: compresses 2.0 dB less than before the change.',
  )
  expect(reductionWords({ now: steps(0, 0), before: steps(1, 1) })).toBe(
    'Not turned down: compresses 1.0 dB less than before the change.',
  )
})
