import { testRegion, testSession } from '../../../core/model/fixture.test-util'
import type { Knot, Session } from '../../../core/model/session'
import { sameSessionLook } from './same-look'

const knot = (value: number): Knot => ({ frame: 0, value, shape: 'line', bend: 0 })
const withLane = (knots: Knot[], bypassed = false): Session => ({
  ...known,
  tracks: { t: { ...known.tracks.t!, lanes: { volume: { knots, bypassed, visible: true } } } },
})
const known = testSession([testRegion('a', { length: 1000 })])
const shaped = withLane([knot(0.5)])

test('only the knots of a lane may differ', () => {
  expect(sameSessionLook(shaped, withLane([knot(0.7), knot(0.2)]))).toBe(true)
  expect(sameSessionLook(shaped, shaped)).toBe(true)
})

test.each<[string, Session]>([
  ['its first knot', withLane([])],
  ['a lane that is there at all', known],
  ['a bypass', withLane([knot(0.5)], true)],
  ['a name', { ...shaped, tracks: { t: { ...shaped.tracks.t!, name: 'Other' } } }],
  ['a region', { ...shaped, regions: { a: { ...shaped.regions.a!, start: 5 } } }],
  [
    'a track more',
    { ...shaped, trackIds: ['t', 'u'], tracks: { ...shaped.tracks, u: { ...shaped.tracks.t!, id: 'u' } } },
  ],
  ['the mix', { ...shaped, mix: { ...shaped.mix, volumeDb: -3 } }],
])('%s is seen', (_what, other) => expect(sameSessionLook(shaped, other)).toBe(false))
