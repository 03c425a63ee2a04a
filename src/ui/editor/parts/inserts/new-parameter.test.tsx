import { renderToStaticMarkup } from 'react-dom/server'
import { Provider } from 'react-redux'
import {
  automationOf,
  carryAutomation,
  laneKeysOf,
  pasteAutomation,
  setParameter,
  shapeThread,
  threadOf,
  threadWords,
  withKnots,
} from '../../../../core/edit'
import { soundChanges } from '../../../../core/edit'
import { testRegion, testSession } from '../../../../core/model/fixture.test-util'
import { openSession } from '../../../../core/model/check/open'
import {
  keptValue,
  findCommonParameter,
  registerParameter,
  type Parameter,
} from '../../../../core/model/parameters'
import { checkSession } from '../../../../core/model/check/rules'
import type { Knot, Session } from '../../../../core/model/session'
import { planSession, Renderer } from '../../../../core/render'
import { dbToGain } from '../../../../core/units/decibel'
import { dbToHeight, heightToGain, heightToDb } from '../../../../core/units/taper'
import { parseLevel, showDb } from '../../../../core/units/typed'
import { beadOf, lanesAt } from '../../../../store/beads'
import { current } from '../../../../store/current'
import { stepValue, resetValue } from '../../../../store/actions/parameter-actions'
import { opened } from '../../../../store/session-slice'
import { createStore } from '../../../../store/store'
import { beadPicked, trackPicked } from '../../../../store/view'
import { ResettableField } from './parameter-field'

const RANGE = { min: -24, max: 12 }

/** A second gain after the fader: this entry is all that is said of it. */
const secondGain: Parameter = {
  ...findCommonParameter('volume')!,
  key: 'secondGain',
  stage: 'after-pan',
  apply(channels, values, count) {
    for (const samples of channels)
      for (let i = 0; i < count; i++)
        samples[i] = samples[i]! * heightToGain(typeof values === 'number' ? values : values[i]!)
  },
  shownAt: 'secondGain',
  name: 'Second gain',
  words: 'second gain',
  laneName: 'Second gain',
  dye: 'woad',
  lanePlain: (strip) => dbToHeight(strip.values?.secondGain ?? 0),
  value: keptValue('secondGain', {
    ...RANGE,
    allowsSilence: false,
    plain: 0,
    plainShort: '0 dB',
    plainWords: '0 dB',
    step: 1,
    fineStep: 0.1,
    show: (db) => showDb(db),
    parse: (text) => parseLevel(text, RANGE),
    fromLane: (height) => Math.round(heightToDb(height) * 100) / 100,
    toLane: (db) => dbToHeight(db ?? 0),
  }),
  fieldLabel: { track: 'Second gain', mix: 'Second gain of the mix' },
}

const LENGTH = 4800
const session = testSession(
  [testRegion('a', { length: LENGTH }), testRegion('b', { start: LENGTH, length: LENGTH })],
  {
    pan: -1,
  },
)
const sounds = {
  read: (_id: string, _channel: number, _frame: number, count: number, out: Float32Array) =>
    void out.fill(0.5, 0, count),
}
const lane = (knots: Knot[]) => ({ knots, bypassed: false, visible: true })
const knot = (frame: number, db: number): Knot => ({ frame, value: dbToHeight(db), shape: 'line', bend: 0 })
const ref = { kind: 'lane', trackId: 't', lane: 'secondGain' } as const

const rendered = (s: Session) => {
  const [left, right] = [new Float32Array(2 * LENGTH), new Float32Array(2 * LENGTH)]
  new Renderer(planSession(s), sounds).render(0, left, right)
  return left
}

let forget = () => {}
beforeAll(() => (forget = registerParameter(secondGain)))
afterAll(() => forget())

test('without its entry nobody knows it', () => {
  forget()
  expect(findCommonParameter('secondGain')).toBeUndefined()
  const withLane = { ...session, tracks: { t: { ...session.tracks.t!, lanes: { secondGain: lane([]) } } } }
  expect(checkSession(withLane)).toMatchObject([{ rule: 'ids', message: 'is not a lane of this version' }])
  expect(
    checkSession({ ...session, tracks: { t: { ...session.tracks.t!, values: { secondGain: 3 } } } }),
  ).toMatchObject([{ rule: 'ids' }])
  forget = registerParameter(secondGain)
  expect(checkSession(withLane)).toEqual([])
  expect(() => registerParameter(secondGain)).toThrow('there is a parameter “secondGain” already')
})

test('rules, file and steps: its value and its knots keep their ranges, are read back, and have a name', () => {
  const set = setParameter.apply(session, { key: 'secondGain', trackIds: ['t', null], value: -6 })
  expect(set.tracks.t!.values).toEqual({ secondGain: -6 })
  expect(set.mix.values).toEqual({ secondGain: -6 })
  expect(openSession(JSON.parse(JSON.stringify(set)))).toEqual(set)
  expect(setParameter.label(session, { key: 'secondGain', trackIds: ['t'], value: -6 })).toBe(
    'Second gain of “Track” 0.0 → −6.0 dB',
  )
  expect(setParameter.label(session, { key: 'secondGain', trackIds: [null], value: -6 })).toBe(
    'Second gain of the mix 0.0 → −6.0 dB',
  )
  expect(() => setParameter.apply(session, { key: 'secondGain', trackIds: ['t'], value: 13 })).toThrow(
    RangeError,
  )
  expect(checkSession({ ...set, mix: { ...set.mix, values: { secondGain: 13 } } })).toMatchObject([
    { rule: 'values', entity: 'mix.values.secondGain', message: 'must lie in -24…12' },
  ])
  const loud = { ...session.tracks.t!, lanes: { secondGain: lane([{ ...knot(0, 0), value: 1.5 }]) } }
  expect(checkSession({ ...session, tracks: { t: loud } })).toMatchObject([
    { rule: 'knots', message: 'must lie in 0…1' },
  ])
  expect(shapeThread.label(session, { ref, knots: [] })).toBe('Shape in second gain of “Track”')
})

