import { LoudnessMeter } from '../src/core/measure/loudness'
import { RegionMeter, type RegionMeasure } from '../src/core/measure/region-meter'
import { setClipGain, withKnots } from '../src/core/edit'
import type { Session } from '../src/core/model/session'
import { threadValue } from '../src/core/curve/thread'
import { crossfadeSides, planRegion, RegionRenderer } from '../src/core/render'
import {
  evenOutThread,
  findPhrases,
  medianLoudness,
  phraseGain,
  PHRASE_STEP_SECONDS,
  usualFloor,
  type Phrase,
} from '../src/core/suggest/even-out'
import { proposeMatch } from '../src/core/suggest/match'
import { UNITY_HEIGHT } from '../src/core/units/taper'
import { openSample, type Sample } from './sample.test-util'

let demo: Sample
beforeAll(async () => void (demo = await openSample()), 120_000)

/** A region as it leaves its gain stages. */
function soundOf(session: Session, id: string): Float32Array[] {
  const region = session.regions[id]!
  const out = Array.from(
    { length: session.sources[region.sourceId]!.channels },
    () => new Float32Array(region.length),
  )
  new RegionRenderer(demo.reader).render(
    planRegion(session, region, crossfadeSides(session).get(id)),
    region.start,
    out,
  )
  return out
}

function measured(session: Session, id: string): RegionMeasure {
  const out = soundOf(session, id)
  const meter = new RegionMeter(session.sampleRate, out.length)
  meter.add(out)
  return meter.finish()
}

test('match to -23 LUFS lands within 0.1 LU on every region of the sample session that is long enough to have a loudness', () => {
  // The long ones are looked at over a few seconds.
  const session: Session = {
    ...demo.session,
    regions: Object.fromEntries(
      Object.values(demo.session.regions).map((r) => [
        r.id,
        { ...r, length: Math.min(r.length, 4 * 48000), fadeIn: null, fadeOut: null },
      ]),
    ),
  }
  const ids = ['n1', 'n2', 'n3', 'n4', 'n5', 'w22', 'm1', 'c2', 'b2', 'e2', 'e4', 'k4']
  const proposals = proposeMatch(
    ids.map((regionId) => ({
      regionId,
      clipGainDb: session.regions[regionId]!.clipGainDb,
      measure: measured(session, regionId),
    })),
    { kind: 'loudness', targetDb: -23, ceilingDb: 0, hold: false },
  )
  for (const { regionId, toDb, after, held } of proposals) {
    expect([regionId, held]).toEqual([regionId, null])
    const out = soundOf(setClipGain.apply(session, { regionIds: [regionId], db: toDb }), regionId)
    const meter = new LoudnessMeter(48000, out.length)
    meter.add(out)
    expect(Math.abs(meter.loudness().integrated + 23)).toBeLessThan(0.1)
    expect(meter.loudness().integrated).toBeCloseTo(after, 3)
  }
})

test('even out at 100 % brings the narrator’s phrases within 1 LU of each other, and raises no gap', () => {
  const { session } = demo
  const stepsOf = (s: Session, id: string) => {
    const meter = new LoudnessMeter(48000, 1, PHRASE_STEP_SECONDS)
    meter.add(soundOf(s, id))
    return meter.steps
  }
  const ids = ['n1', 'n2', 'n3', 'n4', 'n5']
  const phrases = new Map<string, Phrase[]>(
    ids.map((id) => [id, findPhrases(stepsOf(session, id), 48000, usualFloor(stepsOf(session, id)))]),
  )
  const all = [...phrases.values()].flat()
  const median = medianLoudness(all)
  expect(all.length).toBeGreaterThan(8)
  // Before: the shouted line stands out by far.
  expect(Math.max(...all.map((p) => p.loudness)) - Math.min(...all.map((p) => p.loudness))).toBeGreaterThan(6)
  const after: number[] = []
  for (const id of ids) {
    const region = session.regions[id]!
    const list = phrases.get(id)!
    const knots = evenOutThread(
      list,
      list.map((p) => phraseGain(p, median, { percent: 100, boostDb: 12, cutDb: 12 })),
      1440,
    )
    expect(knots.length).toBeLessThanOrEqual(4 * list.length)
    const shaped = withKnots(
      session,
      { kind: 'region', regionId: id },
      knots.map((k) => ({ ...k, frame: k.frame + region.offset })),
    )
    const steps = stepsOf(shaped, id)
    const mean = (p: Phrase) => {
      const [a, b] = [p.from / 960, p.to / 960]
      return -0.691 + 10 * Math.log10(steps.slice(a, b).reduce((x, y) => x + y, 0) / (b - a))
    }
    after.push(...list.map(mean))
    if (knots.length)
      for (let f = 0; f < region.length; f += 240)
        if (!list.some((p) => f > p.from && f < p.to))
          expect(threadValue(knots, f)).toBeLessThanOrEqual(UNITY_HEIGHT + 1e-12)
    // The breath before the line stays under the floor, and is none.
    expect(list.every((p) => p.loudness > -34)).toBe(true)
  }
  expect(Math.max(...after) - Math.min(...after)).toBeLessThan(1)
})
