import { createBus, createTrack } from '../../model/create'
import { testSession } from '../../model/fixture.test-util'
import { brokenRules } from '../../model/check/rules'
import { insertValue } from '../../model/inserts/insert-values'
import type { Insert, Session } from '../../model/session'
import { copyInserts, setInsertValue } from '..'

const insert = (id: string, kind: Insert['kind'], values: Insert['values'] = {}): Insert => ({
  id,
  kind,
  bypassed: false,
  values,
})
const lane = {
  knots: [{ frame: 0, value: -30, shape: 'line' as const, bend: 0 }],
  bypassed: false,
  visible: true,
}

const session: Session = testSession(
  [],
  {},
  {
    trackIds: ['t0', 't1'],
    tracks: {
      t0: {
        ...createTrack('t0', 'A', 1, 0),
        inserts: [insert('eq', 'equaliser', { 'b1.on': true }), insert('c', 'compressor', { ratio: 8 })],
        lanes: { 'insert:c:thresholdDb': lane },
      },
      t1: { ...createTrack('t1', 'B', 1, 1), inserts: [insert('c', 'gate')] },
    },
    busIds: ['b'],
    buses: { b: createBus('b', 'Room', 0) },
  },
)

test('inserts are copied to other strips and to the mix with values and lanes, under names of their own', () => {
  const copied = copyInserts.apply(session, { id: 't0', insertIds: ['eq', 'c'], to: ['t1', 'b', null] })
  expect(brokenRules(copied)).toEqual([])
  const kinds = (list: readonly Insert[]) => list.map((i) => i.kind)
  expect(kinds(copied.tracks.t1!.inserts)).toEqual(['gate', 'equaliser', 'compressor'])
  expect(kinds(copied.buses.b!.inserts)).toEqual(['equaliser', 'compressor'])
  expect(kinds(copied.mix.inserts)).toEqual(['equaliser', 'compressor'])
  const compressor = copied.tracks.t1!.inserts[2]!
  expect(compressor.id).not.toBe('c')
  expect(insertValue(compressor, 'ratio')).toBe(8)
  expect(copied.tracks.t1!.lanes[`insert:${compressor.id}:thresholdDb`]).toEqual(lane)
  expect(copied.tracks.t0).toBe(session.tracks.t0)
})

test('a duplicate stands behind what it was made of', () => {
  const { inserts, lanes } = copyInserts.apply(session, { id: 't0', insertIds: ['eq'], to: ['t0'] }).tracks
    .t0!
  expect(inserts.map((i) => i.kind)).toEqual(['equaliser', 'equaliser', 'compressor'])
  expect(inserts[0]!.id).toBe('eq')
  expect(Object.keys(lanes)).toEqual(['insert:c:thresholdDb'])
})

test('choices are set by what stands in a file, and others are refused; crossovers keep their order', () => {
  const set = (key: string, value: string | number) =>
    setInsertValue.apply(session, { id: 't0', insertId: 'eq', key, value }).tracks.t0!.inserts[0]!.values[key]
  expect(set('b1.kind', 'high-cut')).toBe('high-cut')
  expect(set('b1.slope', 48)).toBe(48)
  expect(set('b1.kind', 'bell')).toBeUndefined()
  expect(() => set('b1.kind', 'wah')).toThrow(RangeError)
  const bands = { ...session.tracks.t1!, inserts: [insert('f', 'four-bands')] }
  const moved = setInsertValue.apply(
    { ...session, tracks: { ...session.tracks, t1: bands } },
    { id: 't1', insertId: 'f', key: 'crossover1Hz', value: 5000 },
  )
  expect(moved.tracks.t1!.inserts[0]!.values.crossover1Hz).toBe(999)
  expect(brokenRules(moved)).toEqual([])
})

test('an insert is changed in whichever chain of the mix it is; a value that it has changes nothing', () => {
  const mixed: Session = {
    ...session,
    mix: {
      ...session.mix,
      inserts: [insert('first', 'compressor')],
      lastInserts: [insert('c', 'ceiling'), insert('d', 'ceiling')],
    },
  }
  const change = { id: null, insertId: 'd', key: 'ceilingDbtp' }
  const changed = setInsertValue.apply(mixed, { ...change, value: -3 })
  expect(changed.mix.lastInserts!.map((i) => i.values)).toEqual([{}, { ceilingDbtp: -3 }])
  expect(changed.mix.inserts).toBe(mixed.mix.inserts)
  expect(setInsertValue.apply(changed, { ...change, value: -3 })).toBe(changed)
  expect(setInsertValue.apply(mixed, { ...change, insertId: 'nobody', value: -3 })).toBe(mixed)
})
