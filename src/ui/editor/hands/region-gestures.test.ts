import { createTrack } from '../../../core/model/create'
import { testRegion, testSession } from '../../../core/model/fixture.test-util'
import { checkSession } from '../../../core/model/check/rules'
import type { Knot, Session } from '../../../core/model/session'
import { opened } from '../../../store/session-slice'
import { createStore } from '../../../store/store'
import { bendFadeGesture, fadeGesture, joinGesture, slideGesture } from './fade-gestures'
import { gainGesture } from './gain-gesture'
import { moveGesture, slipGesture, trimGesture, type SnapPlace } from './move-gestures'
import { rangeGesture, sweepGesture } from './sweep-gestures'
import { type Gesture, type Move } from './gesture'
import type { Snapped } from './snap'
import { gainTrial } from '../drawing/gain-trial'

beforeAll(() => {
  Object.assign(globalThis, {
    localStorage: { getItem: () => null, setItem: () => undefined },
    window: globalThis,
  })
})

/**
 * 100 frames a pixel. Two pieces of one take that touch at 48 000, with sound beyond the cut, and a region on
 * another track.
 */
const view = { left: 0, framesPerPixel: 100, top: 0, width: 2000, height: 400, heights: [84, 84, 84, 84] }
const held: Omit<Move, 'dx' | 'dy'> = { x: 0, fine: false, shift: false, ctrl: false }
const lane: Knot[] = [
  { frame: 0, value: 0.5, shape: 'line', bend: 0 },
  { frame: 40_000, value: 0.3, shape: 'line', bend: 0 },
]
const base = testSession(
  [
    testRegion('a', { offset: 10_000, clipGainDb: -2 }),
    testRegion('b', { start: 48_000, offset: 58_000, clipGainDb: -8 }),
    testRegion('c', { trackId: 'u', start: 20_000 }),
  ],
  { lanes: { volume: { knots: lane, bypassed: false, visible: true } } },
)
const session: Session = {
  ...base,
  trackIds: ['t', 'u'],
  tracks: { ...base.tracks, u: createTrack('u', 'Other', 1, 1) },
}

function open(given = session) {
  const store = createStore()
  store.dispatch(opened({ session: given, steps: [], done: 0, savedAt: 0, readOnly: false }))
  const now = () => store.getState().session.session!
  return {
    dispatch: store.dispatch,
    now,
    selection: () => store.getState().selection,
    steps: () => store.getState().session.steps.map((s) => s.label),
    /** Moves, shows and lets go; the session then. */
    run(gesture: Gesture, ...moves: (Partial<Move> & { dx: number; dy: number })[]) {
      for (const move of moves) {
        gesture.move({ ...held, ...move })
        expect(store.getState().session.steps).toHaveLength(0)
      }
      gesture.end()
      expect(checkSession(now())).toEqual([])
      return now()
    },
    /** Moves and gives up: nothing has happened. */
    giveUp(gesture: Gesture, move: { dx: number; dy: number }) {
      gesture.move({ ...held, ...move })
      gesture.cancel()
      expect([now(), store.getState().session.steps]).toEqual([given, []])
    },
  }
}

