import { valueAt } from '../../curve/knots'
import { testSession } from '../../model/fixture.test-util'
import { breachLine, brokenRules } from '../../model/check/rules'
import type { Knot, Session } from '../../model/session'
import { setPanMode, threadOf } from '..'

const knot = (frame: number, value: number): Knot => ({ frame, value, shape: 'line', bend: 0 })
const open = (more: object) => testSession([], { channels: 2, ...more })
const at = (s: Session, lane: string, frame: number) => {
  const { kind, knots } = threadOf(s, { kind: 'lane', trackId: 't', lane })!
  return valueAt(kind, knots, frame)
}
const pair = (s: Session) => setPanMode.apply(s, { trackId: 't', panMode: 'pair' })

test('from a balance both channels get lanes at the nearest places, with a corner where it passes the centre', () => {
  // From fully right to fully left in two seconds: the centre is in the middle.
  const before = open({
    lanes: { pan: { knots: [knot(0, 1), knot(96_000, -1)], bypassed: false, visible: true } },
  })
  const after = pair(before)
  expect(brokenRules(after).map(breachLine)).toEqual([])
  // The left channel goes along while the balance is to the right, the right one while it is to the left.
  expect([0, 24_000, 48_000, 72_000, 96_000].map((f) => at(after, 'panLeft', f))).toEqual([1, 0, -1, -1, -1])
  expect([0, 24_000, 48_000, 72_000, 96_000].map((f) => at(after, 'panRight', f))).toEqual([1, 1, 1, 0, -1])
  // The balance is kept, and is back with the other mode.
  const back = setPanMode.apply(after, { trackId: 't', panMode: 'balance' })
  expect(back.tracks.t!.lanes.pan).toBe(before.tracks.t!.lanes.pan)
  // Places that were shaped before are kept, too.
  const shaped = {
    ...back.tracks.t!,
    lanes: { ...back.tracks.t!.lanes, panLeft: { ...back.tracks.t!.lanes.panLeft!, knots: [knot(0, 0.3)] } },
  }
  const again = pair({ ...back, tracks: { t: shaped } })
  expect(again.tracks.t!.lanes.panLeft!.knots).toEqual([knot(0, 0.3)])
})

test('from a static balance they stand still at the nearest places; from the centre nothing is made', () => {
  const still = pair(open({ pan: -0.25 }))
  expect([at(still, 'panLeft', 0), at(still, 'panRight', 0)]).toEqual([-1, 0.5])
  expect(pair(open({ pan: 0 })).tracks.t!.lanes).toEqual({})
})
