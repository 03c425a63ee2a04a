import fc from 'fast-check'
import { partToRender, renderInPlace } from '../edit'
import { testRegion, testSession } from '../model/fixture.test-util'
import type { Session } from '../model/session'
import { stripEnd } from './state/memory'
import { planSession } from './plan/plan'
import { noiseReader } from './random-graph.test-util'
import { Renderer } from './graph/run'

const LENGTH = 120_000
const base = testSession(
  [
    testRegion('a', { length: 30_000, clipGainDb: 3 }),
    testRegion('b', { start: 30_000, length: 30_000 }),
    testRegion('c', { start: 70_000, length: 10_000 }),
  ],
  {
    inserts: [
      {
        id: 'd',
        kind: 'delay',
        bypassed: false,
        values: { timeMs: 20, feedback: 0.3, mix: 0.5 },
      },
      { id: 'e', kind: 'equaliser', bypassed: false, values: { 'b3.on': 1, 'b3.gainDb': 6 } },
    ],
  },
)

/** A track from frame 0 on, as it leaves its inserts. */
function afterInserts(session: Session): Float32Array {
  const out = new Float32Array(LENGTH)
  new Renderer(planSession(session, { trackId: 't' }), noiseReader()).renderStage(
    'insert',
    0,
    out,
    new Float32Array(LENGTH),
  )
  return out
}

test('what is rendered of a track after its inserts, with what sounds on, and what stays add up to the whole', () => {
  const whole = afterInserts(base)
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 79_000 }), fc.integer({ min: 1, max: 60_000 }), (begin, length) => {
      const range = { from: begin, to: begin + length }
      const part = partToRender(base, 't', range)
      if (!part) return
      expect(part).toMatchObject(range)
      const plan = planSession(part.session, { trackId: 't' })
      const { end, fadeFrom } = stripEnd(plan.tracks[0]!, part.to, base.sampleRate)
      expect(fadeFrom).toBe(null)
      const rendered = afterInserts(part.session).fill(0, 0, part.from).fill(0, Math.min(LENGTH, end))
      const session = renderInPlace.apply(base, {
        source: {
          id: 'made',
          name: 'made.wav',
          channels: 1,
          frames: end - part.from,
          sampleRate: 48_000,
          sha256: '1'.repeat(64),
        },
        regionId: 'r',
        trackId: 't',
        keptId: 'kept',
        newTrackId: 'n',
        from: part.from,
        to: part.to,
        name: 'made',
        regionIds: null,
      })
      expect(session.regions.r).toMatchObject({ start: part.from, length: end - part.from })
      const stays = afterInserts(session)
      for (let i = 0; i < LENGTH; i++)
        if (!(Math.abs(rendered[i]! + stays[i]! - whole[i]!) < 2e-6))
          throw new Error(`differs at ${i}: ${rendered[i]! + stays[i]!} instead of ${whole[i]!}`)
    }),
    { numRuns: 15 },
  )
})

test('a range that ends inside a crossfade grows to the ends of its regions', () => {
  const crossed: Session = {
    ...base,
    regions: { ...base.regions, b: { ...base.regions.b!, start: 25_000 } },
    crossfades: {
      x: {
        id: 'x',
        leftId: 'a',
        rightId: 'b',
        law: 'equal-power' as const,
        out: { curve: 'linear' as const, bend: 0 },
        in: { curve: 'linear' as const, bend: 0 },
      },
    },
  }
  expect(partToRender(crossed, 't', { from: 10_000, to: 27_000 })).toMatchObject({ from: 10_000, to: 55_000 })
  expect(partToRender(base, 't', { from: 60_000, to: 70_000 })).toBe(null)
  expect(partToRender(base, 't', { regionIds: [] })).toBe(null)
  expect(partToRender(base, 't', { regionIds: ['a', 'c'] })).toMatchObject({ from: 0, to: 80_000 })
})
