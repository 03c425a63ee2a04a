import { createTrack } from '../../model/create'
import { testSession } from '../../model/fixture.test-util'
import { openSession } from '../../model/check/open'
import { OWN_PRESETS, presetsFor } from '../../model/inserts/presets'
import { brokenRules } from '../../model/check/rules'
import type { Insert, Lane, Session } from '../../model/session'
import { chainPreset, copyToOtherChain, putChain, removeInsert, setPreset, swapChains } from '..'

const lane: Lane = {
  knots: [{ frame: 0, value: -30, shape: 'line', bend: 0 }],
  bypassed: false,
  visible: true,
}
const compressor: Insert = { id: 'c', kind: 'compressor', bypassed: false, values: { ratio: 8 }, key: 'k' }
const session = (): Session => ({
  ...testSession([], { inserts: [compressor], lanes: { 'insert:c:thresholdDb': lane, volume: lane } }),
  trackIds: ['t', 'k'],
  tracks: {
    t: {
      ...createTrack('t', 'T', 1, 0),
      inserts: [compressor],
      lanes: { 'insert:c:thresholdDb': lane },
    },
    k: createTrack('k', 'K', 1, 1),
  },
})
const good = (s: Session): Session => {
  expect(brokenRules(s)).toEqual([])
  return openSession(JSON.parse(JSON.stringify(s)))
}

test('versions A and B of a chain, with lanes: swapped, copied over, and back', () => {
  const a = session()
  // The first time B is the same as A, and it is B that is heard.
  const b = good(swapChains.apply(a, { id: 't' }))
  expect(b.tracks.t!.inserts).toEqual(a.tracks.t!.inserts)
  expect(b.tracks.t!.chainB!.heard).toBe(true)
  const changed = good(removeInsert.apply(b, { id: 't', insertId: 'c' }))
  expect([changed.tracks.t!.inserts, changed.tracks.t!.lanes]).toEqual([[], {}])
  const back = good(swapChains.apply(changed, { id: 't' }))
  expect([back.tracks.t!.inserts, back.tracks.t!.lanes]).toEqual([a.tracks.t!.inserts, a.tracks.t!.lanes])
  expect(back.tracks.t!.chainB).toEqual({ inserts: [], lanes: {}, heard: false })
  expect(swapChains.label(back, { id: 't' })).toBe('Inserts of “T”: version B')
  const copied = good(copyToOtherChain.apply(back, { id: 't' }))
  expect(copied.tracks.t!.chainB!.inserts).toEqual(a.tracks.t!.inserts)
  expect(good(swapChains.apply(copied, { id: 't' })).tracks.t!.inserts).toEqual(a.tracks.t!.inserts)
})

test('a key that is gone when its version comes back steers nothing', () => {
  const b = removeInsert.apply(swapChains.apply(session(), { id: 't' }), { id: 't', insertId: 'c' })
  const { k: _, ...tracks } = b.tracks
  const alone = { ...b, trackIds: ['t'], tracks }
  expect(good(swapChains.apply(alone, { id: 't' })).tracks.t!.inserts[0]!.key).toBeNull()
})

test('a preset sets an insert whole, and a chain is put at the end or in place of what is there', () => {
  const [gentle] = presetsFor(OWN_PRESETS, 'compressor')
  const set = good(
    setPreset.apply(session(), {
      inserts: [{ id: 't', insertId: 'c' }],
      name: gentle!.name,
      preset: gentle!.inserts[0]!,
    }),
  )
  expect(set.tracks.t!.inserts[0]!.values).toEqual(gentle!.inserts[0]!.values)
  expect(Object.keys(set.tracks.t!.lanes)).toEqual(['insert:c:thresholdDb'])
  const [ready] = presetsFor(OWN_PRESETS, null)
  const more = good(
    putChain.apply(session(), { ids: ['t'], chain: 'inserts', preset: ready!, replaces: false }),
  )
  expect(more.tracks.t!.inserts.map((i) => i.kind)).toEqual([
    'compressor',
    'equaliser',
    'de-esser',
    'compressor',
  ])
  expect(new Set(more.tracks.t!.inserts.map((i) => i.id)).size).toBe(4)
  const instead = good(
    putChain.apply(session(), { ids: ['t'], chain: 'inserts', preset: ready!, replaces: true }),
  )
  expect(instead.tracks.t!.inserts).toHaveLength(3)
  expect(instead.tracks.t!.lanes).toEqual({})
  // And back again: what was saved is what was put.
  expect(chainPreset(ready!.name, instead.tracks.t!.inserts)).toEqual(ready)
  expect(
    good(putChain.apply(session(), { ids: [null], chain: 'lastInserts', preset: ready!, replaces: false }))
      .mix.lastInserts,
  ).toHaveLength(3)
})
