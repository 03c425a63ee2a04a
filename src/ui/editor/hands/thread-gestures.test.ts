import { valueAt } from '../../../core/curve/knots'
import { stepsOf } from '../../../core/curve/thread'
import type { Weave } from '../../../core/curve/weave'
import { createTrack } from '../../../core/model/create'
import { testRegion, testSession } from '../../../core/model/fixture.test-util'
import { checkSession } from '../../../core/model/check/rules'
import type { Knot, Session } from '../../../core/model/session'
import { dbToHeight, heightToDb, UNITY_HEIGHT } from '../../../core/units/taper'
import { opened } from '../../../store/session-slice'
import { createStore } from '../../../store/store'
import { viewChanged } from '../../../store/view'
import type { Gesture, Move } from './gesture'
import { bendGesture, knotGesture, rangeOfKnotsGesture, stretchGesture } from './knot-gestures'
import { drawGesture, plateauGesture } from './draw-gestures'
import { STOP, weaveFrameGesture, weaveGesture, type WeavePart } from './weave-gestures'
import { knotSweepGesture } from './sweep-gestures'
import { type ThreadTools } from './thread-gesture'
import { knotPlaces, lanePlace, regionPlace, valueToY, type ThreadPlace } from '../drawing/thread-place'

beforeAll(() => {
  Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } })
})

/**
 * 100 frames a pixel: a second is 480 pixels. Rows are 84 pixels high; lanes have 5 above and below, so that
 * the whole range is 74 pixels.
 */
const view = { left: 0, framesPerPixel: 100, top: 0, width: 2000, height: 400, heights: [84, 84, 84, 84] }
const knot = (frame: number, value: number, more: Partial<Knot> = {}): Knot => ({
  frame,
  value,
  shape: 'line',
  bend: 0,
  ...more,
})
const held: Omit<Move, 'dx' | 'dy'> = { x: 0, fine: false, shift: false, ctrl: false }

/** A track with a lane, in a store; `place` is the lane's, `run` does a gesture and returns the knots that it left. */
function open(knots: Knot[], lane: 'volume' | 'pan' = 'volume', more: Partial<Session> = {}) {
  const given = testSession(
    [testRegion('a', { length: 96_000, offset: 1000 })],
    { lanes: { [lane]: { knots, bypassed: false, visible: true } } },
    more,
  )
  const store = createStore()
  store.dispatch(opened({ session: given, steps: [], done: 0, savedAt: 0, readOnly: false }))
  store.dispatch(viewChanged(view))
  const said: (string | null)[] = []
  const tools: ThreadTools = {
    dispatch: store.dispatch,
    sampleRate: 48000,
    say: (text) => void said.push(text),
    catchFrame: (frame) => Math.round(frame),
    start: (frame) => frame,
  }
  const session = () => store.getState().session.session!
  const knotsNow = (trackId = 't') => session().tracks[trackId]!.lanes[lane]?.knots ?? []
  const place = (of = session()): ThreadPlace => lanePlace(of, view, 't', lane, 0, 84)
  return {
    store,
    tools,
    said,
    session,
    knotsNow,
    place,
    given,
    run(gesture: Gesture | null, ...moves: (Partial<Move> & { dx: number; dy: number })[]) {
      for (const move of moves) gesture!.move({ ...held, ...move })
      gesture!.end()
      expect(checkSession(session())).toEqual([])
      expect(said.at(-1)).toBe(null)
      return knotsNow()
    },
    steps: () => store.getState().session.steps.map((s) => s.label),
  }
}

const level = (k: Knot | undefined) => Math.round(heightToDb(k!.value) * 100) / 100

