import { testRegion, testSession } from '../../model/fixture.test-util'
import { breachLine, brokenRules } from '../../model/check/rules'
import { setTempo } from './tempo'

const withDelay = (noteValue: number) =>
  testSession([testRegion('r')], {
    inserts: [{ id: 'd', kind: 'delay', bypassed: false, values: { noteValue } }],
  })

test('a delay whose note value comes to more than 16 s is refused in words, in a file and by a tempo', () => {
  // 32 quarter notes at 120 bpm are 16 s, 33 are 16.5.
  expect(brokenRules(withDelay(32))).toEqual([])
  expect(brokenRules(withDelay(33)).map(breachLine)).toEqual([
    expect.stringContaining('comes to 16.5 s at the slowest tempo; a delay takes 16 s at most'),
  ])
  expect(() => setTempo.apply(withDelay(32), { atBeat: 0, change: { bpm: 100 } })).toThrow(
    'At 100 bpm the note value of a delay comes to 19.2 s at the slowest tempo; a delay takes 16 s at most.',
  )
  expect(setTempo.apply(withDelay(8), { atBeat: 0, change: { bpm: 100 } }).tempo[0]!.bpm).toBe(100)
})
