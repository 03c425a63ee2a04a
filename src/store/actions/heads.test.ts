import { createTrack } from '../../core/model/create'
import { testRegion, testSession } from '../../core/model/fixture.test-util'
import { OWN_PRESETS, presetsFor } from '../../core/model/inserts/presets'
import { givePreset, putPreset } from './presets'
import { opened } from '../session-slice'
import { createStore } from '../store'
import { putInsert } from './strip-actions'
import { beadPicked, headPicked, rangeSet } from '../view'
import { weaveRange } from './weave-actions'
import { whyNot } from '../why-not'

const session = () => {
  const plain = testSession([testRegion('a')])
  const insert = (id: string, kind: 'compressor' | 'gate') => ({ id, kind, bypassed: false, values: {} })
  return {
    ...plain,
    trackIds: ['t', 'u', 'v'],
    tracks: {
      t: { ...plain.tracks.t!, inserts: [insert('g', 'gate'), insert('c', 'compressor')] },
      u: { ...createTrack('u', 'Second', 1, 1), inserts: [insert('c1', 'compressor')] },
      v: createTrack('v', 'Third', 1, 2),
    },
  }
}
/** A store in which the heads of all three tracks are selected. */
const store = () => {
  const made = createStore()
  made.dispatch(opened({ session: session(), steps: [], done: 0, savedAt: 0, readOnly: false }))
  for (const trackId of ['v', 'u', 't']) made.dispatch(headPicked({ trackId, add: true }))
  return made
}
const tracks = (of: ReturnType<typeof store>) => of.getState().session.session!.tracks

test('a chain that is put on one of several selected heads reaches all, as one step', () => {
  const made = store()
  const [chain] = presetsFor(OWN_PRESETS, null)
  made.dispatch(putPreset('u', 'inserts', chain!, true))
  const kinds = chain!.inserts.map((i) => i.kind)
  expect(Object.values(tracks(made)).map((t) => t.inserts.map((i) => i.kind))).toEqual([kinds, kinds, kinds])
  expect(made.getState().session.steps.map((s) => s.label)).toEqual([
    expect.stringContaining(`Put “${chain!.name}” on 3 tracks`),
  ])
})

test('an insert that is added to one of several selected heads is added to all, as one step', () => {
  const made = store()
  made.dispatch(putInsert('v', 'inserts', 'width'))
  expect(Object.values(tracks(made)).map((t) => t.inserts.at(-1)?.kind)).toEqual(['width', 'width', 'width'])
  expect(made.getState().session.steps.map((s) => s.label)).toEqual([
    expect.stringMatching(/^Add a .* to 3 strips$/),
  ])
})

test('a preset for an insert reaches those like it, and says on which tracks there is none', () => {
  const made = store()
  const [preset] = presetsFor(OWN_PRESETS, 'compressor')
  made.dispatch(givePreset('t', tracks(made).t!.inserts[1]!, preset!.name, preset!.inserts[0]!))
  const { values } = preset!.inserts[0]!
  expect(tracks(made).t!.inserts[1]!.values).toEqual(values)
  expect(tracks(made).u!.inserts[0]!.values).toEqual(values)
  expect(whyNot.get()?.text).toBe('Not on “Third”: there is no such compressor.')
})

test('a weave over the range reaches the lanes of all selected heads', () => {
  const made = store()
  made.dispatch(beadPicked('volume'))
  for (const trackId of ['v', 'u', 't']) made.dispatch(headPicked({ trackId, add: trackId !== 'v' }))
  made.dispatch(rangeSet({ from: 0, to: 48_000 }))
  made.dispatch(weaveRange({ kind: 'lane', trackId: 't', lane: 'volume' }, { from: 0, to: 48_000 }))
  const weaves = Object.values(tracks(made)).map((t) => t.lanes.volume?.weaves)
  expect(weaves[0]).toHaveLength(1)
  expect(weaves).toEqual([weaves[0], weaves[0], weaves[0]])
  expect(made.getState().session.steps).toHaveLength(1)
})