describe('a knot', () => {
  const three = [knot(4800, 0.5), knot(9600, 0.5), knot(14_400, 0.5)]

  test('goes along by frames and up by heights, as one step however many movements it took', () => {
    const { run, tools, place, steps, said } = open(three)
    // 10 pixels are 1000 frames; 7.4 of 74 pixels are a tenth of the range.
    const after = run(knotGesture(tools, place(), [1], 1), { dx: 3, dy: 5 }, { dx: 10, dy: -7.4 })
    expect(after.map((k) => [k.frame, Math.round(k.value * 1e6) / 1e6])).toEqual([
      [4800, 0.5],
      [10_600, 0.6],
      [14_400, 0.5],
    ])
    expect(steps()).toEqual(['Move knot in volume of “Track”'])
    // A height of 0.6 is 12 + 60 log 0.6 dB.
    expect(said.at(-2)).toBe('−1.3 dB at 0:00.221')
  })

  test('with Alt goes a tenth of the way; it never passes its neighbours', () => {
    const { run, tools, place } = open(three)
    expect(run(knotGesture(tools, place(), [1], 1), { dx: 10, dy: -7.4, fine: true })[1]).toMatchObject({
      frame: 9700,
      value: expect.closeTo(0.51, 9),
    })
    expect(run(knotGesture(tools, place(), [1], 1), { dx: 900, dy: 0 })[1]!.frame).toBe(14_400)
  })

  test('several keep their distances, and stop together where the first reaches an end', () => {
    const { run, tools, place, steps } = open([knot(0, 0.2), knot(4800, 0.9), knot(9600, 0.4)])
    expect(
      run(knotGesture(tools, place(), [1, 2], 1), { dx: 0, dy: -40 }).map(
        (k) => Math.round(k.value * 1e6) / 1e6,
      ),
    ).toEqual([0.2, 1, 0.5])
    expect(steps()).toEqual(['Move 2 knots in volume of “Track”'])
  })

  test('dragged far off is let go, and comes back when the hand does; given up, nothing has happened', () => {
    const { run, tools, place, knotsNow, steps, said } = open(three)
    const gesture = knotGesture(tools, place(), [1], 1)
    gesture.move({ ...held, dx: 0, dy: 200 })
    expect([knotsNow().length, said.at(-1)]).toEqual([2, 'let go: it is removed'])
    gesture.move({ ...held, dx: 0, dy: 1 })
    expect(knotsNow()).toHaveLength(3)
    gesture.cancel()
    expect([knotsNow(), steps()]).toEqual([three, []])
    expect(run(knotGesture(tools, place(), [1], 1), { dx: 0, dy: -120 })).toHaveLength(2)
  })

  test('several dragged far off are all removed, by one of them or by the box about them', () => {
    const knots = (shape: (tools: ThreadTools, at: ThreadPlace) => Gesture) => {
      const { run, tools, place } = open(three)
      return run(shape(tools, place()), { dx: 0, dy: 200 }).map((k) => k.frame)
    }
    expect(knots((tools, at) => knotGesture(tools, at, [0, 2], 2))).toEqual([9600])
    expect(knots((tools, at) => rangeOfKnotsGesture(tools, at, [0, 2], 'move'))).toEqual([9600])
  })

  test('catches where the tools say, unless it has hardly moved', () => {
    const { tools, place, run } = open(three)
    const asked: boolean[] = []
    const catching = {
      ...tools,
      catchFrame: (frame: number, free: boolean) => (asked.push(free), free ? frame : 12_000),
    }
    expect(run(knotGesture(catching, place(), [1], 1), { dx: 2, dy: 4 }, { dx: 20, dy: 4 })[1]!.frame).toBe(
      12_000,
    )
    expect(asked).toEqual([true, false])
    // A neighbour holds it back: what was caught is let go, so that no line tells otherwise.
    asked.length = 0
    expect(run(knotGesture(catching, place(), [0], 0), { dx: 20, dy: 4 }).map((k) => k.frame)).toEqual([
      12_000, 12_000, 14_400,
    ])
    expect(
      run(
        knotGesture(
          { ...catching, catchFrame: (frame, free) => (asked.push(free), free ? frame : 14_000) },
          place(),
          [0],
          0,
        ),
        { dx: 90, dy: 4 },
      )[0]!.frame,
    ).toBe(12_000)
    expect(asked).toEqual([false, false, true])
  })
})

