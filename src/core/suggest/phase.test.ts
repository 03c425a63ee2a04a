import fc from 'fast-check'
import { seededRandom } from '../units/random'
import { phaseRelation } from './phase'

/** Noise with some bass, as a room has it. */
function sound(frames: number, seed: number): Float32Array {
  const random = seededRandom(seed)
  let y = 0
  return Float32Array.from({ length: frames }, () => (y = 0.8 * y + 0.2 * (random() - 0.5)))
}

test('a sound that comes later, inverted or not, is found to the frame', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -200, max: 200 }),
      fc.boolean(),
      fc.integer({ min: 1, max: 1000 }),
      (late, inverted, seed) => {
        const whole = sound(9000, seed)
        const x = whole.slice(400, 8400)
        const y = whole.slice(400 - late, 8400 - late).map((v) => (inverted ? -v : v))
        const found = phaseRelation(x, y, 240)
        // The second is `late` frames late: earlier by as much they agree.
        expect(found.shift + late).toBe(0)
        expect(found.inverted).toBe(inverted)
        expect(found.best).toBeCloseTo(1, 6)
      },
    ),
    { numRuns: 25 },
  )
})

test('sounds that agree as they are need nothing, and silence has no relation', () => {
  const x = sound(4000, 4)
  expect(phaseRelation(x, x, 100)).toMatchObject({ shift: 0, inverted: false })
  expect(
    phaseRelation(
      x,
      x.map((v) => -v),
      100,
    ),
  ).toMatchObject({ now: expect.closeTo(-1, 6) as number, shift: 0, inverted: true })
  expect(phaseRelation(x, new Float32Array(4000), 100)).toEqual({
    now: 0,
    shift: 0,
    inverted: false,
    best: 0,
  })
})
