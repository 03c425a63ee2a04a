import { LoudnessMeter } from '../src/core/measure/loudness'
import { VoicingMeter } from '../src/core/measure/voicing'
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
  type PhraseSteps,
} from '../src/core/suggest/even-out'
import { proposeMatch } from '../src/core/suggest/match'
import { noiseAndSignal } from '../src/core/suggest/noise-floor'
import { seededRandom } from '../src/core/units/random'
import { heightToDb } from '../src/core/units/taper'
import { openSample, type Sample } from './sample.test-util'
import { runs } from '../src/core/units/runs.test-util'

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

test('even out at 100 % brings the narrator’s phrases within 1 LU of each other, and gaps keep the gain of their neighbours', () => {
  const { session } = demo
  const stepsOf = (s: Session, id: string) => phraseSteps(soundOf(s, id)[0]!).powers
  const ids = ['n1', 'n2', 'n3', 'n4', 'n5']
  const phrases = new Map<string, Phrase[]>(
    ids.map((id) => {
      const steps = phraseSteps(soundOf(session, id)[0]!)
      return [id, findPhrases(steps, 48000, usualFloor(steps.powers))]
    }),
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
    const gains = list.map((p) => phraseGain(p, median, { percent: 100, boostDb: 12, cutDb: 12 }))
    const knots = evenOutThread(list, gains, 1440)
    expect(knots.length).toBeLessThanOrEqual(2 * list.length)
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
      for (let f = 0; f < region.length; f += 240) {
        const [before, later] = [list.findLastIndex((p) => p.to <= f), list.findIndex((p) => p.from >= f)]
        if (later - before !== 1 && before !== list.length - 1) continue
        const beside = [gains[before], gains[later]].filter((g) => g !== undefined)
        const db = heightToDb(threadValue(knots, f))
        expect(db).toBeGreaterThan(Math.min(...beside) - 0.01)
        expect(db).toBeLessThan(Math.max(...beside) + 0.01)
      }
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

const phraseSteps = (samples: Float32Array): PhraseSteps => {
  const meter = new LoudnessMeter(48000, 1, PHRASE_STEP_SECONDS)
  meter.add([samples])
  const voice = new VoicingMeter(48000, PHRASE_STEP_SECONDS)
  voice.add([samples])
  return { powers: meter.steps, voicing: voice.finish() }
}
const lufsOf = (samples: Float32Array) => {
  const steps = phraseSteps(samples).powers
  return -0.691 + 10 * Math.log10(steps.reduce((a, b) => a + b, 0) / steps.length)
}

describe('even out in noise: eight phrases 17.9 LU apart with pauses of 0.7 s', () => {
  test.each(runs([-60, -35], [-60, -50, -40, -35]))(
    'pink noise of %d dBFS behind speech of -20 LUFS',
    (noiseDb) => {
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
      const found = noiseAndSignal(phraseSteps(sound).powers, PHRASE_STEP_SECONDS)
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
    },
  )
})

test('lone breaths and knocks are no phrases, and the room between words does not jump', () => {
  const rate = 48_000
  const random = seededRandom(8)
  const word = soundOf(demo.session, 'n2')[0]!
  const [first] = findPhrases(phraseSteps(word), rate, -38)
  const spoken = word.slice(first!.from, first!.to)
  // Room tone of -55 dBFS; the same words loud and soft 0.4 s apart, a breath of 0.5 s and a knock between two of them.
  const sound = pinkNoise(12 * rate, -55, random)
  const at = (seconds: number, part: Float32Array, gain: number) => {
    const from = Math.round(seconds * rate)
    for (let i = 0; i < part.length; i++) sound[from + i] = sound[from + i]! + gain * part[i]!
    return { from, to: from + part.length }
  }
  const length = spoken.length / rate
  const words = [at(0.5, spoken, 1), at(0.9 + length, spoken, 0.4), at(6.5, spoken, 0.5)]
  const breath = Float32Array.from(
    { length: rate / 2 },
    (_, i) => 0.05 * Math.sin((Math.PI * i * 2) / rate) * (random() - 0.5),
  )
  at(4.4, breath, 1)
  at(
    5.6,
    Float32Array.from({ length: rate / 10 }, (_, i) => Math.exp(-i / 900) * (random() - 0.5)),
    0.4,
  )
  const phrases = findPhrases(phraseSteps(sound), rate, -45)
  // Without asking for a voice, the breath is taken for one.
  expect(findPhrases({ ...phraseSteps(sound), voicing: null }, rate, -45).length).toBeGreaterThan(3)
  expect(phrases).toHaveLength(3)
  phrases.forEach((p, i) => expect(Math.abs(p.from - words[i]!.from)).toBeLessThan(0.15 * rate))
  const median = medianLoudness(phrases)
  const gains = phrases.map((p) => phraseGain(p, median, { percent: 100, boostDb: 12, cutDb: 18 }))
  const knots = evenOutThread(phrases, gains, 0.03 * rate)
  // Within a gap the level moves evenly (by the fader's taper, so nearly evenly in dB); what lies before and after keeps its neighbour's gain.
  const db = (frame: number) => heightToDb(threadValue(knots, frame))
  const [a, b] = [phrases[0]!.to, phrases[1]!.from]
  for (let f = a; f + 960 <= b; f += 960)
    expect(Math.abs(db(f + 960) - db(f))).toBeLessThanOrEqual(
      1.3 * ((Math.abs(gains[1]! - gains[0]!) * 960) / (b - a)),
    )
  expect(db(0)).toBeCloseTo(gains[0]!, 6)
  expect(db(12 * rate)).toBeCloseTo(gains[2]!, 6)
})