describe('a stretch', () => {
  test('moves with both its knots; before the first knot that one moves alone', () => {
    const { run, tools, place } = open([knot(4800, 0.5), knot(9600, 0.6), knot(14_400, 0.7)])
    expect(
      run(stretchGesture(tools, place(), 7000), { dx: 50, dy: 7.4 }).map(
        (k) => Math.round(k.value * 100) / 100,
      ),
    ).toEqual([0.4, 0.5, 0.7])
    expect(
      run(stretchGesture(tools, place(), 100), { dx: 0, dy: -7.4 }).map(
        (k) => Math.round(k.value * 100) / 100,
      ),
    ).toEqual([0.5, 0.5, 0.7])
  })

  test('of a lane without knots makes its first, from where the fader stands', () => {
    const { run, tools, place } = open([])
    const [first, ...more] = run(stretchGesture(tools, place(), 9600), { dx: 0, dy: 7.4 })
    expect(more).toEqual([])
    expect(first).toMatchObject({ frame: 9600, value: expect.closeTo(UNITY_HEIGHT - 0.1, 9) })
  })

  test('bows up on the screen when it is bent up, whether it rises or falls, up to 100 %', () => {
    const { run, tools, place, said } = open([knot(0, 0.2), knot(9600, 0.8), knot(19_200, 0.2)])
    const middle = (frame: number) => valueAt(place().kind, place().knots, frame)
    // A fifth of the box up is two fifths of the bend.
    run(bendGesture(tools, place(), 4800), { dx: 0, dy: -14.8 })
    expect([place().knots[0]!.bend, said.at(-2)]).toEqual([-0.4, 'bend -40 %'])
    expect(middle(4800)).toBeGreaterThan(0.5)
    run(bendGesture(tools, place(), 14_400), { dx: 0, dy: -500 })
    expect(place().knots[1]!.bend).toBe(1)
    expect(middle(14_400)).toBeGreaterThan(0.5)
    expect(bendGesture(tools, place(), 30_000)).toBe(null)
  })
})

describe('the box about selected knots', () => {
  const slope = [knot(0, 0.2), knot(10_000, 0.4), knot(20_000, 0.6), knot(30_000, 0.2)]

  test('its inside moves them, its top scales them about the lowest, or with Shift about 0 dB', () => {
    const { run, tools, place } = open(slope)
    expect(
      run(rangeOfKnotsGesture(tools, place(), [1, 2], 'move'), { dx: 30, dy: 7.4 }).map(
        (k) => Math.round(k.value * 1e4) / 1e4,
      ),
    ).toEqual([0.2, 0.3, 0.5, 0.2])
    // The upper one, 0.2 above the lower, is taken to 0.3 above it.
    expect(
      run(rangeOfKnotsGesture(tools, place(), [1, 2], 'top'), { dx: 0, dy: -7.4 }).map(
        (k) => Math.round(k.value * 1e4) / 1e4,
      ),
    ).toEqual([0.2, 0.3, 0.6, 0.2])
    const [, low, high] = run(rangeOfKnotsGesture(tools, place(), [1, 2], 'top'), {
      dx: 0,
      dy: 74 * (0.6 - UNITY_HEIGHT),
      shift: true,
    })
    // Dragged onto 0 dB itself nothing of the distance is left.
    expect([low!.value, high!.value]).toEqual([
      expect.closeTo(UNITY_HEIGHT, 9),
      expect.closeTo(UNITY_HEIGHT, 9),
    ])
  })

  test('its sides stretch them in time about the other side, not past the knots beside them', () => {
    const { run, tools, place, said } = open(slope)
    expect(
      run(rangeOfKnotsGesture(tools, place(), [1, 2], 'right'), { dx: 50, dy: 0 }).map((k) => k.frame),
    ).toEqual([0, 10_000, 25_000, 30_000])
    expect(said.at(-2)).toMatch(/^31[23](\.5)? ms$/)
    expect(
      run(rangeOfKnotsGesture(tools, place(), [1, 2], 'left'), { dx: 50, dy: 0 }).map((k) => k.frame),
    ).toEqual([0, 15_000, 25_000, 30_000])
    expect(
      run(rangeOfKnotsGesture(tools, place(), [1, 2], 'right'), { dx: 900, dy: 0 }).map((k) => k.frame),
    ).toEqual([0, 15_000, 30_000, 30_000])
  })
})

