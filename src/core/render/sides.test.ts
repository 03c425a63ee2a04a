import { createTrack } from '../model/create'
import { testRegion, testSession } from '../model/fixture.test-util'
import type { Session, SidesChange } from '../model/session'
import { setRegionSides, setTrackSides } from '../edit'
import { planSession, Renderer, type SourceReader } from '.'
import { overlapKey } from './plan/overlap'

/** Left a sine, right another one. */
const reader: SourceReader = {
  read(_id, channel, frame, count, out) {
    for (let i = 0; i < count; i++) out[i] = 0.25 * Math.sin((frame + i) * (channel === 0 ? 0.05 : 0.031))
  },
}

function rendered(session: Session): [Float32Array, Float32Array] {
  const out = [new Float32Array(4096), new Float32Array(4096)] as const
  const renderer = new Renderer(planSession(session), reader)
  for (let at = 0; at < 4096; at += 1024)
    renderer.render(at, out[0].subarray(at, at + 1024), out[1].subarray(at, at + 1024))
  return [out[0], out[1]]
}

const SIDES: SidesChange = { gainDb: [-6, 3], polarity: [1, -1] }
const factors = [10 ** (-6 / 20), -(10 ** (3 / 20))]

const stereo = (reversed = false): Session => {
  const base = testSession([testRegion('r', { length: 8192, reversed })])
  return {
    ...base,
    tracks: { t: { ...createTrack('t', 'T', 2, 0), volumeDb: 0 } },
    sources: { s: { ...base.sources.s!, channels: 2 } },
  }
}

test.each([
  ['region', (s: Session) => setRegionSides.apply(s, { regionIds: ['r'], change: SIDES })],
  ['reversed region', (s: Session) => setRegionSides.apply(s, { regionIds: ['r'], change: SIDES })],
  ['track', (s: Session) => setTrackSides.apply(s, { trackIds: ['t'], change: SIDES })],
] as const)(
  'left and right of a %s are changed each by itself, and resetting gives the same session',
  (what, change) => {
    const session = stereo(what.startsWith('reversed'))
    const changed = change(session)
    const [before, after] = [rendered(session), rendered(changed)]
    for (const c of [0, 1])
      for (let i = 0; i < 4096; i++) expect(after[c]![i]! - factors[c]! * before[c]![i]!).toBeCloseTo(0, 7)
    const plain = { gainDb: [0, 0], polarity: [1, 1] } satisfies SidesChange
    const back =
      what === 'track'
        ? setTrackSides.apply(changed, { trackIds: ['t'], change: plain })
        : setRegionSides.apply(changed, { regionIds: ['r'], change: plain })
    expect(back).toEqual(session)
    expect(Object.keys(back.tracks.t!)).toEqual(Object.keys(session.tracks.t!))
  },
)

test('the sides of a track act after its trim, and before its inserts hear it', () => {
  const session = stereo()
  const inserts = [
    { id: 'g', kind: 'gate' as const, bypassed: false, values: { thresholdDb: -20, rangeDb: 80 } },
  ]
  const quiet = { ...session, tracks: { t: { ...session.tracks.t!, inserts } } }
  const loud = setTrackSides.apply(quiet, { trackIds: ['t'], change: { gainDb: [-24, -24] } })
  const peak = (s: Session) => Math.max(...rendered(s)[0].subarray(2048).map(Math.abs))
  expect(peak(quiet)).toBeCloseTo(0.25, 2)
  // 24 dB softer it is under the threshold, and is shut out besides.
  expect(peak(loud)).toBeLessThan(0.25 * 10 ** (-24 / 20) * 0.5)
})

test('what both sides of a crossfade have in common is measured anew when one of them is inverted', () => {
  const base = stereo()
  const crossed: Session = {
    ...base,
    regions: { r: base.regions.r!, q: { ...base.regions.r!, id: 'q', start: 4096 } },
  }
  const curve = { curve: 'linear' as const, bend: 0 }
  const fade = { id: 'x', leftId: 'r', rightId: 'q', law: 'level' as const, out: curve, in: curve }
  const inverted = setRegionSides.apply(crossed, { regionIds: ['q'], change: { polarity: [-1, -1] } })
  expect(overlapKey(inverted, fade)).not.toBe(overlapKey(crossed, fade))
})

test('mono regions and tracks have no sides, and a gain out of range is refused', () => {
  const mono = testSession([testRegion('r')])
  expect(setRegionSides.apply(mono, { regionIds: ['r'], change: SIDES })).toBe(mono)
  expect(setTrackSides.apply(mono, { trackIds: ['t'], change: SIDES })).toBe(mono)
  expect(() => setTrackSides.apply(stereo(), { trackIds: ['t'], change: { gainDb: [25, 0] } })).toThrow(
    RangeError,
  )
})
