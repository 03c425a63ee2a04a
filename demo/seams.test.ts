import { mendSeams, type Cure } from '../src/core/edit'
import { seededRandom } from '../src/core/units/random'
import { measureSeam, SEAM_SECONDS } from '../src/core/measure/seam'
import { brokenRules } from '../src/core/model/check/rules'
import { regionEnd } from '../src/core/model/queries'
import type { Session } from '../src/core/model/session'
import { planSession, Renderer } from '../src/core/render'
import { listSeams, measureSeamOf } from '../src/core/suggest/seams'
import { openSample, type Sample } from './sample.test-util'

let demo: Sample
beforeAll(async () => void (demo = await openSample()), 120_000)

const WINDOW = 48000 * SEAM_SECONDS

/** A track as it is before its inserts, in 64 bits, left side. */
function trackSound(session: Session, trackId: string, frames: number): Float64Array {
  const left = new Float32Array(frames)
  new Renderer(planSession(session, { trackId }), demo.reader).renderStage(
    'clip',
    0,
    left,
    new Float32Array(frames),
  )
  return Float64Array.from(left)
}

test('of points inside continuous sound at most 2 % are called clicks, of random splices with a step above 0.02 at least 95 %', () => {
  const { session } = demo
  const random = seededRandom(2026)
  const tracks = session.trackIds.map((id) => {
    const sound = trackSound(session, id, planSession(session).length)
    const edges = Object.values(session.regions)
      .filter((r) => r.trackId === id)
      .flatMap((r) => [r.start, regionEnd(r)])
    const inside: number[] = []
    for (let tries = 0; tries < 2500 && inside.length < 200; tries++) {
      const frame = WINDOW + Math.floor(random() * (sound.length - 2 * WINDOW))
      if (edges.some((e) => Math.abs(e - frame) < WINDOW + 20)) continue
      if (sound.subarray(frame - WINDOW, frame + WINDOW).some((x) => Math.abs(x) > 0.004)) inside.push(frame)
    }
    return { sound, inside }
  })
  const sides = (sound: Float64Array, frame: number) =>
    [sound.slice(frame - WINDOW, frame), sound.slice(frame, frame + WINDOW)] as const
  const inside = tracks.flatMap(({ sound, inside: frames }) =>
    frames.map((f) => measureSeam(...sides(sound, f), 48000)),
  )
  const splices = []
  for (let tries = 0; tries < 60_000 && splices.length < 600; tries++) {
    const { sound, inside: frames } = tracks[Math.floor(random() * tracks.length)]!
    const [a, b] = [
      frames[Math.floor(random() * frames.length)]!,
      frames[Math.floor(random() * frames.length)]!,
    ]
    if (Math.abs(sound[a - 1]! - sound[b]!) > 0.02)
      splices.push(measureSeam(sides(sound, a)[0], sides(sound, b)[1], 48000))
  }
  const rate = (list: { clicks: boolean }[]) => list.filter((s) => s.clicks).length / list.length
  console.log(
    `called clicks: ${(100 * rate(inside)).toFixed(2)} % of ${inside.length} points ` +
      `inside sound, ${(100 * rate(splices)).toFixed(2)} % of ${splices.length} splices`,
  )
  expect(inside.length).toBeGreaterThan(800)
  expect(splices).toHaveLength(600)
  expect(rate(inside)).toBeLessThanOrEqual(0.02)
  expect(rate(splices)).toBeGreaterThanOrEqual(0.95)
})

test('mending all seams of the sample session leaves none that clicks, and changes no sample outside what was mended', () => {
  const { session } = demo
  const measured = listSeams(session).map((seam) => measureSeamOf(session, seam, demo.reader))
  const clicking = measured.filter((s) => s.clicks)
  // The punch-in in the middle of a word is among them.
  expect(clicking.map((s) => s.id)).toContain('join n2 n3')
  expect(clicking.every((s) => s.cure !== null)).toBe(true)
  const cures = clicking.map((s) => s.cure!)
  const mended = mendSeams.apply(session, { cures })
  expect(brokenRules(mended)).toEqual([])
  expect(
    listSeams(mended)
      .map((seam) => measureSeamOf(mended, seam, demo.reader))
      .filter((s) => s.clicks)
      .map((s) => s.id),
  ).toEqual([])
  const frames = planSession(session).length
  const touched = (cure: Cure, trackId: string): [number, number][] => {
    const ids = cure.kind === 'fade' ? [cure.regionId] : [cure.leftId, cure.rightId]
    return ids
      .filter((id) => mended.regions[id]!.trackId === trackId)
      .map((id) => {
        const r = mended.regions[id]!
        if (cure.kind === 'fade')
          return cure.edge === 'in'
            ? [r.start, r.start + cure.lengthFrames]
            : [regionEnd(r) - cure.lengthFrames, regionEnd(r)]
        const join = session.regions[ids[1]!]!.start
        return [join - cure.lengthFrames, join + cure.lengthFrames]
      })
  }
  for (const id of session.trackIds) {
    const [before, after] = [trackSound(session, id, frames), trackSound(mended, id, frames)]
    const spans = cures.flatMap((c) => touched(c, id))
    let changed = 0
    for (let n = 0; n < frames; n++)
      if (before[n] !== after[n]) changed += spans.some(([from, to]) => n >= from && n < to) ? 0 : 1
    expect([id, changed]).toEqual([id, 0])
  }
}, 60_000)