describe('a plateau', () => {
  test('has four knots, with shoulders outside the sweep, whichever way it is swept, and a fifth of a dB a pixel', () => {
    for (const [start, dx] of [
      [4800, 96],
      [14_400, -96],
    ] as const) {
      const { run, tools, place, steps, said } = open([])
      const after = run(plateauGesture(tools, place(), start, 480), { dx: dx / 2, dy: -3 }, { dx, dy: -10 })
      expect(after.map((k) => [k.frame, level(k)])).toEqual([
        [4320, 0],
        [4800, 2],
        [14_400, 2],
        [14_880, 0],
      ])
      expect(said.at(-2)).toBe('+2.0 dB for 0:00.200')
      expect(steps()).toEqual(['Plateau in volume of “Track”'])
    }
  })

  test('of a short sweep has shoulders of a tenth of it, and catches only on what is within two pixels', () => {
    const { run, tools, place } = open([])
    const asked: (string | undefined)[] = []
    const catching = (frame: number, on?: string) => (asked.push(on), Math.round(frame))
    const listening: ThreadTools = {
      ...tools,
      catchFrame: (frame, _free, _others, on) => catching(frame, on),
      start: catching,
    }
    const after = run(plateauGesture(listening, place(), 4800, 480), { dx: 12, dy: -10 })
    expect(after.map((k) => k.frame)).toEqual([4680, 4800, 6000, 6120])
    expect(asked).toEqual(['near', 'near'])
    asked.length = 0
    run(plateauGesture(listening, place(), 10_000, 480), { dx: 96, dy: -10 })
    expect(asked).toEqual(['places', 'places'])
  })

  test('stays selected between its feet, so that its level can be typed', () => {
    const { run, tools, place, store } = open([knot(9600, 0.5)])
    run(plateauGesture(tools, place(), 4800, 480), { dx: 96, dy: -10 })
    const { knots } = place()
    expect(store.getState().selection.knots?.indices.map((i) => knots[i]!.frame)).toEqual([
      4800, 9600, 14_400,
    ])
    run(plateauGesture(tools, place(), 20_000, 0), { dx: 96, dy: -10 })
    expect(store.getState().selection.knots?.indices.map((i) => place().knots[i]!.frame)).toEqual([
      20_000, 29_600,
    ])
  })

  test('of a pan goes as far as the pointer does', () => {
    const { run, tools, place, said } = open([], 'pan')
    // 18.5 of 74 pixels are a quarter of the way from L100 to R100.
    const after = run(plateauGesture(tools, place(), 4800, 480), { dx: 96, dy: 18.5 })
    expect(after.map((k) => [k.frame, k.value])).toEqual([
      [4320, 0],
      [4800, 0.5],
      [14_400, 0.5],
      [14_880, 0],
    ])
    expect(said.at(-2)).toBe('R 50 for 0:00.200')
  })

  test('with Ctrl is level inside, whatever the thread did there; a press without a sweep does nothing', () => {
    const { run, tools, place, steps } = open([knot(0, dbToHeight(-12)), knot(20_000, dbToHeight(0))])
    const swept = run(plateauGesture(tools, place(), 5000, 0), { dx: 0.01, dy: -10 })
    expect([swept.length, steps()]).toEqual([2, []])
    const inside = run(plateauGesture(tools, place(), 5000, 480), { dx: 100, dy: 0, ctrl: true }).filter(
      (k) => k.frame >= 5000 && k.frame <= 15_000,
    )
    expect(new Set(inside.map((k) => k.value)).size).toBe(1)
  })

  test('on a region stays inside it, in frames of its source', () => {
    const { tools, session, store } = open([])
    const place = regionPlace(session(), view, session().regions.a!, 0)
    const gesture = plateauGesture(tools, place, 86_400, 480)
    gesture.move({ ...held, dx: 900, dy: 10 })
    gesture.end()
    const { knots } = Object.values(store.getState().session.session!.gainThreads)[0]!
    expect(knots.map((k) => [k.frame, level(k)])).toEqual([
      [86_920, 0],
      [87_400, -2],
      [97_000, -2],
      [97_000, 0],
    ])
  })
})

