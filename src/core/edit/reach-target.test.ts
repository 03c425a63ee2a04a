import { testRegion, testSession } from '../model/fixture.test-util'
import { lastInsertsOf } from '../model/strips'
import { heightToGain } from '../units/taper'
import { changeMixVolume, endWithCeiling, mixRoomDb } from './reach-target'

const session = testSession([testRegion('r')])
const db = (gain: number) => 20 * Math.log10(gain)

test('the volume of the mix is changed, by its lane where one moves it, and no further than it goes', () => {
  expect(changeMixVolume.apply(session, { by: 2.5 }).mix.volumeDb).toBe(2.5)
  expect(mixRoomDb(session)).toBe(12)
  const knots = [0, 1000].map((frame) => ({ frame, value: 0.6, shape: 'line' as const, bend: 0 }))
  const moved = {
    ...session,
    mix: { ...session.mix, lanes: { volume: { knots, bypassed: false, visible: true } } },
  }
  const after = changeMixVolume.apply(moved, { by: -3 })
  expect(after.mix.volumeDb).toBe(0)
  const [before, now] = [0.6, after.mix.lanes.volume!.knots[1]!.value].map((h) => db(heightToGain(h)))
  expect(now! - before!).toBeCloseTo(-3, 9)
})

test('a ceiling stands at the very end, once', () => {
  const once = endWithCeiling.apply(session, { ceilingDbtp: -1 })
  const twice = endWithCeiling.apply(once, { ceilingDbtp: -2 })
  for (const [made, ceiling] of [
    [once, -1],
    [twice, -2],
  ] as const)
    expect(lastInsertsOf(made.mix)).toMatchObject([
      { kind: 'ceiling', bypassed: false, values: { ceilingDbtp: ceiling } },
    ])
})
