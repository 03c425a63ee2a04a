import { testRegion, testSession } from '../model/fixture.test-util'
import type { Knot, Session, Track } from '../model/session'
import { planSession } from './plan/plan'
import { Renderer } from './graph/run'

const knot = (frame: number, value: number, shape: Knot['shape'] = 'hold'): Knot => ({
  frame,
  value,
  shape,
  bend: 0,
})
const lane = (...knots: Knot[]) => ({ knots, bypassed: false, visible: true })

/** What the meter of a track says of the first `frames` frames of constant sounds, a level a channel. */
function metered(levels: number[], track: Partial<Track>, frames = 1024): number[] {
  const plain = testSession([testRegion('a')], { channels: levels.length as 1 | 2, ...track })
  const session: Session = {
    ...plain,
    sources: { s: { ...plain.sources.s!, channels: levels.length as 1 | 2 } },
  }
  const reader = {
    read: (_id: string, channel: number, _frame: number, count: number, out: Float32Array) =>
      void out.fill(levels[channel]!, 0, count),
  }
  let peaks: number[] = []
  new Renderer(planSession(session), reader).render(
    0,
    new Float32Array(frames),
    new Float32Array(frames),
    (_track, left, right) => void (peaks = [left, right]),
  )
  return peaks
}

const close = (expected: number[]) => expected.map((x) => expect.closeTo(x, 6) as number)

test('a pan that moves inside a block: each side is measured where it is loudest', () => {
  // Hard left for 512 frames, then hard right: both sides carry the whole sound for a while.
  expect(metered([0.8], { lanes: { pan: lane(knot(0, -1), knot(512, 1)) } })).toEqual(close([0.8, 0.8]))
  // A balance from the left to the centre: the right side comes up to its own level at the end.
  const moving = metered([0.5, 0.4], { lanes: { pan: lane(knot(0, -1, 'line'), knot(1023, 0)) } })
  expect(moving).toEqual(close([0.5, 0.4]))
})

test('a pair is measured as it is heard, both channels on both sides', () => {
  const pair = (left: number, right: number) =>
    metered([0.5, -0.25], {
      panMode: 'pair',
      lanes: { panLeft: lane(knot(0, left)), panRight: lane(knot(0, right)) },
    })
  // Hard to the right with both: 0.5 - 0.25 there, nothing on the left.
  expect(pair(1, 1)).toEqual(close([0, 0.25]))
  // Exchanged.
  expect(pair(1, -1)).toEqual(close([0.25, 0.5]))
  // Both in the centre: -3 dB of each, and of opposite sign.
  expect(pair(0, 0)).toEqual(close([0.25 * Math.SQRT1_2, 0.25 * Math.SQRT1_2]))
  expect(metered([0.5, -0.25], { panMode: 'pair' })).toEqual(close([0.5, 0.25]))
})

test('volume, trim and polarity count', () => {
  const [left] = metered([0.5], { trimDb: 6, polarity: -1, volumeDb: -3, pan: -1 })
  expect(left).toBeCloseTo(0.5 * 10 ** (3 / 20), 6)
  const falling = metered([0.5], { pan: -1, lanes: { volume: lane(knot(0, 0.63096), knot(100, 0)) } })
  expect(falling[0]).toBeCloseTo(0.5, 4)
})
