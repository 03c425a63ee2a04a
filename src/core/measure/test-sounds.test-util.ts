import { seededRandom } from '../units/random'

/** Sounds for tests of detectors, made at any rate: each so many seconds, around -12 dBFS. */
export const testSoundKinds = ['speech', 'drums', 'instruments', 'tones'] as const
export type TestSoundKind = (typeof testSoundKinds)[number]

/** A resonance (two poles) over a sound, in place: at a frequency and a bandwidth in Hz. */
function resonate(x: Float64Array, rate: number, frequency: number, bandwidth: number): void {
  const r = Math.exp((-Math.PI * bandwidth) / rate)
  const [a1, a2] = [2 * r * Math.cos((2 * Math.PI * frequency) / rate), -r * r]
  const gain = 1 - r
  let [y1, y2] = [0, 0]
  for (let i = 0; i < x.length; i++) {
    const y = gain * x[i]! + a1 * y1 + a2 * y2
    y2 = y1
    y1 = y
    x[i] = y
  }
}

/** Syllables: pulses of a voice through three formants that change, with noise for consonants, and pauses. */
function speech(rate: number, frames: number, random: () => number): Float64Array {
  const out = new Float64Array(frames)
  for (let at = 0; at < frames;) {
    const length = Math.round(rate * (0.12 + 0.2 * random()))
    const voiced = new Float64Array(Math.min(length, frames - at))
    const pitch = 90 + 120 * random()
    let phase = 0
    for (let i = 0; i < voiced.length; i++) {
      phase += (pitch * (1 + 0.06 * Math.sin((6 * i) / rate))) / rate
      // A glottal flow: rises, and closes within a short time, with some breath.
      const p = phase % 1
      voiced[i] =
        (p < 0.6 ? Math.sin((Math.PI * p) / 1.2) ** 2 : p < 0.7 ? ((0.7 - p) / 0.1) ** 2 : 0) +
        0.01 * (random() - 0.5)
    }
    for (let i = voiced.length - 1; i > 0; i--) voiced[i] = voiced[i]! - voiced[i - 1]!
    const formants = [300 + 500 * random(), 900 + 1300 * random(), 2400 + 600 * random()]
    formants.forEach((f, n) => f < rate * 0.45 && resonate(voiced, rate, f, 60 + 40 * n))
    const peak = voiced.reduce((m, x) => Math.max(m, Math.abs(x)), 1e-9)
    voiced.forEach((x, i) => {
      const edge = Math.min(1, i / (0.02 * rate), (voiced.length - i) / (0.05 * rate))
      out[at + i] = out[at + i]! + (0.4 * x * edge) / peak
    })
    at += length
    if (random() < 0.4) {
      const hiss = Math.round(rate * (0.05 + 0.08 * random()))
      let before = 0
      for (let i = 0; i < hiss && at + i < frames; i++) {
        const white = random() - 0.5
        out[at + i] = out[at + i]! + 0.2 * (white - 0.8 * before) * Math.sin((Math.PI * i) / hiss)
        before = white
      }
      at += hiss
    }
    if (random() < 0.2) at += Math.round(rate * 0.2 * random())
  }
  return out
}

/** A kick, a snare and hats in eighths, with a little room behind. */
function drums(rate: number, frames: number, random: () => number): Float64Array {
  const out = new Float64Array(frames)
  const eighth = Math.round(rate * 0.26)
  for (let at = 0, n = 0; at < frames; at += eighth, n++) {
    const hit = (seconds: number, make: (t: number) => number) => {
      for (let i = 0; i < seconds * rate && at + i < frames; i++) out[at + i] = out[at + i]! + make(i / rate)
    }
    if (n % 4 === 0)
      hit(
        0.25,
        (t) => 0.5 * Math.exp(-t * 14) * Math.sin(2 * Math.PI * (50 * t + 6 * (1 - Math.exp(-t * 30)))),
      )
    if (n % 4 === 2)
      hit(0.2, (t) => Math.exp(-t * 22) * (0.5 * (random() - 0.5) + 0.2 * Math.sin(2 * Math.PI * 190 * t)))
    let before = 0
    hit(0.12, (t) => {
      const white = random() - 0.5
      const high = white - before
      before = white
      return 0.15 * Math.exp(-t * 60) * high
    })
  }
  for (let i = 0; i < frames; i++) out[i] = out[i]! + 0.0005 * (random() - 0.5)
  return out
}

/** Plucked notes and held ones of many harmonics, overlapping. */
function instruments(rate: number, frames: number, random: () => number): Float64Array {
  const out = new Float64Array(frames)
  for (let at = 0; at < frames; at += Math.round(rate * (0.15 + 0.25 * random()))) {
    const base = 110 * 2 ** (Math.floor(random() * 24) / 12)
    const held = random() < 0.4
    const length = rate * (held ? 0.7 : 1)
    for (let h = 1; h <= 24 && h * base < rate * 0.42; h++) {
      const [level, phase] = [0.16 / h ** 1.3, 2 * Math.PI * random()]
      const step = (2 * Math.PI * base * h * (1 + 0.0002 * h * h)) / rate
      for (let i = 0; i < length && at + i < frames; i++) {
        const t = i / rate
        const envelope = held
          ? Math.min(1, t / 0.06, (length / rate - t) / 0.1)
          : Math.min(1, t / 0.003) * Math.exp(-t * (2 + 0.6 * h))
        out[at + i] = out[at + i]! + level * envelope * Math.sin(step * i + phase)
      }
    }
  }
  for (let i = 0; i < frames; i++) out[i] = out[i]! + 0.0002 * (random() - 0.5)
  return out
}

/** Chords of plain sines that glide slowly. */
function tones(rate: number, frames: number, random: () => number): Float64Array {
  const out = new Float64Array(frames)
  for (let voice = 0; voice < 3; voice++) {
    const [f, drift, level] = [120 * 2 ** (random() * 3.5), 0.02 * random(), 0.12 + 0.1 * random()]
    let phase = random()
    for (let i = 0; i < frames; i++) {
      phase += (f * (1 + drift * Math.sin(i / rate))) / rate
      out[i] = out[i]! + level * Math.sin(2 * Math.PI * phase)
    }
  }
  return out
}

const makers = { speech, drums, instruments, tones }

/** A sound of a kind: `seconds` long at `rate` Hz, the same for the same seed. */
export const testSound = (kind: TestSoundKind, rate: number, seconds: number, seed: number): Float64Array =>
  makers[kind](rate, Math.round(rate * seconds), seededRandom(seed))