describe('clip gain', () => {
  test('follows the hand by a tenth of a dB a pixel, with Alt by a hundredth, without a jump when Alt is pressed on the way', () => {
    const { run, dispatch, steps } = open()
    const said: (string | null)[] = []
    const gain = () => gainGesture(dispatch, session, ['a', 'b'], (text) => said.push(text))
    const after = run(gain(), { dx: 40, dy: -30 }, { dx: 40, dy: -40, fine: true })
    expect([after.regions.a!.clipGainDb, after.regions.b!.clipGainDb]).toEqual([1.1, -4.9])
    expect(said).toEqual(['+3.0 dB, 2 regions', '+3.1 dB, 2 regions', null])
    expect(steps()).toEqual(['Clip gain of 2 regions +3.1 dB'])
  })

  test('stops where the first region reaches its end, so that differences stay; one region says its own gain', () => {
    const { run, dispatch } = open()
    const said: (string | null)[] = []
    const after = run(
      gainGesture(dispatch, session, ['a', 'b'], () => undefined),
      { dx: 0, dy: -900 },
    )
    expect([after.regions.a!.clipGainDb, after.regions.b!.clipGainDb]).toEqual([36, 30])
    open().giveUp(
      gainGesture(dispatch, session, ['a'], (text) => said.push(text)),
      { dx: 0, dy: 20 },
    )
    expect(said).toEqual(['−4.0 dB', null])
  })

  test('of very many regions is shown at once and told the session once the hand rests', () => {
    jest.useFakeTimers()
    const many = testSession(
      Array.from({ length: 250 }, (_, i) => testRegion(`r${i}`, { start: i * 48_000 })),
    )
    const { dispatch, now, steps } = open(many)
    const gesture = gainGesture(dispatch, many, Object.keys(many.regions), () => undefined)
    gesture.move({ ...held, dx: 0, dy: -30 })
    expect([gainTrial.get()?.byDb, now().regions.r7!.clipGainDb]).toEqual([3, 0])
    jest.advanceTimersByTime(250)
    expect([gainTrial.get(), now().regions.r7!.clipGainDb]).toEqual([null, 3])
    // What the session has been told already is not shown twice.
    gesture.move({ ...held, dx: 0, dy: -40 })
    expect(gainTrial.get()?.byDb).toBeCloseTo(1, 9)
    gesture.end()
    expect([gainTrial.get(), now().regions.r249!.clipGainDb, steps()]).toEqual([
      null,
      4,
      ['Clip gain of 250 regions +4.0 dB'],
    ])
    jest.useRealTimers()
  })
})

describe('fades and crossfades', () => {
  test('a fade handle dragged inwards makes the fade longer, on either edge', () => {
    for (const [edge, dx] of [
      ['in', 50],
      ['out', -50],
    ] as const) {
      const { run, dispatch } = open()
      const { fadeIn, fadeOut } = run(
        fadeGesture(dispatch, ['a'], edge, 100, 0, null),
        { dx: dx / 2, dy: 0 },
        { dx, dy: 9 },
      ).regions.a!
      expect((edge === 'in' ? fadeIn : fadeOut)!.length).toBe(5000)
    }
  })

  test('dragged past the edge towards a neighbour it makes a crossfade, twice as long; back inside it is a fade again', () => {
    const { run, dispatch, steps } = open()
    const gesture = () => fadeGesture(dispatch, ['a'], 'out', 100, 0, { leftId: 'a', rightId: 'b' })
    const after = run(gesture(), { dx: -20, dy: 0 }, { dx: 24, dy: 0 })
    const [fade] = Object.values(after.crossfades)
    expect(fade).toMatchObject({ leftId: 'a', rightId: 'b', law: 'equal-power' })
    expect(after.regions.a!.start + after.regions.a!.length - after.regions.b!.start).toBe(4800)
    expect(steps()).toHaveLength(1)
    const back = open()
    const inside = back.run(
      fadeGesture(back.dispatch, ['a'], 'out', 100, 0, { leftId: 'a', rightId: 'b' }),
      { dx: 24, dy: 0 },
      { dx: -24, dy: 0 },
    )
    expect([inside.crossfades, inside.regions.a!.fadeOut!.length]).toEqual([{}, 2400])
  })

  test('the curve of a fade is bent by its height, both ways and with Alt a tenth as far', () => {
    const faded = {
      ...session,
      regions: {
        ...session.regions,
        a: {
          ...session.regions.a!,
          fadeIn: { kind: 'gain' as const, length: 4800, curve: 'linear' as const, bend: 0, level: 0 },
        },
      },
    }
    const bend = (dy: number, fine = false) => {
      const { run, dispatch } = open(faded)
      return (
        run(bendFadeGesture(dispatch, ['a'], 'in', 0, 60), { dx: 0, dy, fine }).regions.a!.fadeIn as {
          bend: number
        }
      ).bend
    }
    expect([bend(15), bend(-15), bend(15, true), bend(500)]).toEqual([0.5, -0.5, 0.05, 1])
  })

  test('across a join a crossfade grows by twice the way, and says how much sound there is when there is too little', () => {
    const { run, dispatch } = open()
    const said: (string | null)[] = []
    const after = run(
      joinGesture(dispatch, session, { leftId: 'a', rightId: 'b' }, 100, (text) => said.push(text)),
      { dx: -12, dy: 0 },
      { dx: 12, dy: 0 },
    )
    expect(after.regions.a!.start + after.regions.a!.length - after.regions.b!.start).toBe(2400)
    expect(said).toEqual(['50 ms', '50 ms', null])
    open().giveUp(
      joinGesture(dispatch, session, { leftId: 'a', rightId: 'b' }, 100, (text) => said.push(text)),
      { dx: 4000, dy: 0 },
    )
    expect(said.at(-2)).toMatch(/^longest possible: \d+ ms \(\d+ ms left, \d+ ms right\)$/)
  })

  test('a crossfade slides with both edges; the sound at its place stays the same', () => {
    const { dispatch, now, steps } = open()
    const joined = joinGesture(dispatch, session, { leftId: 'a', rightId: 'b' }, 100, () => undefined)
    joined.move({ ...held, dx: 24, dy: 0 })
    joined.end()
    const before = now()
    const [id] = Object.keys(before.crossfades)
    const gesture = slideGesture(dispatch, id!, 100)
    gesture.move({ ...held, dx: 10, dy: 0 })
    gesture.end()
    const { a, b } = now().regions
    expect(
      [a!.start + a!.length, b!.start].map(
        (f, i) => f - [before.regions.a!.start + before.regions.a!.length, before.regions.b!.start][i]!,
      ),
    ).toEqual([1000, 1000])
    expect(b!.start - b!.offset).toBe(before.regions.b!.start - before.regions.b!.offset)
    expect(steps()).toHaveLength(2)
  })
})

