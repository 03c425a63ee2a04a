import { threadOf, type ThreadRef } from '../../../core/edit'
import { testRegion, testSession } from '../../../core/model/fixture.test-util'
import type { Knot } from '../../../core/model/session'
import { heightToDb } from '../../../core/units/taper'
import { opened } from '../../../store/session-slice'
import { createStore } from '../../../store/store'
import { stepKnots, type KnotStep } from './step-knots'

beforeAll(() => {
  Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } })
})

const knot = (frame: number, value: number): Knot => ({ frame, value, shape: 'line', bend: 0 })
const three = [knot(40_000, 0.5), knot(80_000, 0.5), knot(160_000, 0.5)]
const volume: ThreadRef = { kind: 'lane', trackId: 't', lane: 'volume' }

/**
 * A session at 48 kHz and 60 bpm, a beat a second, whose lanes and region threads have three knots; what a
 * step leaves of a thread.
 */
function stepped(
  ref: ThreadRef,
  step: KnotStep,
  framesPerPixel: number,
  reversed = false,
  given = three,
  indices: readonly number[] = [1],
): readonly Knot[] {
  const lane = { knots: given, bypassed: false, visible: true }
  const base = testSession([testRegion('a', { length: 96_000, offset: 1000, reversed, gainThreadId: 'g' })], {
    lanes: { volume: lane, pan: { ...lane, knots: given.map((k) => ({ ...k, value: 0 })) } },
  })
  const session = {
    ...base,
    tempo: [{ beat: 0, bpm: 60, beatsPerBar: 4, beatUnit: 4 }],
    gainThreads: { g: { id: 'g', knots: given } },
  }
  const store = createStore()
  store.dispatch(opened({ session, steps: [], done: 0, savedAt: 0, readOnly: false }))
  store.dispatch(stepKnots(ref, indices, step, framesPerPixel))
  return threadOf(store.getState().session.session!, ref)!.knots
}

test.each([
  [
    'onto the next line of the grid: the finest that leaves 12 pixels, here half a beat of 24000',
    { time: 1, fine: false },
    1000,
    84_000,
  ],
  ['to the left', { time: -1, fine: false }, 1000, 72_000],
  ['finely by a millisecond', { time: 1, fine: true }, 1000, 80_000 + 48],
  ['by 8 frames where frames are seen', { time: 1, fine: false }, 0.5, 80_008],
  ['finely by one there', { time: -1, fine: true }, 0.5, 79_999],
] as const)('a knot goes along %s', (_how, step, framesPerPixel, frame) => {
  expect(stepped(volume, step, framesPerPixel).map((k) => k.frame)).toEqual([40_000, frame, 160_000])
})

test('of several, one that lies on the grid already goes on to the next line, and takes the others along', () => {
  const plateau = [knot(70_000, 0.5), knot(72_000, 0.6), knot(79_000, 0.6), knot(81_000, 0.5)]
  expect(
    stepped(volume, { time: 1, fine: false }, 1000, false, plateau, [0, 1, 2, 3]).map((k) => k.frame),
  ).toEqual([82_000, 84_000, 91_000, 93_000])
})

test('on a reversed region the screen’s right is the source’s left', () => {
  expect(stepped({ kind: 'region', regionId: 'a' }, { time: 1, fine: true }, 1000, true)[1]!.frame).toBe(
    80_000 - 48,
  )
})

test('up is up on the screen: 1 dB louder, or 5 hundredths to the left, finely a tenth of it', () => {
  const level = (step: KnotStep) => heightToDb(stepped(volume, step, 1000)[1]!.value) - heightToDb(0.5)
  expect(level({ level: 1, fine: false })).toBeCloseTo(1, 9)
  expect(level({ level: -1, fine: true })).toBeCloseTo(-0.1, 9)
  const pan = (step: KnotStep) => stepped({ kind: 'lane', trackId: 't', lane: 'pan' }, step, 1000)[1]!.value
  expect(pan({ level: 1, fine: false })).toBeCloseTo(-0.05, 9)
  expect(pan({ level: -1, fine: true })).toBeCloseTo(0.005, 9)
})