describe('drawing', () => {
  const start = (place: ThreadPlace, frame: number, value: number) => ({
    frame,
    x: frame / 100,
    y: valueToY(place, value),
  })

  test('from beyond an end of the sound it begins there, at the height where the hand passed it, without a step', () => {
    const { session, tools, store } = open([])
    // The region lasts from 86 400 on this row; the stroke begins 40 pixels before its start.
    const at = regionPlace(session(), view, session().regions.a!, 0)
    const stroke = drawGesture(
      tools,
      at,
      { frame: at.from - 4000, x: (at.from - 4000) / 100, y: valueToY(at, 0.2) },
      0.5,
      () => undefined,
    )
    stroke.move({ ...held, dx: 40, dy: -20 })
    stroke.move({ ...held, dx: 140, dy: -20 })
    stroke.end()
    const { knots } = Object.values(store.getState().session.session!.gainThreads)[0]!
    expect(stepsOf(knots)).toEqual([])
  })

  test('the line follows the hand over every pixel, is thinned, and says what thinning did', () => {
    const { run, tools, place, said } = open([])
    const told: [number, number][] = []
    const at = place()
    // Down a slope in four movements and along: a straight line needs two knots, its bend a third.
    const gesture = drawGesture(tools, at, start(at, 9600, 0.5), 0.5, ({ drawn }, points) =>
      told.push([drawn, points]),
    )
    const after = run(gesture, { dx: 20, dy: 4 }, { dx: 40, dy: 8 }, { dx: 80, dy: 16 }, { dx: 120, dy: 16 })
    expect(told).toEqual([[expect.any(Number), 121]])
    expect(told[0]![0]).toBeLessThanOrEqual(5)
    const slope = (frame: number) => valueAt(at.kind, after, frame)
    for (const [dx, dy] of [
      [10, 2],
      [40, 8],
      [70, 14],
      [100, 16],
    ] as const)
      expect(Math.abs(heightToDb(slope(9600 + dx * 100)) - heightToDb(0.5 - dy / 74))).toBeLessThan(0.51)
    // Outside it nothing has changed.
    expect([slope(9500), slope(21_700)]).toEqual([
      expect.closeTo(UNITY_HEIGHT, 9),
      expect.closeTo(UNITY_HEIGHT, 9),
    ])
    expect(said.at(-2)).toMatch(/dB$/)
  })

  test('going back draws over; with Shift it is a straight line, with Ctrl an S-curve', () => {
    const drawn = (
      ...moves: Parameters<ReturnType<typeof open>['run']> extends [unknown, ...infer Moves] ? Moves : never
    ) => {
      const { run, tools, place } = open([])
      const at = place()
      return {
        knots: run(
          drawGesture(tools, at, start(at, 9600, 0.5), 0, () => undefined),
          ...moves,
        ),
        kind: at.kind,
      }
    }
    const back = drawn({ dx: 40, dy: 0 }, { dx: 10, dy: 20 })
    expect(valueAt(back.kind, back.knots, 9600 + 1500)).toBeCloseTo(0.5 - (20 - (20 * 5) / 30) / 74, 2)
    const straight = drawn({ dx: 40, dy: 30 }, { dx: 100, dy: 20, shift: true })
    expect(valueAt(straight.kind, straight.knots, 9600 + 5000)).toBeCloseTo(0.5 - 10 / 74, 2)
    expect(straight.knots.every((k) => k.shape === 'line')).toBe(true)
    const curve = drawn({ dx: 100, dy: 20, ctrl: true })
    expect(curve.knots.some((k) => k.shape === 's-curve')).toBe(true)
    expect(valueAt(curve.kind, curve.knots, 9600 + 5000)).toBeCloseTo(0.5 - 10 / 74, 2)
  })

  test('on several tracks the others keep their distance, in one step', () => {
    const two = {
      tracks: { t: createTrack('t', 'Track', 1, 0), u: { ...createTrack('u', 'Other', 1, 1), volumeDb: -6 } },
      trackIds: ['t', 'u'],
    }
    const { tools, session, run, knotsNow, steps, said } = open([], 'volume', two)
    const [at, other] = ['t', 'u'].map((id) => lanePlace(session(), view, id, 'volume', 0, 84)) as [
      ThreadPlace,
      ThreadPlace,
    ]
    run(
      drawGesture(tools, at, start(at, 9600, dbToHeight(-3)), 0.5, () => undefined, [other]),
      { dx: 100, dy: 0 },
    )
    const levels = ['t', 'u'].map(
      (id) => Math.round(heightToDb(valueAt(at.kind, knotsNow(id), 14_400)) * 100) / 100,
    )
    expect(levels).toEqual([-3, -9])
    expect(steps()).toEqual(['Draw in 2 threads'])
    expect(said.at(-2)).toMatch(/, 2 tracks$/)
  })
})

