import { testRegion, testSession } from '../../model/fixture.test-util'
import { changeClipGain, isOutOfDate, markOfTracks, setRegion, setTrack } from '..'

const session = testSession([testRegion('a', { start: 1000, length: 5000 })])
const giveWay = {
  ...({} as never as Parameters<typeof isOutOfDate>[1]),
  others: ['t'],
  made: markOfTracks(session, ['t']),
}

test('what a lane gives way to is out of date once it sounds otherwise, and not for a name or a solo', () => {
  const after = (next: typeof session) => isOutOfDate(next, giveWay)
  expect(after(session)).toBe(false)
  expect(after(changeClipGain.apply(session, { regionIds: ['a'], byDb: 1 }))).toBe(true)
  expect(after(setRegion.apply(session, { regionIds: ['a'], change: { name: 'other' } }))).toBe(false)
  expect(after(setTrack.apply(session, { trackIds: ['t'], change: { soloed: true } }))).toBe(false)
  expect(isOutOfDate(session, { ...giveWay, made: undefined } as never)).toBe(false)
})