describe('moving and trimming', () => {
  const place = (targets: SnapPlace['targets'] = [], shown: (Snapped | null)[] = []): SnapPlace => ({
    session,
    framesPerPixel: 100,
    targets,
    timeScale: 'seconds',
    show: (snapped) => shown.push(snapped),
  })

  test('regions move in time and to other tracks together, by whole frames; with Shift nothing catches', () => {
    const { run, dispatch, steps } = open()
    const rowsMoved = (dy: number) => Math.round(dy / 84)
    const after = run(
      moveGesture(dispatch, place([{ frame: 100_000, what: 'marker' }]), ['b'], rowsMoved, false),
      { dx: 517, dy: 80, shift: true },
    )
    expect(after.regions.b).toMatchObject({ start: 48_000 + 51_700, trackId: 'u' })
    expect(steps()).toEqual(['Move “b”'])
    expect(after.tracks.t!.lanes.volume!.knots).toEqual(lane)
  })

  test('a region on its way to another track keeps its time until the hand goes 8 pixels sideways, and with Alt all along', () => {
    const near = place([{ frame: 48_300, what: 'a gate' }])
    const moved = (...moves: Partial<Move>[]) => {
      const { run, dispatch } = open()
      const steps = moves.map((move) => ({ dx: 0, dy: 84, ...move }))
      const gesture = moveGesture(dispatch, near, ['b'], (dy) => Math.round(dy / 84), false)
      const { start, trackId } = run(gesture, ...steps).regions.b!
      return [start, trackId]
    }
    expect(moved({ dx: 3 }, { dx: -7 })).toEqual([48_000, 'u'])
    expect(moved({ dx: 5, shift: true })).toEqual([48_000, 'u'])
    expect(moved({ dx: 300, fine: true })).toEqual([48_000, 'u'])
    // What has gone sideways once catches as ever.
    expect(moved({ dx: 40 }, { dx: 5 })).toEqual([48_300, 'u'])
    // On its own track it waits as well, unless it is off the grid or fine.
    expect(moved({ dx: 5, dy: 0 })).toEqual([48_000, 't'])
    expect(moved({ dx: 5, dy: 0, shift: true })).toEqual([48_500, 't'])
    expect(moved({ dx: 5, dy: 0, fine: true })).toEqual([48_050, 't'])
  })

  test('dragged with Ctrl, a copy goes to another track at the same time, with a gain thread of its own', () => {
    const given: Session = {
      ...session,
      gainThreads: { g: { id: 'g', knots: [{ frame: 0, value: 0.3, shape: 'line', bend: 0 }] } },
      regions: { ...session.regions, b: { ...session.regions.b!, gainThreadId: 'g' } },
    }
    const { run, dispatch, steps, selection } = open(given)
    const gesture = moveGesture(
      dispatch,
      { ...place(), session: given },
      ['b'],
      (dy) => Math.round(dy / 84),
      false,
    )
    // Ctrl is pressed on the way: until then it is moved.
    const after = run(gesture, { dx: 2, dy: 60 }, { dx: 2, dy: 84, ctrl: true })
    expect(after.regions.b).toEqual(given.regions.b)
    const [copy] = Object.values(after.regions).filter((r) => !given.regions[r.id])
    expect(copy).toMatchObject({ start: 48_000, trackId: 'u', offset: 58_000, clipGainDb: -8 })
    expect(copy!.gainThreadId).not.toBe('g')
    expect(after.gainThreads[copy!.gainThreadId!]!.knots).toEqual(given.gainThreads.g!.knots)
    expect(steps()).toEqual(['Copy “b”'])
    expect(selection().regionIds).toEqual([copy!.id])
  })

  test('an edge catches on what is near, and shows on what', () => {
    const shown: (Snapped | null)[] = []
    const { run, dispatch } = open()
    // 520 pixels lead to 100 000; 4 pixels beside it is near enough.
    const after = run(
      moveGesture(dispatch, place([{ frame: 100_000, what: 'the gate' }], shown), ['b'], () => 0, false),
      { dx: 516, dy: 0 },
    )
    expect(after.regions.b!.start).toBe(100_000)
    expect([shown[0]!.what, shown.at(-1)]).toEqual(['the gate', null])
  })

  test('the automation under a region goes along where it travels', () => {
    const { run, dispatch } = open()
    const after = run(
      moveGesture(dispatch, place(), ['a'], () => 0, true),
      { dx: 1000, dy: 0, shift: true },
    )
    expect(after.regions.a!.start).toBe(100_000)
    expect(after.tracks.t!.lanes.volume!.knots.some((k) => k.frame === 140_000 && k.value === 0.3)).toBe(true)
  })

  test('trimming hides sound and brings it out again, as far as there is any; given up, all is as it was', () => {
    const { run, dispatch } = open()
    const trimmed = run(
      trimGesture(dispatch, place(), ['a'], 'start', 0),
      { dx: 30, dy: 0, shift: true },
      { dx: 60, dy: 0, shift: true },
    ).regions.a!
    expect(trimmed).toMatchObject({ start: 6000, offset: 16_000, length: 42_000 })
    const out = open()
    expect(
      out.run(trimGesture(out.dispatch, place(), ['c'], 'end', 68_000), { dx: 20_000, dy: 0, shift: true })
        .regions.c!.length,
    ).toBe(480_000)
    open().giveUp(trimGesture(dispatch, place(), ['a'], 'end', 48_000), { dx: -100, dy: 0 })
  })

  test('with Ctrl the sound moves inside its edges', () => {
    const { run, dispatch } = open()
    expect(run(slipGesture(dispatch, place(), ['a']), { dx: 40, dy: 0 }).regions.a).toMatchObject({
      start: 0,
      length: 48_000,
      offset: 6000,
    })
  })
})

