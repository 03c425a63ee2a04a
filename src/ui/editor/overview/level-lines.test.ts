import { testRegion, testSession } from '../../../core/model/fixture.test-util'
import type { Knot, Session } from '../../../core/model/session'
import { dbToHeight } from '../../../core/units/taper'
import { levelsOf } from './level-lines'

/** A sound whose mean square is that of full scale everywhere: 0 dBFS before its gains. */
const loud = { meanSquare: () => 1 }
const hold = (frame: number, db: number): Knot => ({ frame, value: dbToHeight(db), shape: 'hold', bend: 0 })
const lane = (knots: Knot[], bypassed = false) => ({ bypassed, visible: true, knots })
const levels = (session: Session) =>
  [...levelsOf(session, loud, 10, 10_000)].map((db) => Math.round(db * 100) / 100 + 0)
const track = testSession([]).tracks.t!

test('sound is as loud as it leaves its gains and its fader; where there is none there is silence', () => {
  const session = testSession([testRegion('a', { start: 20_000, length: 20_000, clipGainDb: -6 })], {
    volumeDb: -4,
    trimDb: 3,
  })
  expect(levels(session)).toEqual([
    -Infinity,
    -Infinity,
    -7,
    -7,
    -Infinity,
    -Infinity,
    -Infinity,
    -Infinity,
    -Infinity,
    -Infinity,
  ])
})

test('it follows the lanes of its track and of the mix, unless they are bypassed; the powers of tracks are added', () => {
  const region = testRegion('a', { length: 40_000 })
  // The lane takes over from the fader: 0 dB, from frame 20,000 on -12.
  const moved = testSession([region], {
    volumeDb: -4,
    lanes: { volume: lane([hold(0, 0), hold(20_000, -12)]) },
  })
  expect(levels(moved).slice(0, 4)).toEqual([0, 0, -12, -12])
  const both = {
    ...moved,
    mix: {
      ...moved.mix,
      volumeDb: -1,
      lanes: { volume: lane([hold(0, 0), hold(10_000, -3), hold(30_000, 1)]) },
    },
  }
  expect(levels(both).slice(0, 4)).toEqual([0, -3, -15, -11])
  const bypassed = testSession([region], { volumeDb: -4, lanes: { volume: lane([hold(0, -20)], true) } })
  expect(levels(bypassed)[0]).toBe(-4)
  const two: Session = {
    ...testSession([region, { ...region, id: 'b', trackId: 'u' }]),
    trackIds: ['t', 'u'],
    tracks: { t: { ...track, volumeDb: 0 }, u: { ...track, id: 'u', volumeDb: 0 } },
  }
  expect(levels(two)[0]).toBeCloseTo(3.01, 2)
  expect(levels({ ...two, tracks: { ...two.tracks, u: { ...two.tracks.u!, volumeDb: null } } })[0]).toBe(0)
})

test('what was worked out before is taken as far as it still holds', () => {
  const asked: string[] = []
  const pictures = { meanSquare: (sha: string) => (asked.push(sha), 0.25) }
  const [a, b] = [testRegion('a', { length: 40_000 }), testRegion('b', { start: 60_000, length: 20_000 })]
  const known = new WeakMap()
  const of = (session: Session) => [...levelsOf(session, pictures, 10, 10_000, known)]
  const first = testSession([a, b])
  const before = of(first)
  expect(asked).toHaveLength(6)
  // A fader works out no region anew, a gain only its own.
  const quieter: Session = { ...first, tracks: { t: { ...first.tracks.t!, trimDb: -6 } } }
  expect(of(quieter)).toEqual(before.map((db) => (db === -Infinity ? db : expect.closeTo(db - 6, 9))))
  expect(asked).toHaveLength(6)
  const louder = { ...first, regions: { ...first.regions, b: { ...first.regions.b!, clipGainDb: 3 } } }
  expect(of(louder)).toEqual([...levelsOf(louder, pictures, 10, 10_000)])
  expect(asked).toHaveLength(6 + 2 + 6)
})
