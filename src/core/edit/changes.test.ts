import { moveRegions, setClipGain, setTrack, shapeThread } from '.'
import { changedSpans } from './changes'
import { testRegion, testSession } from '../model/fixture.test-util'

const base = testSession(
  [
    testRegion('a', { length: 1000 }),
    testRegion('b', { start: 5000, length: 1000, gainThreadId: 'g' }),
    testRegion('c', { start: 9000, length: 500, gainThreadId: 'g' }),
  ],
  {},
  { gainThreads: { g: { id: 'g', knots: [] } } },
)
const spans = (after: typeof base) =>
  changedSpans(base, after)
    ?.map((s) => [s.from, s.to])
    .sort((x, y) => x[0]! - y[0]!)

test('only the stretches of regions that changed, as they were and as they are; all copies of a shared thread; everything where a track changed', () => {
  expect(spans(base)).toEqual([])
  expect(spans(setClipGain.apply(base, { regionIds: ['a'], db: -3 }))).toEqual([
    [0, 1000],
    [0, 1000],
  ])
  expect(spans(moveRegions.apply(base, { regionIds: ['a'], byFrames: 2000, byTracks: 0 }))).toEqual([
    [0, 1000],
    [2000, 3000],
  ])
  const shaped = shapeThread.apply(base, {
    ref: { kind: 'region', regionId: 'b' },
    knots: [{ frame: 0, value: 0.5, shape: 'line', bend: 0 }],
  })
  expect(spans(shaped)).toEqual([
    [5000, 6000],
    [5000, 6000],
    [9000, 9500],
    [9000, 9500],
  ])
  expect(spans(setTrack.apply(base, { trackIds: ['t'], change: { volumeDb: -6 } }))).toBeUndefined()
})
