import { alignCrossfade } from '../edit'
import { seededRandom } from '../units/random'
import { testRegion, testSession } from '../model/fixture.test-util'
import { overlapRelation } from '../render'
import { bestSlip } from './slip'

test('the shift by which two takes of one sound lie apart is found and mended', () => {
  const random = seededRandom(4)
  const noise = Float32Array.from({ length: 480000 }, () => random() - 0.5)
  const reader = {
    read: (_id: string, _c: number, frame: number, count: number, out: Float32Array) =>
      void out.set(noise.subarray(frame, frame + count)),
  }
  // The right region plays 137 frames early.
  const session = {
    ...testSession([
      testRegion('a', { length: 60000 }),
      testRegion('b', { start: 50000, offset: 50137, length: 50000 }),
    ]),
    crossfades: {
      x: {
        id: 'x',
        leftId: 'a',
        rightId: 'b',
        law: 'level' as const,
        out: { curve: 'linear' as const, bend: 0 },
        in: { curve: 'linear' as const, bend: 0 },
      },
    },
  }
  const slip = bestSlip(session, session.crossfades.x, reader)
  expect(slip.byFrames).toBe(137)
  expect(Math.abs(slip.before)).toBeLessThan(0.1)
  expect(slip.after).toBeCloseTo(1, 6)
  const aligned = alignCrossfade.apply(session, { crossfadeId: 'x', byFrames: slip.byFrames })
  expect(overlapRelation(aligned, aligned.crossfades.x!, reader).correlation).toBeCloseTo(1, 6)
})