test('plan and sound: on top of the fader, its lane frame by frame, on tracks and on the mix', () => {
  const quiet = rendered({ ...session, tracks: { t: { ...session.tracks.t!, volumeDb: -6 } } })
  expect(quiet[100]).toBeCloseTo(0.5 * dbToGain(-6), 6)
  const both = setParameter.apply(
    { ...session, tracks: { t: { ...session.tracks.t!, volumeDb: -6 } } },
    { key: 'secondGain', trackIds: ['t', null], value: -3 },
  )
  expect(rendered(both)[100]).toBeCloseTo(0.5 * dbToGain(-12), 6)
  // A lane from 0 to -20 dB, straight in height.
  const moving = withKnots(session, ref, [knot(0, 0), knot(2000, -20)])
  const half = (dbToHeight(0) + dbToHeight(-20)) / 2
  expect(rendered(moving)[1000]).toBeCloseTo(0.5 * heightToGain(half), 5)
  expect(rendered(moving)[5000]).toBeCloseTo(0.05, 6)
  const mix = withKnots(session, { kind: 'lane', trackId: null, lane: 'secondGain' }, [
    knot(0, -20),
    knot(9000, -20),
  ])
  expect(rendered(mix)[1000]).toBeCloseTo(0.05, 6)
  expect(soundChanges(session, moving)!.tracks.get('t')).toEqual([{ from: 0, to: Infinity }])
  expect(soundChanges(session, both)!.mix).toEqual([{ from: 0, to: Infinity }])
})

test('automation: copied and pasted in a range, into levels only, and taken along with a region', () => {
  const shaped = withKnots(session, ref, [knot(0, 0), knot(1000, -12), knot(2000, 0)])
  const clip = automationOf(shaped, ref, 0, 2000)!
  const pasted = pasteAutomation.apply(shaped, { clips: [{ ref, clip }], at: 4000, times: 1 })
  const { kind, knots } = threadOf(pasted, ref)!
  expect(kind.show(knots.find((k) => k.frame === 5000)!.value)).toBe('−12.0 dB')
  expect(pasteAutomation.label(shaped, { clips: [{ ref, clip }], at: 0, times: 1 })).toBe(
    'Paste into second gain of “Track”',
  )
  const moved = { ...shaped, regions: { ...shaped.regions, a: { ...shaped.regions.a!, start: 2 * LENGTH } } }
  const carried = threadOf(carryAutomation(shaped, moved), ref)!
  expect(carried.knots.find((k) => k.frame === 2 * LENGTH + 1000)!.value).toBeCloseTo(dbToHeight(-12), 9)
})

test('screen: a bead of its own, a lane, a field with its value, steps of the keys, and the way back', () => {
  const store = createStore()
  store.dispatch(opened({ session, steps: [], done: 0, savedAt: 0, readOnly: false }))
  store.dispatch(trackPicked('t'))
  store.dispatch(beadPicked('secondGain'))
  expect([beadOf('t', 'secondGain'), beadOf(null, 'secondGain')]).toEqual(['secondGain', 'mix-secondGain'])
  expect(laneKeysOf(session, 't')).toEqual(['volume', 'pan', 'secondGain'])
  expect(lanesAt(session, 't', 'secondGain')).toEqual(['secondGain'])
  expect(threadWords(session, ref)).toBe('second gain of “Track”')
  expect(current(store.getState())).toMatchObject({
    bench: { kind: 'strip', trackId: 't', bead: 'secondGain' },
    keys: { kind: 'parameter', trackIds: ['t'], parameter: { key: 'secondGain' } },
    lanes: [ref],
  })
  store.dispatch(stepValue(['t'], secondGain, -1, false))
  store.dispatch(stepValue(['t'], secondGain, -1, true))
  const after = store.getState().session
  expect(after.session!.tracks.t!.values).toEqual({ secondGain: -1.1 })
  expect(after.steps.map((s) => s.label)).toEqual([
    'Second gain of “Track” 0.0 → −1.0 dB',
    'Second gain of “Track” −1.0 → −1.1 dB',
  ])
  const field = renderToStaticMarkup(
    <Provider store={store}>
      <ResettableField session={after.session!} trackId="t" parameter={secondGain} name="secondGain" />
    </Provider>,
  )
  expect(field).toContain('Second gain')
  expect(field).toContain('value="−1.1 dB"')
  expect(field).toContain('data-field="secondGain"')
  store.dispatch(resetValue(['t'], secondGain))
  expect(store.getState().session.session!.tracks.t!.values).toEqual({})
})
