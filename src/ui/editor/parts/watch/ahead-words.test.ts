import { createTrack } from '../../../../core/model/create'
import { testSession } from '../../../../core/model/fixture.test-util'
import type { Insert } from '../../../../core/model/session'
import { planSession } from '../../../../core/render'
import { aheadWords } from './ahead-words'

const insert = (kind: Insert['kind'], values: Insert['values'] = {}): Insert => ({
  id: kind,
  kind,
  bypassed: false,
  values,
})

test('inserts that look ahead say by how much, in whole quanta; the others say nothing', () => {
  const inserts = [
    insert('equaliser', { 'b1.on': true, 'b1.gainDb': 3 }),
    insert('saturator'),
    insert('compressor', { lookAheadMs: 2 }),
  ]
  const session = testSession(
    [],
    {},
    {
      trackIds: ['t'],
      tracks: { t: { ...createTrack('t', 'A', 1, 0), inserts } },
    },
  )
  // 64 frames of 48 kHz are 1.33 ms; 2 ms are 96 frames, in whole quanta 128.
  expect([...aheadWords(planSession(session), 't')]).toEqual([
    ['saturator', '1.3 ms'],
    ['compressor', '2.7 ms'],
  ])
})
