import { moveRegions, setClipGain, setParameter, setTrack, shapeThread } from '..'
import { testRegion, testSession } from '../../model/fixture.test-util'
import type { Knot } from '../../model/session'
import { soundChanges } from './changes'

const base = testSession(
  [
    testRegion('a', { length: 1000 }),
    testRegion('b', { start: 5000, length: 1000, gainThreadId: 'g' }),
    testRegion('c', { start: 9000, length: 500, gainThreadId: 'g' }),
  ],
  {},
  { gainThreads: { g: { id: 'g', knots: [] } } },
)
const knot = (frame: number, value = 0.5): Knot => ({ frame, value, shape: 'line', bend: 0 })

/** The stretches of the track that differ, sorted, each once. */
function spans(after: typeof base, before = base): [number, number][] {
  const { tracks, mix } = soundChanges(before, after)!
  expect(mix).toEqual([])
  const list = (tracks.get('t') ?? []).map((s) => `${s.from} ${s.to}`)
  return [...new Set(list)]
    .map((s) => s.split(' ').map(Number) as [number, number])
    .sort((x, y) => x[0] - y[0])
}

test('only the stretches of regions that changed, as they were and as they are, and all copies of a shared thread', () => {
  expect(spans(base)).toEqual([])
  expect(spans(setClipGain.apply(base, { regionIds: ['a'], db: -3 }))).toEqual([[0, 1000]])
  expect(spans(moveRegions.apply(base, { regionIds: ['a'], byFrames: 2000, byTracks: 0 }))).toEqual([
    [0, 1000],
    [2000, 3000],
  ])
  const knots = [knot(0)]
  expect(spans(shapeThread.apply(base, { ref: { kind: 'region', regionId: 'b' }, knots }))).toEqual([
    [5000, 6000],
    [9000, 9500],
  ])
})

test('of a lane only what lies between the knots around those that changed', () => {
  const lane = (knots: Knot[]) => ({
    ...base,
    tracks: { t: { ...base.tracks.t!, lanes: { volume: { knots, bypassed: false, visible: true } } } },
  })
  const [p, q, r, s] = [knot(1000), knot(2000), knot(3000), knot(4000)]
  const before = lane([p, q, r, s])
  expect(spans(lane([p, { ...q, value: 0.7 }, r, s]), before)).toEqual([[1000, 3049]])
  expect(spans(lane([p, r, s]), before)).toEqual([[1000, 3049]])
  expect(spans(lane([p, q, r, s, knot(5000)]), before)).toEqual([[4000, Infinity]])
  expect(spans(lane([knot(500), p, q, r, s]), before)).toEqual([[0, 1049]])
  expect(spans(lane([]), before)).toEqual([[0, Infinity]])
})

test('a fader changes its whole track, mute and the fader of the mix only the mix, and another pan law everything', () => {
  expect(spans(setParameter.apply(base, { key: 'volume', trackIds: ['t'], value: -6 }))).toEqual([
    [0, Infinity],
  ])
  const all = [{ from: 0, to: Infinity }]
  const muted = soundChanges(base, setTrack.apply(base, { trackIds: ['t'], change: { muted: true } }))!
  expect([muted.tracks.size, muted.mix]).toEqual([0, all])
  const lower = soundChanges(base, setParameter.apply(base, { key: 'volume', trackIds: [null], value: -6 }))!
  expect([lower.tracks.size, lower.mix]).toEqual([0, all])
  expect(soundChanges(base, { ...base, panLaw: '-6' })).toBeNull()
})

test('the other side of a crossfade is looked at as well, since its law may ask how alike both are', () => {
  const side = { curve: 'linear' as const, bend: 0 }
  const crossed = testSession(
    [testRegion('a', { length: 1000 }), testRegion('b', { start: 900, offset: 900, length: 1000 })],
    {},
    { crossfades: { x: { id: 'x', leftId: 'a', rightId: 'b', law: 'level', out: side, in: side } } },
  )
  expect(spans(setClipGain.apply(crossed, { regionIds: ['a'], db: -3 }), crossed)).toEqual([
    [0, 1000],
    [900, 1900],
  ])
})
