import { testRegion, testSession } from '../model/fixture.test-util'
import { brokenRules } from '../model/check/rules'
import type { Knot, Region, Session } from '../model/session'
import {
  duplicateRegions,
  joinRegions,
  moveRegions,
  setRegion,
  slipRegions,
  splitRegions,
  trimRegions,
  unlinkRegions,
} from '../edit'
import { planSession } from './plan/plan'
import { Renderer } from './graph/run'

const noise = Float32Array.from({ length: 480000 }, (_, n) => Math.sin(n * n * 0.0137) * 0.5)
const knots: Knot[] = [
  { frame: 2000, value: 0.4, shape: 'line', bend: 0.3 },
  { frame: 9000, value: 0.7, shape: 's-curve', bend: 0 },
  { frame: 30000, value: 0.5, shape: 'hold', bend: 0 },
  { frame: 40000, value: 0.6, shape: 'line', bend: 0 },
]

function sound(session: Session, frames: number): Float32Array {
  const left = new Float32Array(frames)
  new Renderer(planSession(session), {
    read: (_id, _c, frame, count, out) => out.set(noise.subarray(frame, frame + count)),
  }).render(0, left, new Float32Array(frames))
  return left
}

const sameSound = (a: Session, b: Session, frames = 60000) =>
  Buffer.from(sound(a, frames).buffer).equals(Buffer.from(sound(b, frames).buffer))
const threaded = (...regions: Region[]) =>
  testSession(regions, { pan: -1 }, { gainThreads: { g: { id: 'g', knots } } })
const one = (more: Partial<Region> = {}) =>
  threaded(
    testRegion('a', { start: 1000, offset: 500, length: 45000, gainThreadId: 'g', clipGainDb: -3, ...more }),
  )

describe.each([false, true])('reversed: %p', (reversed) => {
  test('splitting changes no sample, and joining the pieces gives the region back', () => {
    const before = one({ reversed })
    const split = splitRegions.apply(before, { regionIds: ['a'], frames: [20000, 5000, 1000, 90000] })
    expect(Object.keys(split.regions)).toHaveLength(3)
    expect(sameSound(before, split)).toBe(true)
    expect(brokenRules(split)).toEqual([])
    const joined = joinRegions.apply(split, { regionIds: Object.keys(split.regions) })
    expect(joined.regions).toEqual(before.regions)
  })
  test('trimming hides and shows the same sound; nothing is lost', () => {
    const before = one({ reversed })
    const shorter = trimRegions.apply(
      trimRegions.apply(before, { regionIds: ['a'], edge: 'start', byFrames: 7000 }),
      { regionIds: ['a'], edge: 'end', byFrames: -9000 },
    )
    const [whole, part] = [sound(before, 60000), sound(shorter, 60000)]
    expect([shorter.regions.a!.start, shorter.regions.a!.length]).toEqual([8000, 29000])
    expect(part.every((x, n) => x === (n >= 8000 && n < 37000 ? whole[n] : 0))).toBe(true)
    const back = trimRegions.apply(
      trimRegions.apply(shorter, { regionIds: ['a'], edge: 'end', byFrames: 9000 }),
      { regionIds: ['a'], edge: 'start', byFrames: -7000 },
    )
    expect(back).toEqual(before)
  })
  test('moving the sound inside leaves the edges, and stops where the sound ends', () => {
    const before = one({ reversed })
    const slipped = slipRegions.apply(before, { regionIds: ['a'], byFrames: 300 })
    // What was heard at frame n is now heard at n + 300, with its thread.
    const [whole, part] = [sound(before, 60000), sound(slipped, 60000)]
    expect(part.subarray(1300, 46000).every((x, i) => x === whole[1000 + i])).toBe(true)
    const far = slipRegions.apply(before, { regionIds: ['a'], byFrames: reversed ? 1e9 : -1e9 }).regions.a!
    expect(far.offset + far.length).toBe(480000)
  })
})

describe('the render of a thread equals its formula within 1e-6', () => {
  const shapes: Knot[] = [
    { frame: 3000, value: 0.3, shape: 'line', bend: 0 },
    { frame: 8000, value: 0.7, shape: 'line', bend: 0.8 },
    { frame: 14000, value: 0.4, shape: 'line', bend: -0.6 },
    { frame: 20000, value: 0.65, shape: 's-curve', bend: 0 },
    { frame: 27000, value: 0.2, shape: 'hold', bend: 0 },
    { frame: 33000, value: 0.6, shape: 'line', bend: 0 },
  ]
  /** Straight from the definition: stretch shapes, the 1 ms step at the end of the hold, the taper. */
  function gain(f: number): number {
    const i = shapes.filter((k) => k.frame <= f).length - 1
    const [k, next] = [shapes[Math.max(0, i)]!, shapes[i + 1]]
    let h = k.value
    if (i >= 0 && next && k.shape !== 'hold') {
      const u = (f - k.frame) / (next.frame - k.frame)
      const s =
        k.shape === 's-curve'
          ? (1 - Math.cos(Math.PI * u)) / 2
          : k.bend >= 0
            ? u ** (2 ** (3 * k.bend))
            : 1 - (1 - u) ** (2 ** (-3 * k.bend))
      h = k.value + (next.value - k.value) * s
    }
    if (f >= 33000 && f < 33048) h -= (0.6 - 0.2) * (1 - (1 - Math.cos((Math.PI * (f - 33000)) / 48)) / 2)
    return 10 ** (12 / 20) * h ** 3
  }
  const base = testSession(
    [testRegion('a', { start: 1000, offset: 1500, length: 40000, gainThreadId: 'g' })],
    { pan: -1 },
    { gainThreads: { g: { id: 'g', knots: shapes } } },
  )
  const reversed = setRegion.apply(base, { regionIds: ['a'], change: { reversed: true } })
  const split = splitRegions.apply(base, { regionIds: ['a'], frames: [9000, 24000] })
  const cases: [string, Session][] = [
    ['at a region offset', base],
    ['reversed', reversed],
    ['split', split],
    ['trimmed', trimRegions.apply(base, { regionIds: ['a'], edge: 'start', byFrames: 5000 })],
    [
      'split and reversed',
      setRegion.apply(split, { regionIds: Object.keys(split.regions), change: { reversed: true } }),
    ],
    ['in a linked copy', duplicateRegions.apply(base, { regionIds: ['a'], times: 1, linked: true })],
    ['moved', moveRegions.apply(base, { regionIds: ['a'], byFrames: 777, byTracks: 0 })],
  ]
  test.each(cases)('%s', (_name, session) => {
    const heard = sound(session, 100000)
    let worst = 0
    for (const r of Object.values(session.regions))
      for (let n = r.start; n < r.start + r.length; n++) {
        const f = r.reversed ? r.offset + r.length - 1 - (n - r.start) : r.offset + n - r.start
        worst = Math.max(worst, Math.abs(heard[n]! - noise[f]! * gain(f)))
      }
    expect(worst).toBeLessThan(1e-6)
  })
})

test('a linked copy that gets a thread of its own sounds as before', () => {
  const linked = duplicateRegions.apply(one(), { regionIds: ['a'], times: 1, linked: true })
  expect(sameSound(linked, unlinkRegions.apply(linked, { regionIds: ['a~1'] }), 100000)).toBe(true)
})
