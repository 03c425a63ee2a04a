import { createHash } from 'node:crypto'
import { createBus, createSession, createTrack } from '../src/core/model/create'
import { OWN_PRESETS } from '../src/core/model/inserts/presets'
import { brokenRules, breachLine } from '../src/core/model/check/rules'
import type { GainFade, Region, Session, Track } from '../src/core/model/session'
import { writePackageTo } from '../src/formats/package-write'
import { interleavedBytes } from '../src/formats/samples-hash'
import { narratorTakes, type Take } from './narrator'
import { bell, drone, gull, millRace, pedalBass, sluiceGate, wheelTurn } from './sounds'
import { at, RATE, sixteenBit } from './synth'

/** The sample session with its sound, one array a channel, by source id. */
export interface Demo {
  session: Session
  sounds: Map<string, Float32Array[]>
}

const BAR = 2.5

const fade = (seconds: number, curve: GainFade['curve']): GainFade => ({
  kind: 'gain',
  length: at(seconds),
  curve,
  bend: 0,
  level: 0,
})

class Builder {
  readonly session: Session = {
    ...createSession('tide-mill', 'The Tide Mill', RATE),
    tempo: [{ beat: 0, bpm: 96, beatsPerBar: 4, beatUnit: 4 }],
  }
  readonly sounds = new Map<string, Float32Array[]>()

  source(id: string, name: string, channels: Float32Array[]): void {
    const kept = channels.map(sixteenBit)
    this.session.sources[id] = {
      id,
      name,
      channels: kept.length as 1 | 2,
      frames: kept[0]!.length,
      sampleRate: RATE,
      sha256: createHash('sha256').update(interleavedBytes(kept)).digest('hex'),
      origin: { fileName: name, sampleRate: RATE, format: '16-bit' },
    }
    this.sounds.set(id, kept)
  }

  track(id: string, name: string, channels: 1 | 2, settings: Partial<Track>): void {
    this.session.tracks[id] = {
      ...createTrack(id, name, channels, this.session.trackIds.length),
      ...settings,
    }
    this.session.trackIds.push(id)
  }

  /** Adds a region; times in seconds. */
  region(
    id: string,
    trackId: string,
    sourceId: string,
    name: string,
    start: number,
    offset: number,
    length: number,
    more: Partial<Region> = {},
  ): void {
    this.session.regions[id] = {
      id,
      trackId,
      sourceId,
      name,
      start: at(start),
      offset: at(offset),
      length: at(length),
      clipGainDb: 0,
      polarity: 1,
      reversed: false,
      muted: false,
      gainThreadId: null,
      fadeIn: null,
      fadeOut: null,
      ...more,
    }
  }
}

/** The loudest voiced moment near a time of a take, in seconds: where a cut is sure to be heard. */
function loudMoment(take: Take, near: number, sign: 1 | -1): number {
  let best = at(near)
  for (let i = at(near - 0.12); i < at(near + 0.12); i++)
    if (take.samples[i]! * sign > take.samples[best]! * sign) best = i
  return best / RATE
}

function narrate(b: Builder, [one, two, three]: [Take, Take, Take]): void {
  b.source('take-1', 'narrator take 1.wav', [one.samples])
  b.source('take-2', 'narrator take 2.wav', [two.samples])
  b.source('take-3', 'narrator take 3.wav', [three.samples])
  // The shout of take 2 is far too loud for the compressor: it matters whether it is lowered before or after it.
  b.track('narrator', 'Narrator', 1, {
    volumeDb: 1,
    pan: 0,
    inserts: OWN_PRESETS.find(({ name }) => name === 'Speech, ready')!.inserts.map(({ kind, values }) => ({
      id: `narrator-${kind}`,
      kind,
      bypassed: false,
      values,
    })),
    sends: [{ id: 'to-room', to: 'room', levelDb: -16, muted: false, point: 'post' }],
  })
  b.region('n1', 'narrator', 'take-1', 'walk-in, take 1', 2 * BAR, 0.2, one.samples.length / RATE - 0.4)
  // The punch-in: take 2 is left in the middle of a word, and take 3 comes in there, each at a loud moment of
  // opposite sign.
  const line2 = two.lines['5-hammers']!
  const line3 = three.lines['5-hammers-again']!
  const out = loudMoment(two, line2.from + 2.35, 1)
  const into = loudMoment(three, line3.from + 2.3, -1)
  b.region('n2', 'narrator', 'take-2', 'wheel pit, take 2', 8 * BAR, 0.2, out - 0.2)
  const join = 8 * BAR + at(out - 0.2) / RATE
  b.region('n3', 'narrator', 'take-3', 'hammers, take 3', join, into, line3.to + 0.3 - into)
  const keeper = three.lines['6-keeper']!
  b.region(
    'n4',
    'narrator',
    'take-3',
    'the keeper, take 3',
    19 * BAR,
    keeper.from - 0.55,
    keeper.to - keeper.from + 0.85,
  )
  // The last tail is cut off before the word has ended.
  const slack = three.lines['7-slack']!
  const end = three.lines['8-end']!
  b.region(
    'n5',
    'narrator',
    'take-3',
    'slack water, take 3',
    25.5 * BAR,
    slack.from - 0.55,
    end.to - 0.16 - (slack.from - 0.55),
  )
}

