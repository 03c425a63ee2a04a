import { mendSeams } from '../edit'
import { SEAM_SECONDS, seamStandsDb } from '../measure/seam'
import { testRegion, testSession } from '../model/fixture.test-util'
import type { Session } from '../model/session'
import { planSession, Renderer } from '../render'
import { listSeams, measureSeamOf } from './seams'

const RATE = 48000
const bass = Float32Array.from({ length: 480000 }, (_, n) => 0.5 * Math.cos((2 * Math.PI * 80 * n) / RATE))
const reader = {
  read: (_id: string, _c: number, frame: number, count: number, out: Float32Array) =>
    void out.set(bass.subarray(frame, frame + count)),
}

/** By how much the sound stands out at a frame of the track, in dB. */
function standsAt(session: Session, frame: number): number {
  const window = RATE * SEAM_SECONDS
  const left = new Float32Array(2 * window)
  new Renderer(planSession(session, { trackId: 't' }), reader).renderStage(
    'clip',
    frame - window,
    left,
    new Float32Array(2 * window),
  )
  const sides = [left.slice(0, window), left.slice(window)].map((side) => Float64Array.from(side))
  return seamStandsDb(sides[0]!, sides[1]!, RATE)
}

test('a bass that begins at its crest gets a fade long enough that nothing of it stands out', () => {
  const session = testSession([testRegion('a', { start: 24000, length: 48000 })])
  const [begins] = listSeams(session)
  const { clicks, jump, cure } = measureSeamOf(session, begins!, reader)
  expect(clicks).toBe(true)
  expect(jump).toBeCloseTo(0.5, 1)
  expect(standsAt(session, 24000)).toBeGreaterThan(20)
  // A fade of 1 ms keeps it from stepping, and is still heard as a tick in the octaves above.
  const shortest = mendSeams.apply(session, {
    cures: [{ kind: 'fade', regionId: 'a', edge: 'in', lengthFrames: 48 }],
  })
  expect(standsAt(shortest, 24000 + 24)).toBeGreaterThan(10)
  expect(cure!.lengthFrames).toBeGreaterThanOrEqual(480)
  const mended = mendSeams.apply(session, { cures: [cure!] })
  for (const at of [0, 0.5, 1])
    expect(standsAt(mended, 24000 + Math.round(at * cure!.lengthFrames))).toBeLessThan(6.1)
})

test('a join whose halves differ by 0.1 dB is left alone, one that differs by 6 dB is not', () => {
  const joined = (db: number) =>
    testSession([
      testRegion('a', { start: 24000, length: 24000 }),
      testRegion('b', { start: 48000, offset: 24000, length: 24000, clipGainDb: db }),
    ])
  const join = (db: number) =>
    measureSeamOf(
      joined(db),
      listSeams(joined(db)).find((s) => s.kind === 'join')!,
      reader,
    )
  expect(join(0.1).clicks).toBe(false)
  expect(join(6)).toMatchObject({ clicks: true, cure: { kind: 'crossfade' } })
})
