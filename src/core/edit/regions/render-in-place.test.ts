import { createTrack } from '../../model/create'
import { testRegion, testSession } from '../../model/fixture.test-util'
import { checkSession } from '../../model/check/rules'
import { regionsOf } from '../../model/queries'
import { canPutBack, putBackRendered, renderInPlace } from './render-in-place'

const source = (channels: 1 | 2, frames: number) => ({
  id: 'made',
  name: 'made.wav',
  channels,
  frames,
  sampleRate: 48_000,
  sha256: '1'.repeat(64),
})
const insert = { id: 'g', kind: 'gain' as const, bypassed: false, values: { gainDb: 3 } }
const base = testSession(
  [
    testRegion('a', { length: 48_000, clipGainDb: 3 }),
    testRegion('b', { start: 48_000, length: 48_000 }),
    testRegion('c', { start: 100_000, length: 40_000 }),
  ],
  { inserts: [insert], trimDb: 2, volumeDb: -3, pan: 0.2 },
)
const args = { regionId: 'r', trackId: 't', keptId: 'kept', name: 'made', newTrackId: null }

test('regions rendered before the inserts: the new one is in their place, they are on a muted track, and come back the same', () => {
  const made = renderInPlace.apply(base, {
    ...args,
    source: source(1, 96_000),
    from: 0,
    to: 96_000,
    regionIds: ['a', 'b'],
  })
  expect(checkSession(made)).toEqual([])
  expect(regionsOf(made, 't').map(({ id }) => id)).toEqual(['r', 'c'])
  expect(regionsOf(made, 'kept').map(({ id }) => id)).toEqual(['a', 'b'])
  expect(made.tracks.kept).toMatchObject({ muted: true, inserts: [], name: 'Track, before rendering' })
  expect(made.trackIds).toEqual(['t', 'kept'])
  expect(canPutBack(made, 'r')).toBe(true)
  const back = putBackRendered.apply(made, { regionId: 'r' })
  expect({ ...back, sources: base.sources }).toEqual(base)
})

test('a range after the inserts lies on a track of its own without them, and goes on as theirs does', () => {
  const made = renderInPlace.apply(base, {
    ...args,
    newTrackId: 'n',
    source: source(1, 60_000),
    from: 20_000,
    to: 80_000,
    regionIds: null,
  })
  expect(checkSession(made)).toEqual([])
  expect(made.trackIds).toEqual(['n', 't', 'kept'])
  expect(made.tracks.n).toMatchObject({ inserts: [], trimDb: 0, volumeDb: -3, pan: 0.2, muted: false })
  expect(regionsOf(made, 'n')).toMatchObject([{ id: 'r', start: 20_000, length: 60_000 }])
  const spans = (id: string) => regionsOf(made, id).map(({ start, length }) => [start, start + length])
  expect(spans('t')).toEqual([
    [0, 20_000],
    [80_000, 96_000],
    [100_000, 140_000],
  ])
  expect(spans('kept')).toEqual([
    [20_000, 48_000],
    [48_000, 80_000],
  ])
  const back = putBackRendered.apply(made, { regionId: 'r' })
  expect(back.trackIds).toEqual(['t'])
  expect(regionsOf(back, 't').map(({ start, length }) => [start, start + length])).toEqual([
    [0, 20_000],
    [20_000, 48_000],
    [48_000, 80_000],
    [80_000, 96_000],
    [100_000, 140_000],
  ])
})

test('where the kept track is gone there is no way back, and nothing is done', () => {
  const made = renderInPlace.apply(base, {
    ...args,
    source: source(1, 96_000),
    from: 0,
    to: 96_000,
    regionIds: ['a', 'b'],
  })
  const { kept: _, ...tracks } = made.tracks
  const without = { ...made, tracks, trackIds: ['t'], regions: { r: made.regions.r!, c: made.regions.c! } }
  expect(canPutBack(without, 'r')).toBe(false)
  expect(putBackRendered.apply(without, { regionId: 'r' })).toBe(without)
  const two = { ...without, trackIds: ['t', 'u'], tracks: { ...tracks, u: createTrack('u', 'U', 1, 1) } }
  expect(putBackRendered.apply(two, { regionId: 'c' })).toBe(two)
})
