import { valueAt, gainKind } from '../../core/curve/knots'
import { testRegion, testSession } from '../../core/model/fixture.test-util'
import { checkSession } from '../../core/model/check/rules'
import type { Knot } from '../../core/model/session'
import { dbToHeight, heightToDb } from '../../core/units/taper'
import { undo } from '../edits'
import { isRiding, startRiding, letGo, onPassKept, rideBy, rideTo, type PassKept } from './riding'
import { closed, opened } from '../session-slice'
import { createStore, type Store } from '../store'
import { playingChanged } from '../transport-slice'
import { rideSet } from '../view'

let position = 0
jest.mock('../playback/playback', () => ({ getPlayer: () => ({ position: () => position }) }))

const VOLUME = { kind: 'lane', trackId: 't', lane: 'volume' } as const
const PAN = { kind: 'lane', trackId: 't', lane: 'pan' } as const
const RATE = 48000
const line = (seconds: number, db: number): Knot => ({
  frame: seconds * RATE,
  value: dbToHeight(db),
  shape: 'line',
  bend: 0,
})

const frames: (() => void)[] = []
let now = 0
let onHide: (() => void)[] = []

beforeAll(() => {
  Object.assign(globalThis, {
    localStorage: { getItem: () => null, setItem: () => undefined },
    requestAnimationFrame: (call: () => void) => frames.push(call),
    window: { addEventListener: (_: string, call: () => void) => void onHide.push(call) },
  })
  jest.spyOn(performance, 'now').mockImplementation(() => now)
})

/** A track with a volume lane that plays, to be ridden in a mode that returns within 100 ms. */
function open(mode: 'touch' | 'latch' | 'off', knots: Knot[] = [line(0, -6)]) {
  // A frame that the pass before asked for.
  for (const call of frames.splice(0)) call()
  onHide = []
  position = 0
  const store: Store = createStore()
  startRiding(store)
  store.dispatch(
    opened({
      session: testSession([testRegion('a', { length: 10 * RATE })], {
        lanes: knots.length ? { volume: { knots, bypassed: false, visible: true } } : {},
      }),
      steps: [],
      done: 0,
      savedAt: 0,
      readOnly: false,
    }),
  )
  store.dispatch(rideSet({ mode, returnMs: 100 }))
  store.dispatch(playingChanged(true))
  const passes: PassKept[] = []
  const stop = onPassKept((pass) => passes.push(pass))
  const session = () => store.getState().session.session!
  return {
    store,
    dispatch: store.dispatch,
    session,
    passes,
    stop,
    knots: () => session().tracks.t!.lanes.volume?.knots ?? [],
    /** The level of the lane in dB. */
    at: (seconds: number) =>
      heightToDb(valueAt(gainKind(), session().tracks.t!.lanes.volume?.knots ?? [], seconds * RATE)),
    steps: () => store.getState().session.steps.map((s) => s.label),
    /** Plays on, a frame of the screen every 20 ms; `each` is what the hand does at each of them. */
    play(seconds: number, each?: (at: number) => void) {
      for (const end = position + seconds * RATE; position < end - 1;) {
        position += 0.02 * RATE
        now += 20
        each?.(position / RATE)
        for (const call of frames.splice(0)) call()
      }
    },
    halt: () => store.dispatch(playingChanged(false)),
  }
}

test('touch: what a hand holds is written, let go it returns to what the lane had, and the pass is one step', () => {
  const { dispatch, play, at, steps, halt, knots, passes, session, stop, store } = open('touch')
  const before = session()
  play(1)
  dispatch(rideTo(VOLUME, dbToHeight(-12)))
  play(1)
  dispatch(letGo(VOLUME))
  play(1)
  expect(steps()).toEqual([])
  halt()
  expect(steps()).toEqual(['Ride in volume of “Track”'])
  // Untouched before, held from 1 s to 2 s, back within a tenth of a second.
  for (const [seconds, db] of [
    [0.5, -6],
    [0.98, -6],
    [1.1, -12],
    [1.9, -12],
    [2.2, -6],
    [5, -6],
  ] as const)
    expect(at(seconds)).toBeCloseTo(db, 1)
  expect(passes).toEqual([
    {
      lanes: 1,
      points: expect.any(Number),
      knots: expect.any(Number),
      worst: expect.any(Number),
      keepRaw: expect.any(Function),
    },
  ])
  expect(passes[0]!.worst).toBeLessThanOrEqual(0.5)
  expect(knots().length).toBeLessThan(10)
  expect(checkSession(session())).toEqual([])
  dispatch(undo())
  expect(store.getState().session.session).toEqual(before)
  stop()
})

