import fs from 'node:fs'
import path from 'node:path'
import { checkSession } from '../src/core/model/check/rules'
import type { Session } from '../src/core/model/session'
import { planSession, Renderer } from '../src/core/render'
import { bytesOf } from '../src/formats/bytes'
import { readPackage, sourceSamples } from '../src/formats/package'
import { samplesHash } from '../src/formats/samples-hash.test-util'
import { CLICK_AFTER, lineTimes, LOUD_LINE_DB, script, type Take } from './narrator'
import { bell, gull, wheelTurn } from './sounds'
import { activeRms, at, peakOf, sixteenBit } from './synth'

// The package that the build serves; `npm test` makes it anew whenever its generator has changed.
const file = path.join(__dirname, '../public/sample/tide-mill.oaken.zip')
const sounds = new Map<string, Float32Array[]>()
let session: Session
let mix: Float32Array[]
let takes: Take[]
beforeAll(async () => {
  const opened = await readPackage(bytesOf(fs.readFileSync(file)))
  session = opened.session
  for (const source of Object.values(session.sources))
    sounds.set(source.id, await sourceSamples(source, await opened.audio(source.sha256)))
  takes = await Promise.all(
    script.map(async (lines, i) => ({ samples: sound(`take-${i + 1}`), lines: await lineTimes(lines) })),
  )
  const plan = planSession(session)
  mix = [new Float32Array(plan.length), new Float32Array(plan.length)]
  new Renderer(plan, {
    read: (id, c, frame, count, out) => out.set(sounds.get(id)![c]!.subarray(frame, frame + count)),
  }).render(0, mix[0]!, mix[1]!)
}, 120_000)

const db = (x: number) => 20 * Math.log10(x)
const sound = (id: string, channel = 0) => sounds.get(id)![channel]!
const rms = (x: Float32Array) => Math.sqrt(x.reduce((sum, v) => sum + v * v, 0) / x.length)
const part = (x: Float32Array, from: number, seconds: number) => x.subarray(at(from), at(from + seconds))

/** Level of one frequency in dB: Goertzel's algorithm. */
function toneDb(x: Float32Array, hz: number): number {
  const k = 2 * Math.cos((2 * Math.PI * hz) / 48000)
  let [a, b] = [0, 0]
  for (const v of x) [a, b] = [v + k * a - b, a]
  return db((2 * Math.sqrt(a * a + b * b - k * a * b)) / x.length)
}

test('keeps the rules, lasts a minute and a half, and its mix does not clip', () => {
  expect(checkSession(JSON.parse(JSON.stringify(session)))).toEqual([])
  expect(mix[0]!.length).toBe(90 * 48000)
  expect(db(Math.max(...mix.map(peakOf)))).toBeLessThan(-0.5)
  expect(db(rms(mix[0]!))).toBeGreaterThan(-32)
  for (const [id, channels] of sounds) expect([id, db(peakOf(channels[0]!)) < -0.05]).toEqual([id, true])
})

test('the narrator: one line far too loud, breaths, one mouth click, a join that pops, a tail cut off', () => {
  const [one, two] = takes as [Take, Take, Take]
  const line = (take: Take, name: string) =>
    part(take.samples, take.lines[name]!.from, take.lines[name]!.to - take.lines[name]!.from)
  const louder = db(activeRms(line(two, '4-rail')) / activeRms(line(two, '3-listen')))
  expect(Math.abs(louder - LOUD_LINE_DB)).toBeLessThan(2)
  // A breath in the half second before a line lies well above the room and well below the voice.
  const breath = part(one.samples, one.lines['2-twice']!.from - 0.4, 0.3)
  expect(db(rms(breath))).toBeGreaterThan(-50)
  expect(db(rms(breath))).toBeLessThan(-30)
  const click = part(one.samples, one.lines['1-stop']!.to + CLICK_AFTER, 0.003)
  const around = part(one.samples, one.lines['1-stop']!.to + CLICK_AFTER + 0.01, 0.1)
  expect(peakOf(click) / peakOf(around)).toBeGreaterThan(20)
  const { n2, n3, n5 } = session.regions
  expect(n2!.start + n2!.length).toBe(n3!.start)
  const join = Math.abs(sound('take-2')[n2!.offset + n2!.length - 1]! - sound('take-3')[n3!.offset]!)
  expect(join).toBeGreaterThan(0.1)
  const cut = sound('take-3').subarray(n5!.offset + n5!.length - 480, n5!.offset + n5!.length)
  expect(db(rms(cut))).toBeGreaterThan(-45)
})

