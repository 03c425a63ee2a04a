import {
  clearAutomation,
  automationOf,
  carrying,
  deleteRegions,
  duplicateRegions,
  moveRegions,
  pasteAutomation,
  shiftAutomation,
  threadOf,
  type ThreadRef,
} from '..'
import { valueAt } from '../../curve/knots'
import { createTrack } from '../../model/create'
import { testRegion, testSession } from '../../model/fixture.test-util'
import type { Knot, Session } from '../../model/session'

const knot = (frame: number, value: number): Knot => ({ frame, value, shape: 'line', bend: 0 })
const volume = (trackId: string): Extract<ThreadRef, { kind: 'lane' }> => ({
  kind: 'lane',
  trackId,
  lane: 'volume',
})
// A dip to 0.2 from frame 2000 to 3000 on a line at 0.6, under the region at 1000…5000; another track with
// the same static level.
const lanes = {
  volume: {
    bypassed: false,
    visible: true,
    knots: [knot(1500, 0.6), knot(2000, 0.2), knot(3000, 0.2), knot(3500, 0.6)],
  },
}
const base = testSession([testRegion('a', { start: 1000, length: 4000 })], { lanes }, {})
const session: Session = {
  ...base,
  trackIds: ['t', 'u'],
  tracks: { ...base.tracks, u: createTrack('u', 'Other', 1, 1) },
}
const at = (s: Session, trackId: string, frame: number) => {
  const { kind, knots } = threadOf(s, volume(trackId))!
  return valueAt(kind, knots, frame)
}

test('what a lane does is copied into another, repeated, cleared and shifted', () => {
  const clip = automationOf(session, volume('t'), 1500, 3500)!
  const pasted = pasteAutomation.apply(session, { clips: [{ ref: volume('u'), clip }], at: 10_000, times: 2 })
  for (const start of [10_000, 12_000]) {
    expect(at(pasted, 'u', start + 1000)).toBeCloseTo(0.2, 9)
    expect(at(pasted, 'u', start + 300)).toBeCloseTo(0.36, 9)
  }
  expect(at(pasted, 't', 2500)).toBe(0.2)
  expect(pasteAutomation.label(session, { clips: [{ ref: volume('u'), clip }], at: 0, times: 2 })).toBe(
    'Repeat 2 times in volume of “Other”',
  )
  const cleared = clearAutomation.apply(session, { lanes: [volume('t')], from: 1600, to: 3400 })
  // From 0.52 to 0.52: the line between what was at both ends.
  expect(at(cleared, 't', 2500)).toBeCloseTo(0.52, 9)
  expect(at(cleared, 't', 1550)).toBeCloseTo(0.56, 9)
  const shifted = shiftAutomation.apply(session, {
    lanes: [volume('t')],
    from: 1500,
    to: 3500,
    byFrames: -5000,
  })
  // Not before the start: by 1500 frames only.
  expect(at(shifted, 't', 1000)).toBeCloseTo(0.2, 9)
  expect(at(shifted, 't', 2500)).toBeCloseTo(0.6, 9)
})

test('automation travels with regions that are moved, copied and deleted, or stays on the track', () => {
  const args = { regionIds: ['a'], byFrames: 6000, byTracks: 1 }
  const stayed = carrying(moveRegions, false).apply(session, args)
  expect(stayed.tracks.t!.lanes).toBe(session.tracks.t!.lanes)
  const moved = carrying(moveRegions, true).apply(session, args)
  expect(moved.regions.a).toMatchObject({ start: 7000, trackId: 'u' })
  expect(at(moved, 'u', 8500)).toBeCloseTo(0.2, 9)
  expect(at(moved, 't', 2500)).toBeCloseTo(0.6, 9)
  const copied = carrying(duplicateRegions, true).apply(session, {
    regionIds: ['a'],
    times: 1,
    linked: false,
  })
  expect(at(copied, 't', 2500)).toBeCloseTo(0.2, 9)
  expect(at(copied, 't', 6500)).toBeCloseTo(0.2, 9)
  const gone = carrying(deleteRegions, true).apply(session, { regionIds: ['a'], closeGap: false })
  expect(at(gone, 't', 2500)).toBeCloseTo(0.6, 9)
})