/** Builds "The Tide Mill": 36 bars at 96 bpm, a minute and a half, with the faults that its users are to mend. */
export async function tideMill(): Promise<Demo> {
  const b = new Builder()
  narrate(b, await narratorTakes())

  b.source('wheel', 'wheel turn.wav', [wheelTurn()])
  b.track('wheel', 'Mill wheel', 1, { volumeDb: -9, pan: -0.25 })
  b.session.gainThreads['wheel-turn'] = { id: 'wheel-turn', knots: [] }
  for (let n = 0; n < 22; n++)
    b.region(`w${n + 1}`, 'wheel', 'wheel', 'wheel turn', (6 + n) * BAR, 0, 2.5, {
      gainThreadId: 'wheel-turn',
      fadeOut: n === 21 ? fade(1.5, 'linear') : null,
    })

  b.source('race', 'mill race.wav', millRace())
  b.track('race', 'Mill race', 2, { volumeDb: -15, pan: 0 })
  for (let n = 0; n < 3; n++)
    b.region(`m${n + 1}`, 'race', 'race', 'mill race', n * 30, 0, 30, {
      fadeIn: n === 0 ? fade(3, 'equal-power') : null,
      fadeOut: n === 2 ? fade(5, 'linear') : null,
    })

  b.source('drone-d', 'drone in D.wav', [drone([146.83, 220], 1)])
  b.source('drone-g', 'drone in G.wav', [drone([196, 293.66], 2)])
  b.track('concertina', 'Concertina', 1, { volumeDb: -17, pan: 0.3 })
  b.region('c1', 'concertina', 'drone-d', 'drone in D', 9 * BAR, 0, 24.5, { fadeIn: fade(2, 'linear') })
  b.region('c2', 'concertina', 'drone-g', 'drone in G', 9 * BAR + 24.5, 0.7, 25, {
    fadeOut: fade(2.5, 'equal-power'),
  })

  b.source('bass', 'pedal bass.wav', [pedalBass()])
  b.track('bass', 'Pedal bass', 1, { volumeDb: -14, pan: 0 })
  b.region('b1', 'bass', 'bass', 'pedal', 10 * BAR, 0, 25, { fadeIn: fade(0.02, 'linear') })
  b.region('b2', 'bass', 'bass', 'pedal', 10 * BAR + 25, 0, 20, { fadeOut: fade(0.5, 'linear') })

  b.source('gulls', 'gulls.wav', [gull(4, 1350)])
  b.source('gull', 'one gull.wav', [gull(2, 1520)])
  b.source('gate', 'sluice gate.wav', [sluiceGate(60)])
  b.track('effects', 'Gulls and gates', 1, { volumeDb: -8, pan: 0.45 })
  b.region('e1', 'effects', 'gulls', 'gulls', 1.25, 0, 1.98)
  b.region('e2', 'effects', 'gate', 'sluice gate', 17 * BAR, 0, 4.2)
  b.region('e3', 'effects', 'gulls', 'gulls', 21.5 * BAR, 0, 1.98)
  b.region('e4', 'effects', 'gull', 'one gull', 23 * BAR, 0, 1.14)
  b.region('e5', 'effects', 'gate', 'sluice gate', 24 * BAR - 0.6, 0, 4.2)

  b.source('bell', 'harbour bell.wav', [bell()])
  b.track('bells', 'Bells', 1, { volumeDb: -7, pan: -0.15 })
  ;[31, 32, 33].forEach((bar, n) =>
    b.region(`k${n + 1}`, 'bells', 'bell', `stroke ${n + 1}`, bar * BAR, 0, 2.5, {
      fadeOut: fade(0.25, 'linear'),
    }),
  )
  b.region('k4', 'bells', 'bell', 'stroke 4', 34 * BAR, 0, 5, { fadeOut: fade(1, 'linear') })

  b.session.buses.room = {
    ...createBus('room', 'Room', b.session.trackIds.length),
    inserts: [
      {
        id: 'room-room',
        kind: 'room',
        bypassed: false,
        values: { size: 0.35, decaySeconds: 0.9, dampingHz: 5000, preDelayMs: 18, mix: 1 },
      },
    ],
  }
  b.session.busIds.push('room')

  b.session.markers = [
    { id: 'gate', frame: at(2 * BAR), name: 'at the gate' },
    { id: 'pit', frame: at(8 * BAR), name: 'wheel pit' },
    { id: 'keeper', frame: at(17 * BAR), name: 'the keeper' },
    { id: 'bells', frame: at(31 * BAR), name: 'bells' },
  ]
  const broken = brokenRules(b.session)
  if (broken.length) throw new Error(broken.map(breachLine).join('\n'))
  return { session: b.session, sounds: b.sounds }
}

/** The sample session as the bytes of a package. */
export async function tideMillPackage(): Promise<Uint8Array<ArrayBuffer>> {
  const { session, sounds } = await tideMill()
  const parts: Uint8Array[] = []
  await writePackageTo(session, {
    write: (bytes) => void parts.push(bytes.slice()),
    sound: async function* ({ id }) {
      yield sounds.get(id)!
    },
  })
  return new Uint8Array(await new Blob(parts as BlobPart[]).arrayBuffer())
}
