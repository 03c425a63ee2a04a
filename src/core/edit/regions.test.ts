import { createTrack } from '../model/create'
import { testRegion, testSession } from '../model/fixture.test-util'
import { breachLine, brokenRules } from '../model/check/rules'
import type { Fade, Knot, Region, Session } from '../model/session'
import {
  copyRegions,
  deleteRegions,
  duplicateRegions,
  moveRegions,
  pasteRegions,
  setRegion,
  splitRegions,
  unlinkRegions,
} from '.'

const knots: Knot[] = [
  { frame: 2000, value: 0.4, shape: 'line', bend: 0.3 },
  { frame: 9000, value: 0.7, shape: 's-curve', bend: 0 },
  { frame: 30000, value: 0.5, shape: 'hold', bend: 0 },
  { frame: 40000, value: 0.6, shape: 'line', bend: 0 },
]

const threaded = (...regions: Region[]) =>
  testSession(regions, { pan: -1 }, { gainThreads: { g: { id: 'g', knots } } })
const fade = (length: number): Fade => ({ kind: 'gain', length, curve: 'linear', bend: 0, level: 0 })
const list = (s: Session) =>
  Object.values(s.regions)
    .sort((x, y) => x.start - y.start)
    .map((r) => [r.start, r.length, r.offset])

test('a region put on the end of another gets a crossfade with it; one put inside splits it, one put over it takes its place', () => {
  const under = testRegion('u', { start: 10000, length: 20000, offset: 100, fadeIn: fade(500) })
  const put = (start: number, length: number) =>
    moveRegions.apply(threaded(under, testRegion('a', { start: 100000, length })), {
      regionIds: ['a'],
      byFrames: start - 100000,
      byTracks: 0,
    })
  const over = put(5000, 10000)
  expect(list(over)).toEqual([
    [5000, 10000, 0],
    [10000, 20000, 100],
  ])
  expect(Object.values(over.crossfades)).toMatchObject([{ leftId: 'a', rightId: 'u', law: 'equal-power' }])
  expect(over.regions.u!.fadeIn).toBeNull()
  expect(Object.values(put(25000, 10000).crossfades)).toMatchObject([{ leftId: 'u', rightId: 'a' }])
  expect(list(put(15000, 5000))).toEqual([
    [10000, 5000, 100],
    [15000, 5000, 0],
    [20000, 10000, 10100],
  ])
  expect(list(put(10000, 20000))).toEqual([[10000, 20000, 0]])
  // It is not split within its crossfade, nor at an end of it, where a piece would lie wholly under the other
  // region.
  const cut = splitRegions.apply(over, { regionIds: ['a', 'u'], frames: [10000, 12000, 15000] })
  expect(cut).toBe(over)
  expect(
    list(splitRegions.apply(over, { regionIds: ['a', 'u'], frames: [9999, 15001] })).map(([start]) => start),
  ).toEqual([5000, 9999, 10000, 15001])
  // A third region cannot enter the overlap: it covers instead.
  const third = { ...over, regions: { ...over.regions, b: testRegion('b', { start: 200000, length: 9000 }) } }
  const entered = moveRegions.apply(third, { regionIds: ['b'], byFrames: 12000 - 200000, byTracks: 0 })
  expect(brokenRules(entered)).toEqual([])
  // Moved away or deleted, it leaves the fade that the crossfade was; moved back, they cross again.
  const away = moveRegions.apply(over, { regionIds: ['a'], byFrames: 90000, byTracks: 0 })
  expect(away.crossfades).toEqual({})
  expect(away.regions.u!.fadeIn).toMatchObject({ length: 5000, curve: 'equal-power' })
  expect(away.regions.a!.fadeOut).toMatchObject({ length: 5000, curve: 'equal-power' })
  expect(deleteRegions.apply(over, { regionIds: ['u'] }).regions.a!.fadeOut).toMatchObject({ length: 5000 })
  const back = moveRegions.apply(away, { regionIds: ['a'], byFrames: -90000, byTracks: 0 })
  expect(Object.keys(back.crossfades)).toHaveLength(1)
  expect(back.regions.u!.fadeIn).toBeNull()
})

test('moving keeps distances, stops at the start, goes to mono and stereo tracks but not beyond the last, and leaves locked regions', () => {
  const two = threaded(
    testRegion('a', { start: 500, length: 100 }),
    testRegion('b', { start: 700, length: 100 }),
  )
  expect(list(moveRegions.apply(two, { regionIds: ['a', 'b'], byFrames: -9999, byTracks: 0 }))).toEqual([
    [0, 100, 0],
    [200, 100, 0],
  ])
  const tracks = {
    ...two,
    trackIds: ['t', 'm', 's'],
    tracks: { ...two.tracks, m: createTrack('m', 'M', 1, 1), s: createTrack('s', 'S', 2, 2) },
  }
  expect(moveRegions.apply(tracks, { regionIds: ['a'], byFrames: 0, byTracks: 1 }).regions.a!.trackId).toBe(
    'm',
  )
  const onStereo = moveRegions.apply(tracks, { regionIds: ['a'], byFrames: 0, byTracks: 2 })
  expect(onStereo.regions.a!.trackId).toBe('s')
  expect(brokenRules(onStereo)).toEqual([])
  expect(moveRegions.apply(tracks, { regionIds: ['a'], byFrames: 0, byTracks: 3 })).toBe(tracks)
  const locked = setRegion.apply(two, { regionIds: ['b'], change: { locked: true } })
  expect(moveRegions.apply(locked, { regionIds: ['b'], byFrames: 50, byTracks: 0 })).toBe(locked)
  expect(moveRegions.apply(locked, { regionIds: ['a'], byFrames: 150, byTracks: 0 })).toBe(locked)
  expect(deleteRegions.apply(locked, { regionIds: ['a', 'b'] }).regions).toEqual({ b: locked.regions.b })
})

