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
import { noiseAndSignal } from '../src/core/suggest/noise-floor'
import { seededRandom } from '../src/core/units/random'
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

/**
 * Pink noise of an RMS, by a sum of one-pole filters of white noise (P. Kellet's, flat within 0.5 dB from 20
 * Hz up).
 */
function pinkNoise(frames: number, rmsDb: number, random: () => number): Float32Array {
  const poles = [0.99886, 0.99332, 0.969, 0.8665, 0.55, -0.7616]
  const gains = [0.0555179, 0.0750759, 0.153852, 0.3104856, 0.5329522, -0.016898]
  const state = new Float64Array(6)
  const out = new Float32Array(frames)
  let sum = 0
  for (let i = 0, before = 0; i < frames; i++) {
    const white = random() * 2 - 1
    let x = white * 0.5362 + before
    for (let p = 0; p < 6; p++) x += state[p] = poles[p]! * state[p]! + white * gains[p]!
    before = white * 0.115926
    out[i] = x
    sum += x * x
  }
  const scale = 10 ** (rmsDb / 20) / Math.sqrt(sum / frames)
  for (let i = 0; i < frames; i++) out[i] = out[i]! * scale
  return out
}

const phraseSteps = (samples: Float32Array) => {
  const meter = new LoudnessMeter(48000, 1, PHRASE_STEP_SECONDS)
  meter.add([samples])
  return meter.steps
}
const lufsOf = (samples: Float32Array) => {
  const steps = phraseSteps(samples)
  return -0.691 + 10 * Math.log10(steps.reduce((a, b) => a + b, 0) / steps.length)
}

describe('even out in noise: eight phrases 17.9 LU apart with pauses of 0.7 s', () => {
  test.each([-60, -50, -40, -35])('pink noise of %d dBFS behind speech of -20 LUFS', (noiseDb) => {
    const random = seededRandom(100 - noiseDb)
    const words = ['n1', 'n2', 'n4', 'n5'].flatMap((id) => {
      const sound = soundOf(demo.session, id)[0]!
      return findPhrases(phraseSteps(sound), 48000, -38).map((p) => sound.slice(p.from, p.to))
    })
    const [pause, chosen] = [33_600, Array.from({ length: 8 }, (_, i) => words[(i * 5) % words.length]!)]
    const speech = new Float32Array(chosen.reduce((sum, w) => sum + w.length + pause, pause))
    const places: { from: number; to: number }[] = []
    let at = pause
    chosen.forEach((word, i) => {
      // Every phrase at a level of its own, in no order.
      const gain = 10 ** ((-20 - 8.95 + (17.9 * ((i * 3) % 8)) / 7 - lufsOf(word)) / 20)
      speech.set(
        word.map((x) => x * gain),
        at,
      )
      places.push({ from: at, to: at + word.length })
      at += word.length + pause
    })
    const meter = new LoudnessMeter(48000, 1)
    meter.add([speech])
    const scale = 10 ** ((-20 - meter.loudness().integrated) / 20)
    const noise = pinkNoise(speech.length, noiseDb, random)
    const sound = speech.map((x, i) => x * scale + noise[i]!)
    const found = noiseAndSignal(phraseSteps(sound), PHRASE_STEP_SECONDS)
    expect(Math.abs(found.noise! - lufsOf(noise))).toBeLessThan(1)
    const phrases = findPhrases(phraseSteps(sound), 48000, found.floor)
    const covers = (p: Phrase, w: { from: number; to: number }) =>
      Math.min(p.to, w.to) - Math.max(p.from, w.from) > (w.to - w.from) / 2
    // Of those that stand 6 dB above the noise all but one are found, each by itself, and no noise is taken
    // for a phrase.
    const standing = places.filter(
      (w) => lufsOf(speech.slice(w.from, w.to).map((x) => x * scale)) > lufsOf(noise) + 6,
    )
    expect(standing.length).toBeGreaterThan(4)
    expect(standing.filter((w) => phrases.some((p) => covers(p, w))).length).toBeGreaterThanOrEqual(
      standing.length - 1,
    )
    for (const p of phrases) expect(places.filter((w) => p.from < w.to && p.to > w.from)).toHaveLength(1)
    const gains = phrases.map((p) =>
      phraseGain(p, medianLoudness(phrases), { percent: 100, boostDb: 12, cutDb: 18 }),
    )
    const after = phrases.map((p, i) => p.loudness + gains[i]!)
    expect(Math.max(...after) - Math.min(...after)).toBeLessThan(2)
  })
})