test('while it is written it is shown, and heard to go on, with what it replaces still there to be seen', () => {
  const { dispatch, play, at, store, stop, halt } = open('touch')
  play(0.5)
  dispatch(rideTo(VOLUME, dbToHeight(-20)))
  play(0.2)
  expect(at(0.69)).toBeCloseTo(-20, 1)
  // A second ahead of what is played the hand still holds.
  expect(at(1.5)).toBeCloseTo(-20, 1)
  expect(store.getState().session.base!.tracks.t!.lanes.volume!.knots).toEqual([line(0, -6)])
  halt()
  expect(store.getState().session.base).toBe(null)
  stop()
})

test('latch: what was moved stays until it stops, even when the hand is gone', () => {
  const { dispatch, play, at, halt, stop } = open('latch')
  play(1)
  dispatch(rideTo(VOLUME, dbToHeight(-12), 100))
  play(2)
  dispatch(letGo(VOLUME))
  play(1)
  halt()
  for (const [seconds, db] of [
    [0.9, -6],
    [1.1, -12],
    [3.9, -12],
  ] as const)
    expect(at(seconds)).toBeCloseTo(db, 1)
  expect(at(4.2)).toBeCloseTo(-6, 1)
  stop()
})

test('a hand that cannot say that it let go counts as gone after a while; keys go on from where it stands', () => {
  const { dispatch, play, at, halt, stop } = open('touch')
  play(1)
  dispatch(rideBy(VOLUME, 2, 300))
  play(0.2)
  dispatch(rideBy(VOLUME, 2, 300))
  play(2)
  halt()
  expect(at(1.1)).toBeCloseTo(-4, 1)
  expect(at(1.4)).toBeCloseTo(-2, 1)
  // 300 ms after the last key, and a tenth of a second to return.
  expect(at(1.7)).toBeCloseTo(-6, 1)
  stop()
})

test('several lanes in one pass are one step; a line of sixty points a second is thinned to few knots', () => {
  const { dispatch, play, halt, steps, passes, knots, session, stop } = open('touch')
  play(4, (at) => {
    dispatch(rideTo(VOLUME, dbToHeight(-12 + 6 * Math.sin(at))))
    dispatch(rideTo(PAN, Math.sin(at / 2)))
  })
  halt()
  expect(steps()).toEqual(['Ride in 2 threads'])
  expect(passes[0]).toMatchObject({ lanes: 2 })
  expect(passes[0]!.points).toBeGreaterThan(300)
  expect(knots().length).toBeLessThan(25)
  expect(session().tracks.t!.lanes.pan!.knots.length).toBeGreaterThan(1)
  // The raw lines take their place, in the same step; after that there is nothing to be replaced any more.
  expect(passes[0]!.keepRaw()).toBe(true)
  expect(knots().length).toBeGreaterThan(100)
  expect(steps()).toHaveLength(1)
  expect(passes[0]!.keepRaw()).toBe(false)
  stop()
})

test('when the loop turns, what was written stays, and writing goes on from there', () => {
  const { dispatch, play, at, halt, stop } = open('touch')
  play(2)
  dispatch(rideTo(VOLUME, dbToHeight(-12)))
  play(1)
  position = 0.5 * RATE
  play(0.5)
  dispatch(letGo(VOLUME))
  play(0.3)
  halt()
  for (const [seconds, db] of [
    [0.7, -12],
    [0.95, -12],
    [1.5, -6],
    [2.5, -12],
  ] as const)
    expect(at(seconds)).toBeCloseTo(db, 1)
  stop()
})

test.each([
  ['riding is off', () => open('off')],
  [
    'it does not play',
    () => {
      const o = open('touch')
      o.halt()
      return o
    },
  ],
  ['there is no such track', () => open('touch')],
])('nothing is written when %s', (what, make) => {
  const { dispatch, steps, halt, stop } = make()
  const ref = what === 'there is no such track' ? { ...VOLUME, trackId: 'nowhere' } : VOLUME
  expect(dispatch(rideTo(ref, 0.5))).toBe(false)
  expect(dispatch(rideBy(ref, 1, 100))).toBe(false)
  halt()
  expect(steps()).toEqual([])
  expect(dispatch(isRiding())).toBe(false)
  stop()
})

test('leaving the page keeps the pass; closing the session forgets it', () => {
  const kept = open('touch')
  kept.play(0.5)
  kept.dispatch(rideTo(VOLUME, 0.2))
  kept.play(0.5)
  for (const call of onHide) call()
  expect(kept.steps()).toEqual(['Ride in volume of “Track”'])
  kept.stop()
  const left = open('touch')
  left.dispatch(rideTo(VOLUME, 0.2))
  left.play(0.2)
  left.dispatch(closed())
  left.halt()
  expect(left.passes).toEqual([])
  left.stop()
})
