import { testSession } from '../../model/fixture.test-util'
import { mapLane } from '../../curve/weave'
import { drawInto, insertKnot, plateau, valueAt } from '../../curve/knots'
import { breachLine, brokenRules } from '../../model/check/rules'
import type { Knot, LaneWeave, Session } from '../../model/session'
import {
  automationOf,
  clearAutomation,
  detachWeave,
  weaveContextOf,
  pasteAutomation,
  placedWeave,
  removeWeave,
  resizedWeave,
  setTempo,
  setWeave,
  shapeThread,
  threadOf,
  weaveOf,
  type LaneRef,
} from '..'

// 120 bpm at 48 kHz: a beat is 24000 frames.
const volume: LaneRef = { kind: 'lane', trackId: 't', lane: 'volume' }
const session = (knots: Knot[] = []): Session => {
  const made = testSession([])
  const trackId = made.trackIds[0]!
  volume.trackId = trackId
  const track = made.tracks[trackId]!
  return {
    ...made,
    tempo: [{ beat: 0, bpm: 120, beatsPerBar: 4, beatUnit: 4 }],
    tracks: {
      ...made.tracks,
      [trackId]: { ...track, lanes: { volume: { knots, bypassed: false, visible: true } } },
    },
  }
}
const weave = (more: Partial<LaneWeave> = {}): LaneWeave => ({
  ...placedWeave(
    { shape: 'sine', period: { beats: 1 }, low: 0.3, high: 0.6, phase: 0, duty: 0.5, seed: 1 },
    24000,
    120000,
  ),
  ...more,
})
const put = (s: Session, w = weave()) => setWeave.apply(s, { ref: volume, weave: w, replaces: null })
const lane = (s: Session) => threadOf(s, volume)!
const places = (s: Session) => lane(s).weaves.map(({ from, to, origin }) => [from, to, origin])
const good = (s: Session) => expect(brokenRules(s).map(breachLine)).toEqual([])
const at = (s: Session, frame: number) => valueAt(lane(s).kind, lane(s).knots, frame)
const flat: Knot[] = [{ frame: 0, value: 0.5, shape: 'line', bend: 0 }]

test('a weave stays in its lane, and every value of it can be changed afterwards', () => {
  const woven = put(session(flat))
  good(woven)
  expect(places(woven)).toEqual([[24000, 120000, 24000]])
  expect([at(woven, 23999), at(woven, 24000), at(woven, 36000), at(woven, 120000)]).toEqual([
    0.5, 0.3, 0.6, 0.5,
  ])
  const changed = setWeave.apply(woven, {
    ref: volume,
    weave: {
      ...weaveOf(woven, { ref: volume, from: 24000 })!,
      high: 0.4,
      shape: 'square',
      period: { beats: 2 },
    },
    replaces: 24000,
  })
  good(changed)
  // The square is high for the first beat of two, then low; before and after the lane is as it was.
  expect([23999, 24000, 48000, 72000, 120000, 130000].map((f) => at(changed, f))).toEqual([
    0.5, 0.4, 0.3, 0.4, 0.5, 0.5,
  ])
  const removed = removeWeave.apply(changed, { ref: volume, from: 24000 })
  good(removed)
  expect([24000, 60000, 120000].map((f) => at(removed, f))).toEqual([0.5, 0.5, 0.5])
  expect(lane(removed).weaves).toEqual([])
})

test('drawing over the middle divides a weave, and both pieces keep their phase', () => {
  const woven = put(session(flat))
  const line = [
    { frame: 55000, value: 0.45 },
    { frame: 65000, value: 0.45 },
  ]
  const { knots } = drawInto(lane(woven).knots, line, 0.5, 240, lane(woven).kind)
  const drawn = shapeThread.apply(woven, { ref: volume, knots })
  good(drawn)
  expect(places(drawn)).toEqual([
    [24000, 55000, 24000],
    [65000, 120000, 24000],
  ])
  for (const frame of [30000, 54000, 65000, 70000, 99000])
    expect(at(drawn, frame)).toBeCloseTo(at(woven, frame), 9)
  // Changed afterwards, the second piece goes on where its cycles would be.
  const changed = setWeave.apply(drawn, {
    ref: volume,
    weave: { ...lane(drawn).weaves[1]!, low: 0.1 },
    replaces: 65000,
  })
  good(changed)
  // A sine from 0.1 at the beat to 0.6 half a beat later: (1 - cos π/2)/2 of the way at a quarter of a beat.
  expect([72000, 84000, 78000].map((f) => at(changed, f))).toEqual([0.1, 0.6, expect.closeTo(0.35, 9)])
})

