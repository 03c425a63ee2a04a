import { testRegion, testSession } from '../model/fixture.test-util'
import { withFileChange } from '../model/file-change'
import { changesTowards } from './reach-target'
import { EBU_R128 } from './target'

const measure = (integrated: number, truePeakDb: number) => ({
  truePeak: 10 ** (truePeakDb / 20),
  loudness: { integrated, momentaryMax: 0, shortTermMax: 0, range: 0 },
})
const close = (value: number) => expect.closeTo(value, 6) as number

test('a soft mix is offered the gain, and what its true peak is then', () => {
  expect(changesTowards(EBU_R128, measure(-28.1, -7.9), null)).toEqual([
    { change: null, leadsTo: { loudness: close(-28.1), truePeakDb: close(-7.9) }, turnsDownDb: null },
    {
      change: { gainDb: 5.1, ceilingDbtp: null },
      leadsTo: { loudness: close(-23), truePeakDb: close(-2.8) },
      turnsDownDb: null,
    },
  ])
})

test('where the true peak would be too high a ceiling is offered, with how much it turns down', () => {
  const [, gain, ceiling] = changesTowards(EBU_R128, measure(-30, -3), null)
  expect(gain!.leadsTo).toEqual({ loudness: close(-23), truePeakDb: close(4) })
  expect(ceiling).toEqual({
    change: { gainDb: 7, ceilingDbtp: -1 },
    leadsTo: null,
    turnsDownDb: close(5),
  })
  // A peak alone: a ceiling and no gain.
  expect(changesTowards(EBU_R128, measure(-23, 0.5), null).map(({ change }) => change)).toEqual([
    null,
    { gainDb: 0, ceilingDbtp: -1 },
  ])
})

test('measured with a ceiling that made it softer, the gain in front of it goes on', () => {
  const made = { gainDb: 7, ceilingDbtp: -1 }
  const [, same, more] = changesTowards(EBU_R128, measure(-24.2, -1.02), made)
  expect([same!.change, same!.leadsTo]).toEqual([made, { loudness: -24.2, truePeakDb: close(-1.02) }])
  expect(more).toEqual({
    change: { gainDb: 8.2, ceilingDbtp: -1 },
    leadsTo: null,
    turnsDownDb: null,
  })
  const met = changesTowards(EBU_R128, measure(-23.1, -1.04), made)[1]!
  expect([met.change, met.leadsTo]).toEqual([made, { loudness: -23.1, truePeakDb: close(-1.04) }])
})

test('silence is offered nothing', () => {
  expect(changesTowards(EBU_R128, measure(-Infinity, -Infinity), null)).toHaveLength(1)
})

test('a change of the file stands behind all that the mix has, and leaves the session as it is', () => {
  const session = testSession([testRegion('r')])
  const changed = withFileChange(session, { gainDb: 5.1, ceilingDbtp: -1 })
  expect(changed.mix.lastInserts).toMatchObject([
    { kind: 'gain', values: { gainDb: 5.1 } },
    { kind: 'ceiling', values: { ceilingDbtp: -1 } },
  ])
  expect(withFileChange(session, null)).toBe(session)
})
