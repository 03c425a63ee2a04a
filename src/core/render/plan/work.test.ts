import { testRegion, testSession } from '../../model/fixture.test-util'
import type { Insert } from '../../model/session'
import { mostWork } from './work'

const insert = (id: string, kind: Insert['kind'], bypassed = false): Insert => ({
  id,
  kind,
  bypassed,
  values: {},
})

test('what takes most of the work is counted over what acts', () => {
  const inserts = [insert('a', 'equaliser'), insert('b', 'room'), insert('c', 'ceiling', true)]
  const session = testSession([testRegion('r')], { inserts })
  // One strip and the mix (40 each), an equaliser (45), and a room (300).
  expect(mostWork(session)).toEqual({ kind: 'room', count: 1, part: 300 / 425 })
  expect(mostWork(testSession([]))).toBeNull()
  const muted = testSession([testRegion('r')], { inserts, muted: true })
  expect(mostWork(muted)).toBeNull()
})