test('deleting with the gap closed moves what follows up by what was taken away', () => {
  const three = threaded(
    testRegion('a', { length: 1000 }),
    testRegion('b', { start: 1500, length: 500 }),
    testRegion('c', { start: 3000, length: 100 }),
  )
  expect(list(deleteRegions.apply(three, { regionIds: ['a', 'b'], closeGap: true }))).toEqual([
    [1500, 100, 0],
  ])
  expect(list(deleteRegions.apply(three, { regionIds: ['b'] }))).toEqual([
    [0, 1000, 0],
    [3000, 100, 0],
  ])
  // Where a crossfade overlapped, only what nothing covers any more is closed.
  const crossed = moveRegions.apply(
    threaded(testRegion('a', { length: 1000 }), testRegion('b', { start: 5000, length: 900 })),
    { regionIds: ['b'], byFrames: -4200, byTracks: 0 },
  )
  expect(list(deleteRegions.apply(crossed, { regionIds: ['a'], closeGap: true }))).toEqual([[0, 900, 0]])
})

test('copies follow at the distance the regions reach together; linked ones share the thread, others get their own', () => {
  const two = threaded(
    testRegion('a', { length: 1000, gainThreadId: 'g' }),
    testRegion('b', { start: 1500, length: 500 }),
  )
  const linked = duplicateRegions.apply(two, { regionIds: ['a', 'b'], times: 2, linked: true })
  expect(list(linked).map(([start]) => start)).toEqual([0, 1500, 2000, 3500, 4000, 5500])
  expect(Object.values(linked.regions).filter((r) => r.gainThreadId === 'g')).toHaveLength(3)
  expect(new Set(Object.values(linked.regions).map((r) => r.gainThreadId)).size).toBe(2)
  const own = duplicateRegions.apply(two, { regionIds: ['a'], times: 1, linked: false })
  expect(own.regions['a~1']!.gainThreadId).not.toBe('g')
  expect(own.gainThreads[own.regions['a~1']!.gainThreadId!]!.knots).toBe(knots)
  const unlinked = unlinkRegions.apply(linked, { regionIds: ['a~1'] })
  expect(unlinked.regions['a~1']!.gainThreadId).not.toBe('g')
  expect(unlinked.gainThreads[unlinked.regions['a~1']!.gainThreadId!]!.knots).toEqual(knots)
})

test('copies go to the next place that is free, or with room made for them; they make no crossfade', () => {
  // After a of 1000 frames comes a gap of 500, then b, then free time from 4000 on.
  const gap = threaded(
    testRegion('a', { start: 0, length: 1000 }),
    testRegion('b', { start: 1500, length: 2500, offset: 2000 }),
  )
  const starts = (s: Session) => Object.values(s.regions).map((r) => [r.id, r.start])
  const free = duplicateRegions.apply(gap, { regionIds: ['a'], times: 1, linked: false })
  expect(starts(free)).toEqual([
    ['a', 0],
    ['b', 1500],
    ['a~1', 4000],
  ])
  expect(free.crossfades).toEqual({})
  const inserted = duplicateRegions.apply(gap, { regionIds: ['a'], times: 2, linked: false, insert: true })
  expect(starts(inserted)).toEqual([
    ['a', 0],
    ['b', 3500],
    ['a~1', 1000],
    ['a~2', 2000],
  ])
  expect(brokenRules(inserted).map(breachLine)).toEqual([])
  // Two regions of two tracks go together: by as far as the one that is in the way needs.
  const two: Session = {
    ...gap,
    trackIds: ['t', 'u'],
    tracks: { ...gap.tracks, u: createTrack('u', 'Other', 1, 1) },
    regions: { ...gap.regions, c: testRegion('c', { trackId: 'u', start: 200, length: 1000 }) },
  }
  const both = duplicateRegions.apply(two, { regionIds: ['a', 'c'], times: 1, linked: false })
  expect(starts(both).slice(3)).toEqual([
    ['a~1', 4000],
    ['c~1', 4200],
  ])
})

test('copies are pasted with their thread and sound, also into another session; tracks that are missing are made', () => {
  const here = threaded(
    testRegion('a', { start: 1000, length: 5000, gainThreadId: 'g' }),
    testRegion('b', { start: 9000, length: 1000, gainThreadId: 'g' }),
  )
  const clip = copyRegions(here, ['a', 'b'])!
  const twice = pasteRegions.apply(here, { clip, at: 50000, trackId: 't' })
  expect(brokenRules(twice)).toEqual([])
  expect(list(twice).slice(2)).toEqual([
    [50000, 5000, 0],
    [58000, 1000, 0],
  ])
  expect(twice.regions['a~1']!.gainThreadId).toBe(twice.regions['b~1']!.gainThreadId)
  expect(twice.regions['a~1']!.gainThreadId).not.toBe('g')
  expect(Object.keys(twice.sources)).toEqual(['s'])
  const other = { ...testSession([]), trackIds: [], tracks: {}, sources: {} }
  const there = pasteRegions.apply(other, { clip, at: 1000, trackId: null })
  expect(brokenRules(there)).toEqual([])
  expect([there.trackIds.length, Object.keys(there.sources), there.tracks[there.trackIds[0]!]!.name]).toEqual(
    [1, ['s'], 'Track'],
  )
  expect(() => pasteRegions.apply({ ...other, sampleRate: 44100 }, { clip, at: 0, trackId: null })).toThrow(
    /48000 Hz .* 44100 Hz/,
  )
})
