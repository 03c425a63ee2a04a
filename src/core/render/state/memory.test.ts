import { createBus } from '../../model/create'
import { testRegion, testSession } from '../../model/fixture.test-util'
import type { Insert, Session } from '../../model/session'
import { planSession } from '../plan/plan'

const delay = (id: string, timeMs: number): Insert => ({
  id,
  kind: 'delay',
  bypassed: false,
  values: { timeMs },
})

test('a plan says how many samples its delays hold: all of them, on both sides', () => {
  const base = testSession([testRegion('r')])
  const [first] = base.trackIds
  const session: Session = {
    ...base,
    tracks: {
      ...base.tracks,
      [first!]: {
        ...base.tracks[first!]!,
        channels: 2,
        inserts: [delay('a', 1000), { ...delay('b', 4000), bypassed: true }],
      },
    },
    busIds: ['bus'],
    buses: { bus: { ...createBus('bus', 'Bus', 0), channels: 2, inserts: [delay('c', 500)] } },
    mix: { ...base.mix, inserts: [delay('d', 2000)] },
  }
  const { sampleRate } = session
  const bus = (plan: ReturnType<typeof planSession>) => plan.tracks.find(({ id }) => id === 'bus')!
  const plan = planSession(session)
  // Two sides of 1 s, 0.5 s and 2 s; the one that is bypassed is not there.
  expect(bus(plan).inserts).toHaveLength(1)
  expect(plan.memory.heldSamples).toBe(2 * (1 + 0.5 + 2) * sampleRate)
  expect(planSession(base).memory.heldSamples).toBe(0)
})
