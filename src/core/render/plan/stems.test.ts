import fc from 'fast-check'
import type { Session } from '../../model/session'
import { planSession } from './plan'
import { graphSession, noiseReader } from '../random-graph.test-util'
import { Renderer } from '../graph/run'
import { stemIds, stemPlan } from './stems'

const FRAMES = 12_000

test('stems of random graphs add up to the mix without its inserts, each through the lanes of the mix', () => {
  fc.assert(
    fc.property(graphSession, (session) => {
      const plain: Session = {
        ...session,
        mix: {
          ...session.mix,
          inserts: [],
          lastInserts: [],
          volumeDb: -2,
          lanes: {
            volume: {
              knots: [
                { frame: 0, value: 0.4, shape: 'line', bend: 0 },
                { frame: 9000, value: 0.7, shape: 'line', bend: 0 },
              ],
              bypassed: false,
              visible: true,
            },
          },
        },
      }
      const plan = planSession(plain)
      const sides = () => [new Float32Array(FRAMES), new Float32Array(FRAMES)] as const
      const mix = sides()
      new Renderer(plan, noiseReader()).render(0, ...mix)
      const sum = [new Float64Array(FRAMES), new Float64Array(FRAMES)]
      for (const id of stemIds(plan)) {
        const stem = sides()
        new Renderer(stemPlan(plan, id), noiseReader()).render(0, ...stem)
        for (const c of [0, 1] as const)
          for (let i = 0; i < FRAMES; i++) sum[c]![i] = sum[c]![i]! + stem[c][i]!
      }
      for (const c of [0, 1] as const)
        for (let i = 0; i < FRAMES; i++)
          if (!(Math.abs(sum[c]![i]! - mix[c][i]!) < 1e-6))
            throw new Error(`side ${c} differs at ${i}: ${sum[c]![i]} and ${mix[c][i]}`)
    }),
    { numRuns: 20 },
  )
})