describe('sweeping', () => {
  test('a box selects the regions that it touches besides those that are kept', () => {
    const { dispatch, selection: state } = open()
    const boxes: unknown[] = []
    const gesture = sweepGesture(dispatch, {
      view,
      rows: [[session.regions.a!, session.regions.b!], [session.regions.c!]],
      start: { x: 600, y: 10 },
      kept: ['c'],
      show: (box) => boxes.push(box),
    })
    gesture.move({ ...held, dx: -50, dy: 20 })
    expect([...state().regionIds].sort()).toEqual(['b', 'c'])
    gesture.move({ ...held, dx: -300, dy: 20 })
    expect([...state().regionIds].sort()).toEqual(['a', 'b', 'c'])
    gesture.cancel()
    expect([state().regionIds, boxes.at(-1)]).toEqual([['c'], null])
  })

  test('a range goes either way, not before the start, and is nothing where the hand has not moved', () => {
    const { dispatch, selection: state } = open()
    const free = (frame: number) => Math.round(frame)
    const gesture = rangeGesture(dispatch, view, 50, { from: 1, to: 2 }, free)
    gesture.move({ ...held, dx: 100, dy: 0 })
    expect(state().range).toEqual({ from: 5000, to: 15_000 })
    gesture.move({ ...held, dx: -80, dy: 0 })
    expect(state().range).toEqual({ from: 0, to: 5000 })
    gesture.move({ ...held, dx: 1, dy: 0 })
    expect(state().range).toBe(null)
    gesture.cancel()
    expect(state().range).toEqual({ from: 1, to: 2 })
  })
})
