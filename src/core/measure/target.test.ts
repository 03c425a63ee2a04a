import { EBU_R128, gainFor, judge, typedTarget } from './target'

const measure = (integrated: number, truePeakDb: number) => ({
  loudness: { integrated, momentaryMax: -10, shortTermMax: -12, range: 5 },
  truePeak: 10 ** (truePeakDb / 20),
})

test('a programme passes within half a LU and up to the ceiling, limits included', () => {
  const passes = (integrated: number, peak: number) =>
    judge(EBU_R128, measure(integrated, peak)).map((requirement) => requirement.passes)
  expect(passes(-23, -3)).toEqual([true, true])
  expect(passes(-23.5, -1)).toEqual([true, true])
  expect(passes(-22.5, -0.9)).toEqual([true, false])
  expect(passes(-23.6, -1.2)).toEqual([false, true])
  expect(passes(-Infinity, -Infinity)).toEqual([false, true])
})

test('the gain offered brings the loudness there, and tells where the peak goes', () => {
  expect(gainFor(typedTarget(-16, -1), measure(-25.5, -7))).toEqual({
    gainDb: 9.5,
    truePeakDb: 2.5,
    passesCeiling: true,
  })
  expect(gainFor(EBU_R128, measure(-20, -2))).toMatchObject({ gainDb: -3, passesCeiling: false })
  expect(gainFor(EBU_R128, measure(-Infinity, -Infinity))).toBeNull()
})