test.each([
  ['a knot moved', (k: readonly Knot[]) => k.map((x) => (x.frame === 60000 ? { ...x, value: 0.7 } : x)), 2],
  ['a plateau over its end', (k: readonly Knot[]) => plateau(k, 90000, 130000, -3, 100), 1],
  ['a knot added on the line', (k: readonly Knot[]) => insertKnot(k, 66000).knots, 2],
  ['all knots gone', () => [], 0],
] as const)('%s leaves as weaves only what still follows them', (_, change, pieces) => {
  const next = shapeThread.apply(put(session(flat)), {
    ref: volume,
    knots: change(lane(put(session(flat))).knots),
  })
  good(next)
  expect(lane(next).weaves).toHaveLength(pieces)
})

test('clearing a range cuts a weave there; copied and pasted it is a weave at its new place', () => {
  const woven = put(session(flat))
  const cleared = clearAutomation.apply(woven, { lanes: [volume], from: 48000, to: 96000 })
  good(cleared)
  expect(places(cleared)).toEqual([
    [24000, 48000, 24000],
    [96000, 120000, 24000],
  ])
  const clip = automationOf(woven, volume, 48000, 96000)!
  const pasted = pasteAutomation.apply(woven, { clips: [{ ref: volume, clip }], at: 240000, times: 2 })
  good(pasted)
  expect(places(pasted)).toEqual([
    [24000, 120000, 24000],
    [240000, 288000, 216000],
    [288000, 336000, 264000],
  ])
  expect(at(pasted, 252000)).toBeCloseTo(at(woven, 60000), 9)
})

test('level shifts move both limits, scaling scales them, and a later note value keeps them so', () => {
  const woven = put(session(flat))
  const { knots, weaves, kind } = lane(woven)
  const scaled = shapeThread.apply(woven, {
    ref: volume,
    ...mapLane(knots, weaves, weaveContextOf(woven, kind), (v) => kind.scaled(v, 0.5)),
  })
  good(scaled)
  const now = lane(scaled).weaves[0]!
  expect([now.low, now.high]).toEqual([kind.scaled(0.3, 0.5), kind.scaled(0.6, 0.5)])
  const finer = setWeave.apply(scaled, {
    ref: volume,
    weave: { ...now, period: { beats: 0.5 } },
    replaces: now.from,
  })
  good(finer)
  const values = lane(finer)
    .knots.filter((k) => k.frame > 24000 && k.frame < 120000)
    .map((k) => k.value)
  expect(Math.min(...values)).toBeCloseTo(now.low, 9)
  expect(Math.max(...values)).toBeCloseTo(now.high, 9)
})

test('detached, its knots stay as ordinary ones', () => {
  const woven = put(session(flat))
  const detached = detachWeave.apply(woven, { ref: volume, from: 24000 })
  expect(lane(detached).weaves).toEqual([])
  expect(lane(detached).knots).toEqual(lane(woven).knots)
})

test('one weave per time and lane: a second one divides the first', () => {
  const both = put(put(session()), {
    ...weave(),
    from: 48000,
    to: 72000,
    origin: 48000,
    low: 0.1,
    shape: 'random',
  })
  good(both)
  expect(places(both)).toEqual([
    [24000, 48000, 24000],
    [48000, 72000, 48000],
    [72000, 120000, 24000],
  ])
  const wider = setWeave.apply(both, {
    ref: volume,
    weave: resizedWeave(lane(both).weaves[1]!, 40000, 72000),
    replaces: 48000,
  })
  good(wider)
  expect(places(wider)[1]).toEqual([40000, 72000, 40000])
})

test('a weave follows a new tempo at its place', () => {
  const slower = setTempo.apply(put(session(flat)), { atBeat: 0, change: { bpm: 60 } })
  good(slower)
  // A beat is 48000 frames now; half a cycle after its start it is at its height.
  expect([24000, 48000, 72000].map((f) => at(slower, f))).toEqual([0.3, 0.6, 0.3])
})

test('a file whose lane differs from its weaves is refused', () => {
  const woven = put(session(flat))
  const track = woven.tracks[volume.trackId!]!
  const bent = { ...track.lanes.volume!, knots: track.lanes.volume!.knots.map((k) => ({ ...k, value: 0.5 })) }
  const broken = { ...woven, tracks: { ...woven.tracks, [track.id]: { ...track, lanes: { volume: bent } } } }
  expect(brokenRules(broken).map((b) => b.message)).toEqual(['differs from the knots of its lane'])
})
