import { testRegion, testSession } from '../../model/fixture.test-util'
import { partChannels } from './export-part'

test('a mono track has one channel up to its pan, and two behind it or behind an insert that widens', () => {
  const mono = testSession([testRegion('a')])
  const strip = (stage: 'clip' | 'insert' | 'track') => ({ kind: 'strip' as const, id: 't', stage })
  expect(partChannels(mono, { kind: 'region', id: 'a' })).toBe(1)
  expect([strip('clip'), strip('insert'), strip('track')].map((p) => partChannels(mono, p))).toEqual([
    1, 1, 2,
  ])
  expect(partChannels(mono, { kind: 'mix' })).toBe(2)
  const wide = testSession([testRegion('a')], {
    inserts: [{ id: 'r', kind: 'room', bypassed: false, values: {} }],
  })
  expect([strip('clip'), strip('insert')].map((p) => partChannels(wide, p))).toEqual([1, 2])
  expect(partChannels(testSession([testRegion('a')], { channels: 2 }), { kind: 'region', id: 'a' })).toBe(2)
})
