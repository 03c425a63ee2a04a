import { testRegion } from '../../model/fixture.test-util'
import type { Region } from '../../model/session'
import { contiguous } from './split-join'

const left = testRegion('a', { start: 1000, offset: 500, length: 2000 })
const right = testRegion('b', { start: 3000, offset: 2500, length: 700 })

test('a region goes on in another where the sound does', () => {
  expect(contiguous(left, right)).toBe(true)
  const back = { reversed: true }
  expect(contiguous({ ...left, ...back, offset: 700 }, { ...right, ...back, offset: 0 })).toBe(true)
})

test.each<Partial<Region>>([
  { trackId: 'other' },
  { sourceId: 'other' },
  { start: 3001 },
  { offset: 2501 },
  { reversed: true },
  { polarity: -1 },
  { clipGainDb: -0.1 },
  { gainThreadId: 'g' },
  { muted: true },
  { sides: { gainDb: [1, 0], polarity: [1, 1] } },
])('it does not where they differ in %p', (difference) => {
  expect(contiguous(left, { ...right, ...difference })).toBe(false)
})
