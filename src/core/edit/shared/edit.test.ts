import fc from 'fast-check'
import { testRegion, testSession } from '../../model/fixture.test-util'
import { applyPatches, diff } from '../../model/patch'
import { brokenRules } from '../../model/check/rules'
import type { Session } from '../../model/session'
import {
  addSounds,
  changeClipGain,
  resetClipGain,
  setClipGain,
  setFade,
  setParameter,
  setTitle,
  setTrack,
  type Edit,
} from '..'

const session = testSession([
  testRegion('a', { clipGainDb: -6 }),
  testRegion('b', { start: 50000, clipGainDb: 2 }),
  testRegion('c', { start: 100000 }),
])
const both = ['a', 'b']

describe('clip gain', () => {
  test('moving several keeps their differences', () => {
    const after = changeClipGain.apply(session, { regionIds: both, byDb: -3 })
    expect([after.regions.a!.clipGainDb, after.regions.b!.clipGainDb, after.regions.c]).toEqual([
      -9,
      -1,
      session.regions.c,
    ])
  })
  test('and stops them all when the first reaches a limit', () => {
    const after = changeClipGain.apply(session, { regionIds: both, byDb: 60 })
    expect([after.regions.a!.clipGainDb, after.regions.b!.clipGainDb]).toEqual([28, 36])
  })
  test('reset is one action for any number; nothing changed is the same session', () => {
    const after = resetClipGain.apply(session, { regionIds: ['a', 'b', 'c'] })
    expect(Object.values(after.regions).map((r) => r.clipGainDb)).toEqual([0, 0, 0])
    expect(resetClipGain.apply(after, { regionIds: ['a'] })).toBe(after)
  })
  test('a value out of range throws with both numbers', () =>
    expect(() => setClipGain.apply(session, { regionIds: both, db: 40 })).toThrow(/40 dB is outside -72…36/))
  test('labels name one region and count several', () => {
    expect(changeClipGain.label(session, { regionIds: ['a'], byDb: 1 })).toBe(
      'Clip gain of “a” −6.0 → −5.0 dB',
    )
    expect(setClipGain.label(session, { regionIds: both, db: -3 })).toBe('Clip gain of 2 regions → −3.0 dB')
    expect(resetClipGain.label(session, { regionIds: both })).toBe('Reset clip gain of 2 regions')
  })
})

describe('fades', () => {
  const fade = (edge: 'in' | 'out', lengthFrames: number, on = session) =>
    setFade.apply(on, { regionIds: ['a'], edge, change: { lengthFrames } })
  test('a longer one pushes the other, and neither exceeds the region', () => {
    const first = fade('out', 20000)
    const pushed = fade('in', 40000, first)
    expect([pushed.regions.a!.fadeIn!.length, pushed.regions.a!.fadeOut!.length]).toEqual([40000, 8000])
    const all = fade('in', 90000, first)
    expect([all.regions.a!.fadeIn!.length, all.regions.a!.fadeOut]).toEqual([48000, null])
  })
  test('length 0 removes; a change of several keeps their differences; a curve stays when the length changes', () => {
    expect(fade('in', 0, fade('in', 100)).regions.a!.fadeIn).toBeNull()
    const two = setFade.apply(fade('in', 1000), { regionIds: both, edge: 'in', change: { byFrames: 500 } })
    expect([two.regions.a!.fadeIn!.length, two.regions.b!.fadeIn!.length]).toEqual([1500, 500])
    const curved = setFade.apply(two, { regionIds: ['a'], edge: 'in', change: { curve: 'equal-power' } })
    expect(fade('in', 700, curved).regions.a!.fadeIn).toMatchObject({ length: 700, curve: 'equal-power' })
  })
})

