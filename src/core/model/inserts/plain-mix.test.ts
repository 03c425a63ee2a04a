import { createTrack } from '../create'
import { testRegion, testSession } from '../fixture.test-util'
import { asideWords, isPlainMix, mixAside, plainMix } from './plain-mix'
import type { Session } from '../session'

const plain = testSession([testRegion('a')])
const lane = {
  knots: [{ frame: 0, value: 0.5, shape: 'line' as const, bend: 0 }],
  bypassed: true,
  visible: true,
}

test('what is soloed, muted and bypassed is said, and left out of the plain mix', () => {
  expect(isPlainMix(mixAside(plain))).toBe(true)
  const aside: Session = {
    ...plain,
    trackIds: ['t', 'u'],
    tracks: {
      t: { ...plain.tracks.t!, soloed: true, lanes: { volume: lane } },
      u: { ...createTrack('u', 'Gulls', 1, 1), muted: true },
    },
    regions: { a: { ...plain.regions.a!, muted: true } },
    mix: { ...plain.mix, lanes: { volume: lane } },
  }
  expect(asideWords(mixAside(aside))).toEqual([
    '1 track is soloed (Track): only it will be in the file.',
    '1 track is muted (Gulls) and will not be in the file.',
    '1 region is muted and will not be in the file.',
    '2 lanes are bypassed: static values hold there.',
  ])
  expect(isPlainMix(mixAside(plainMix(aside)))).toBe(true)
  expect(plainMix(aside).tracks.t!.lanes.volume).toEqual({ ...lane, bypassed: false })
})
