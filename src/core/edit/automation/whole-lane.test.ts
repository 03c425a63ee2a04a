import { valueAt } from '../../curve/knots'
import { stepsOf } from '../../curve/thread'
import { testSession } from '../../model/fixture.test-util'
import { breachLine, brokenRules } from '../../model/check/rules'
import type { Knot, Session } from '../../model/session'
import { dbToHeight, heightToDb } from '../../units/taper'
import { setLanes, setLanesBypassed, shapeThread, shiftLanes, threadOf, type LaneRef } from '..'

const lane: LaneRef = { kind: 'lane', trackId: 't', lane: 'volume' }
const knot = (frame: number, db: number): Knot => ({ frame, value: dbToHeight(db), shape: 'line', bend: 0 })
const session = testSession([], {
  volumeDb: -3,
  lanes: { volume: { knots: [knot(0, -6), knot(48_000, -12)], bypassed: true, visible: true } },
})
const level = (s: Session, frame: number) => {
  const { kind, knots } = threadOf(s, lane)!
  return Math.round(heightToDb(valueAt(kind, knots, frame)) * 100) / 100
}
const good = (s: Session) => expect(brokenRules(s).map(breachLine)).toEqual([])

test('as a whole a lane is set to a value: no knots, no bypass, and that value on the fader', () => {
  const set = setLanes.apply(session, { lanes: [lane], value: dbToHeight(-4.2), scope: 'whole' })
  good(set)
  expect(set.tracks.t).toMatchObject({ volumeDb: -4.2, lanes: { volume: { knots: [], bypassed: false } } })
  expect(setLanes.label(session, { lanes: [lane], value: dbToHeight(-4.2), scope: 'whole' })).toBe(
    'Set the whole volume of “Track” to −4.2 dB',
  )
  // Silence is a value, too; the pans of a pair have no fader and keep one knot.
  expect(setLanes.apply(session, { lanes: [lane], value: 0, scope: 'whole' }).tracks.t!.volumeDb).toBe(null)
  const left: LaneRef = { kind: 'lane', trackId: 't', lane: 'panLeft' }
  const pans = setLanes.apply(session, { lanes: [left], value: -0.5, scope: 'whole' })
  expect(pans.tracks.t!.lanes.panLeft!.knots).toEqual([{ frame: 0, value: -0.5, shape: 'line', bend: 0 }])
})

test('from a frame on, or in a range, it comes to the value within 5 ms and changes nothing else', () => {
  const rest = setLanes.apply(session, {
    lanes: [lane],
    value: dbToHeight(0),
    scope: { from: 24_000, to: null },
  })
  good(rest)
  // 5 ms are 240 frames.
  expect([24_240, 90_000].map((f) => level(rest, f))).toEqual([0, 0])
  expect([0, 12_000, 24_000].map((f) => level(rest, f))).toEqual(
    [0, 12_000, 24_000].map((f) => level(session, f)),
  )
  const part = setLanes.apply(session, {
    lanes: [lane],
    value: dbToHeight(0),
    scope: { from: 24_000, to: 30_000 },
  })
  good(part)
  expect([24_240, 27_000, 29_760].map((f) => level(part, f))).toEqual([0, 0, 0])
  for (const frame of [12_000, 24_000, 30_000, 40_000]) expect(level(part, frame)).toBe(level(session, frame))
  for (const s of [rest, part]) expect(stepsOf(threadOf(s, lane)!.knots)).toEqual([])
})

test('a shift of the whole lane moves every knot by as many dB, and clearing a lane takes its bypass off', () => {
  const shifted = shiftLanes.apply(session, { lanes: [lane], by: 2 })
  expect([0, 48_000].map((f) => level(shifted, f))).toEqual([-4, -10])
  const bypassed = setLanesBypassed.apply(session, { lanes: [lane], bypassed: true })
  const cleared = shapeThread.apply(bypassed, { ref: lane, knots: [] })
  expect(cleared.tracks.t!.lanes.volume).toMatchObject({ knots: [], bypassed: false })
})