test('the wheel: hammers on the four beats of every bar, the third too quiet, linked copies', () => {
  const turn = sound('wheel')
  const hits = [0, 1, 2, 3].map((beat) => peakOf(part(turn, 0.02 + beat * 0.625, 0.05)))
  for (const beat of [0, 1, 3]) expect(db(hits[2]! / hits[beat]!)).toBeLessThan(-8)
  for (const beat of [0, 1, 2, 3])
    expect(peakOf(part(turn, 0.02 + beat * 0.625, 0.02))).toBeGreaterThan(
      4 * peakOf(part(turn, beat * 0.625 - 0.06 + (beat === 0 ? 0.06 : 0), 0.015)),
    )
  const wheels = Object.values(session.regions).filter((r) => r.trackId === 'wheel')
  expect(new Set(wheels.map((r) => r.gainThreadId))).toEqual(new Set(['wheel-turn']))
  expect(wheels.length).toBeGreaterThan(10)
})

test('the race: stereo noise, left 4 dB hotter than right, joined without a seam', () => {
  expect(db(rms(sound('race', 0)) / rms(sound('race', 1)))).toBeCloseTo(4, 0)
  const race = sound('race')
  const step = Math.abs(race[race.length - 1]! - race[0]!)
  const steps = race.subarray(1, 20000).map((x, i) => Math.abs(x - race[i]!))
  expect(step).toBeLessThan(Math.max(...steps))
})

test('drones sound their notes, with more to hear on both sides of the cut; the bass is one static note', () => {
  const d = part(sound('drone-d'), 5, 2)
  expect(toneDb(d, 146.83 * 1.0011) - toneDb(d, 160)).toBeGreaterThan(30)
  const { c1, c2 } = session.regions
  expect(c1!.start + c1!.length).toBe(c2!.start)
  expect(sound('drone-d').length - c1!.offset - c1!.length).toBeGreaterThanOrEqual(at(0.5))
  expect(c2!.offset).toBeGreaterThanOrEqual(at(0.5))
  const bass = sound('bass')
  expect(Math.abs(db(rms(part(bass, 1, 1)) / rms(part(bass, 20, 1))))).toBeLessThan(0.05)
  expect(toneDb(part(bass, 2, 1), 73.4)).toBeGreaterThan(-15)
})

test('gulls fall in pitch, gates clang and rush, four bells ring down at the end', () => {
  expect(
    toneDb(part(sound('gate'), 1.22, 0.3), 92) - toneDb(part(sound('gate'), 0.2, 0.3), 92),
  ).toBeGreaterThan(15)
  const crossings = (x: Float32Array) =>
    x.reduce((n, v, i) => n + (i > 0 && v >= 0 !== x[i - 1]! >= 0 ? 1 : 0), 0)
  expect(crossings(part(sound('gull'), 0.06, 0.05))).toBeGreaterThan(
    crossings(part(sound('gull'), 0.28, 0.05)),
  )
  const strokes = Object.values(session.regions)
    .filter((r) => r.trackId === 'bells')
    .map((r) => r.start / 48000)
    .sort((a, b) => a - b)
  expect(strokes).toEqual([77.5, 80, 82.5, 85])
  for (const start of strokes)
    expect(db(peakOf(part(mix[0]!, start, 0.1)) / peakOf(part(mix[0]!, start - 0.1, 0.09)))).toBeGreaterThan(
      6,
    )
  expect(db(rms(part(sound('bell'), 4, 0.5)) / rms(part(sound('bell'), 0.2, 0.5)))).toBeLessThan(-8)
})

test('is made the same every time', () => {
  for (const [id, channel] of [
    ['wheel', wheelTurn()],
    ['bell', bell()],
    ['gulls', gull(4, 1350)],
  ] as const) {
    expect(samplesHash([sixteenBit(channel)])).toBe(session.sources[id]!.sha256)
  }
})