describe('a weave', () => {
  const weave: Weave = {
    shape: 'square',
    period: { beats: 1 },
    low: 0,
    high: 1,
    phase: 0,
    duty: 0.5,
    seed: 1,
  }
  const tempo = [{ beat: 0, bpm: 120, beatsPerBar: 4, beatUnit: 4 }]

  test('goes from the height where the stroke starts to the one where it is, on the beats', () => {
    const { run, tools, place, store } = open([], 'volume', { tempo })
    const at = place()
    // Half a second a beat: 24 000 frames. Two beats from the start.
    const after = run(weaveGesture(tools, at, { frame: 0, y: valueToY(at, 0.4) }, weave, tempo), {
      dx: 480,
      dy: 14.8,
    })
    expect(
      after.filter((k) => k.shape === 'hold').map((k) => [k.frame, Math.round(k.value * 1e6) / 1e6]),
    ).toEqual([
      [0, 0.4],
      [12_000, 0.2],
      [24_000, 0.4],
      [36_000, 0.2],
    ])
    expect(store.getState().selection.pickedWeave).toEqual({ ref: at.ref, from: 0 })
    expect(place().weaves).toMatchObject([{ from: 0, to: 48_000, shape: 'square' }])
    expect(store.getState().preferences.weave).toMatchObject({
      low: expect.closeTo(0.2, 9),
      high: expect.closeTo(0.4, 9),
    })
  })

  test('begins and ends on the grid alone, whatever else is near', () => {
    const { run, tools, place } = open([], 'volume', { tempo })
    const asked: (string | undefined)[] = []
    const catching = (frame: number, on?: string) => (asked.push(on), Math.round(frame))
    const listening: ThreadTools = {
      ...tools,
      catchFrame: (frame, _free, _others, on) => catching(frame, on),
      start: catching,
    }
    run(weaveGesture(listening, place(), { frame: 0, y: valueToY(place(), 0.4) }, weave, tempo), {
      dx: 480,
      dy: 14.8,
      ctrl: true,
    })
    expect(asked).toEqual(['grid', 'grid'])
  })

  test.each([
    // 100 frames a pixel and 1/74 of the height a pixel, up on the screen is more.
    ['move', { dx: 240, dy: -7.4 }, { from: 24_000, to: 72_000, origin: 24_000, low: 0.3, high: 0.5 }],
    ['top', { dx: 50, dy: -7.4 }, { from: 0, low: 0.2, high: 0.5 }],
    ['bottom', { dx: 0, dy: 7.4 }, { low: 0.1, high: 0.4 }],
    ['left', { dx: 120, dy: 30 }, { from: 12_000, to: 48_000, origin: 0, low: 0.2, high: 0.4 }],
    ['right', { dx: -480, dy: 0 }, { from: 0, to: 16 }],
  ] as const)('is changed by the %s of its frame', (part: WeavePart, move, expected) => {
    const { run, tools, place, store } = open([], 'volume', { tempo })
    run(weaveGesture(tools, place(), { frame: 0, y: valueToY(place(), 0.4) }, weave, tempo), {
      dx: 480,
      dy: 14.8,
    })
    run(weaveFrameGesture(tools, place(), place().weaves[0]!, part), move)
    const close = Object.fromEntries(
      Object.entries(expected).map(([key, value]) => [key, expect.closeTo(value, 9) as number]),
    )
    expect(place().weaves).toMatchObject([close])
    expect(store.getState().selection.pickedWeave?.from).toBe(place().weaves[0]!.from)
  })

  test('stays at 0 dB until the hand goes well past the stop; pans have none', () => {
    const highest = (lane: 'volume' | 'pan', past: number) => {
      const { run, tools, place } = open([], lane)
      const at = place()
      const zero = lane === 'volume' ? UNITY_HEIGHT : 0
      const from = valueToY(at, zero) + 20
      run(weaveGesture(tools, at, { frame: 0, y: from }, weave, tempo), { dx: 480, dy: -20 - past })
      return place().knots.reduce(
        (most, k) => (lane === 'volume' ? Math.max(most, k.value) : Math.min(most, k.value)),
        zero,
      )
    }
    expect(highest('volume', STOP - 1)).toBeCloseTo(UNITY_HEIGHT, 9)
    expect(highest('volume', STOP + 4)).toBeCloseTo(UNITY_HEIGHT + 4 / 74, 6)
    expect(highest('pan', 10)).toBeCloseTo(-20 / 74, 6)
  })
})

test('a box swept over a thread selects the knots in it, adds to those that are kept, and gives them back when it is given up', () => {
  const { tools, place, store } = open([knot(4800, 0.5), knot(9600, 0.5), knot(14_400, 0.5)])
  const boxes: unknown[] = []
  const sweep = (kept: number[]) =>
    knotSweepGesture(
      tools,
      place(),
      { x: 60, y: 0 },
      kept,
      () => knotPlaces(view, place()),
      (box) => boxes.push(box),
    )
  const chosen = () => store.getState().selection.knots?.indices ?? []
  sweep([]).move({ ...held, dx: 50, dy: 80 })
  expect(chosen()).toEqual([1])
  expect(boxes.at(-1)).toEqual({ x: 60, y: 0, width: 50, height: 80 })
  const more = sweep([0])
  more.move({ ...held, dx: 100, dy: 80 })
  expect(chosen()).toEqual([0, 1, 2])
  more.cancel()
  expect([chosen(), boxes.at(-1)]).toEqual([[0], null])
})