test('an imported sound gets a track of its own, or the one it was dropped on when it has room and channels', () => {
  const sound = (n: number, channels: 1 | 2) => ({
    source: { ...session.sources.s!, id: `n${n}`, name: `take ${n}.wav`, channels, frames: 1000 },
    trackId: `t${n}`,
    regionId: `r${n}`,
  })
  const own = addSounds.apply(session, { sounds: [sound(1, 1), sound(2, 2)], start: 5 })
  expect(own.trackIds).toEqual(['t', 't1', 't2'])
  expect(own.regions.r2).toMatchObject({ trackId: 't2', start: 5, length: 1000, name: 'take 2' })
  const dropped = addSounds.apply(session, {
    sounds: [sound(1, 1), sound(2, 1), sound(3, 2)],
    start: 200000,
    onTrackId: 't',
  })
  expect(dropped.trackIds).toEqual(['t', 't3'])
  expect([dropped.regions.r1!.start, dropped.regions.r2!.start, dropped.regions.r3!.start]).toEqual([
    200000, 201000, 200000,
  ])
  const noRoom = addSounds.apply(session, { sounds: [sound(1, 1)], start: 100, onTrackId: 't' })
  expect(noRoom.trackIds).toEqual(['t', 't1'])
  // In a row mono sounds share a track and stereo sounds another; a place of its own counts, where there is room.
  const row = addSounds.apply(session, {
    sounds: [
      sound(1, 1),
      sound(2, 2),
      sound(3, 1),
      { ...sound(4, 1), start: 9000 },
      { ...sound(5, 1), start: 9500 },
    ],
    start: 50,
    inRow: true,
  })
  expect(row.trackIds).toEqual(['t', 't1', 't2', 't5'])
  expect(
    ['r1', 'r2', 'r3', 'r4', 'r5'].map((id) => [row.regions[id]!.trackId, row.regions[id]!.start]),
  ).toEqual([
    ['t1', 50],
    ['t2', 50],
    ['t1', 1050],
    ['t1', 9000],
    ['t5', 9500],
  ])
})

test('after any sequence of edits the rules hold, and undoing all gives the same session', () => {
  let made = 0
  const fresh = () => {
    const n = made++
    return {
      source: { ...session.sources.s!, id: `n${n}`, frames: 1000 },
      trackId: `nt${n}`,
      regionId: `nr${n}`,
    }
  }
  const regionIds = fc.subarray(['a', 'b', 'c', 'gone'])
  const step = <A>(edit: Edit<A>, args: fc.Arbitrary<A>) => args.map((a) => (s: Session) => edit.apply(s, a))
  const steps = fc.oneof(
    step(changeClipGain, fc.record({ regionIds, byDb: fc.double({ min: -100, max: 100, noNaN: true }) })),
    step(setClipGain, fc.record({ regionIds, db: fc.integer({ min: -72, max: 36 }) })),
    step(resetClipGain, fc.record({ regionIds })),
    step(
      setFade,
      fc.record({
        regionIds,
        edge: fc.constantFrom('in', 'out'),
        change: fc.oneof(
          fc.record({ lengthFrames: fc.integer({ min: 0, max: 100000 }) }),
          fc.record({ byFrames: fc.integer({ min: -60000, max: 60000 }) }),
          fc.record({ curve: fc.constantFrom('linear', 'equal-power') }),
        ),
      }),
    ),
    step(
      setTrack,
      fc.record({
        trackIds: fc.constant(['t']),
        change: fc.record({ muted: fc.boolean() }),
      }),
    ),
    step(
      setParameter,
      fc.record({
        key: fc.constant('volume'),
        trackIds: fc.constantFrom(['t'], [null]),
        value: fc.option(fc.integer({ min: -72, max: 12 })),
      }),
    ),
    step(
      setParameter,
      fc.record({
        key: fc.constant('pan'),
        trackIds: fc.constantFrom(['t'], [null]),
        value: fc.double({ min: -1, max: 1, noNaN: true }),
      }),
    ),
    step(setTitle, fc.record({ title: fc.string({ maxLength: 20 }) })),
    fc.record({ count: fc.integer({ min: 0, max: 3 }), start: fc.integer({ min: 200000, max: 220000 }) }).map(
      ({ count, start }) =>
        (s: Session) =>
          addSounds.apply(s, { sounds: Array.from({ length: count }, fresh), start, onTrackId: 't' }),
    ),
  )
  fc.assert(
    fc.property(fc.array(steps, { maxLength: 25 }), (list) => {
      let now = session
      const back = []
      for (const apply of list) {
        const next = apply(now)
        expect(brokenRules(next)).toEqual([])
        back.push(diff(now, next).inverse)
        now = next
      }
      for (const patches of back.reverse()) now = applyPatches(now, patches)
      expect(now).toEqual(session)
    }),
    { numRuns: 150 },
  )
})
