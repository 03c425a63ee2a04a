import { setGiveWay, threadOf } from '../src/core/edit'
import { LoudnessMeter } from '../src/core/measure/loudness'
import { brokenRules } from '../src/core/model/check/rules'
import type { GiveWay, Knot, Session } from '../src/core/model/session'
import { planSession, Renderer } from '../src/core/render'
import {
  giveWayKnots,
  GIVE_WAY_STEP_SECONDS,
  usualGiveWay,
  usualThreshold,
  whereOthersSound,
} from '../src/core/suggest/give-way'
import { openSample, type Sample } from './sample.test-util'

let demo: Sample
beforeAll(async () => void (demo = await openSample()), 120_000)

function render(
  session: Session,
  trackIds: readonly string[],
  from: number,
  frames: number,
): [Float32Array, Float32Array] {
  const plan = planSession(session, { trackIds })
  const sides: [Float32Array, Float32Array] = [new Float32Array(frames), new Float32Array(frames)]
  new Renderer(plan, demo.reader).renderStage('track', from, ...sides)
  return sides
}

test('the music is down by the depth before each gull and gate begins, and back after the release; making it anew changes nothing', () => {
  const { session } = demo
  const length = planSession(session).length
  const meter = new LoudnessMeter(48000, 2, GIVE_WAY_STEP_SECONDS)
  meter.add(render(session, ['effects'], 0, length))
  const settings = { ...usualGiveWay, depthDb: 9, thresholdLufs: usualThreshold(meter.steps) }
  const made = (s: Session): Session => {
    const lanes: Record<string, { knots: Knot[]; giveWay: GiveWay }> = {}
    const places = whereOthersSound(meter.steps, 48000, settings)
    for (const id of ['concertina', 'race']) {
      const { knots, kind } = threadOf(s, { kind: 'lane', trackId: id, lane: 'volume' })!
      const before =
        s.tracks[id]!.lanes.volume?.giveWay?.base ??
        (knots.length ? [...knots] : [{ frame: 0, value: kind.neutral, shape: 'line' as const, bend: 0 }])
      lanes[id] = {
        knots: giveWayKnots(before, places, settings, 48000),
        giveWay: { ...settings, others: ['effects'], base: [...before] },
      }
    }
    return setGiveWay.apply(s, { lanes })
  }
  const ducked = made(session)
  expect(brokenRules(ducked)).toEqual([])
  expect(made(ducked)).toEqual(ducked)
  const { knots } = ducked.tracks.race!.lanes.volume!
  expect(knots.length).toBeLessThan(25)
  expect(knots.every((k, i) => i === 0 || k.frame - knots[i - 1]!.frame >= 240)).toBe(true)
  const places = whereOthersSound(meter.steps, 48000, settings)
  expect(places.length).toBeGreaterThanOrEqual(3)
  const level = (s: Session, from: number) =>
    10 * Math.log10(render(s, ['race'], from, 480)[0].reduce((sum, v) => sum + v * v, 0))
  for (const { from, to } of places) {
    for (const at of [from - 600, from, Math.round((from + to) / 2), to])
      expect(Math.abs(level(ducked, at) - level(session, at) + 9)).toBeLessThan(0.5)
    const back = to + (settings.holdMs + settings.releaseMs) * 48
    if (back + 480 < length) expect(Math.abs(level(ducked, back) - level(session, back))).toBeLessThan(0.5)
  }
}, 60_000)
