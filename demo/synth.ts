import { clamp } from '../src/core/units/clamp'
import { seededRandom } from '../src/core/units/random'

/** Rate of everything in the sample session, in Hz. */
export const RATE = 48000

/** Frames of a time in seconds. */
export const at = (seconds: number) => Math.round(seconds * RATE)

/** A silent channel. */
export const silence = (seconds: number) => new Float32Array(at(seconds))

/** Adds a sound into another from a time on, at a gain; what does not fit is left out. */
export function mixInto(target: Float32Array, sound: Float32Array, seconds: number, gain = 1): void {
  const from = at(seconds)
  for (let i = 0; i < sound.length && from + i < target.length; i++)
    target[from + i] = target[from + i]! + sound[i]! * gain
}

/** White noise of peak 1. */
export function noise(frames: number, seed: number): Float32Array {
  const random = seededRandom(seed)
  return Float32Array.from({ length: frames }, () => random() * 2 - 1)
}

/** A resonant band of a sound: two-pole band-pass (R. Bristow-Johnson's cookbook, 0 dB peak gain). */
export function bandPass(sound: Float32Array, hz: number, q: number): Float32Array {
  const w = (2 * Math.PI * hz) / RATE
  const alpha = Math.sin(w) / (2 * q)
  const a0 = 1 + alpha
  const [b, a1, a2] = [alpha / a0, (-2 * Math.cos(w)) / a0, (1 - alpha) / a0]
  const out = new Float32Array(sound.length)
  let [x1, x2, y1, y2] = [0, 0, 0, 0]
  for (let i = 0; i < sound.length; i++) {
    const y = b * sound[i]! - b * x2 - a1 * y1 - a2 * y2
    ;[x2, x1, y2, y1] = [x1, sound[i]!, y1, y]
    out[i] = y
  }
  return out
}

/** One-pole low-pass. */
export function lowPass(sound: Float32Array, hz: number): Float32Array {
  const k = 1 - Math.exp((-2 * Math.PI * hz) / RATE)
  let y = 0
  return sound.map((x) => (y += k * (x - y)))
}

/** A decaying sine with a soft start. */
export function struck(hz: number, decaySeconds: number, seconds: number, phase = 0): Float32Array {
  return silence(seconds).map(
    (_, i) =>
      Math.sin((2 * Math.PI * hz * i) / RATE + phase) *
      Math.exp(-i / RATE / decaySeconds) *
      Math.min(1, i / 48),
  )
}

/** The sound times an envelope of `seconds → gain`. */
export function enveloped(sound: Float32Array, envelope: (seconds: number) => number): Float32Array {
  return sound.map((x, i) => x * envelope(i / RATE))
}

/** The largest absolute sample. */
export function peakOf(sound: Float32Array): number {
  let peak = 0
  for (let i = 0; i < sound.length; i++) {
    const x = sound[i]!
    if (x > peak) peak = x
    else if (-x > peak) peak = -x
  }
  return peak
}

/** Root of the mean square of the samples above -50 dBFS, so that pauses do not count. */
export function activeRms(sound: Float32Array): number {
  let squares = 0
  let count = 0
  for (const x of sound) if (Math.abs(x) > 0.003) [squares, count] = [squares + x * x, count + 1]
  return Math.sqrt(squares / Math.max(1, count))
}

export const scaled = (sound: Float32Array, gain: number) => sound.map((x) => x * gain)

/** Samples as a 16-bit recorder would have kept them. */
export const sixteenBit = (sound: Float32Array) =>
  sound.map((x) => clamp(Math.round(x * 32768), -32768, 32767) / 32768 + 0)

/** A sound that can be repeated without a seam: its last `seconds` are blended with what comes before its start. */
export function seamless(sound: Float32Array, seconds: number): Float32Array {
  const overlap = at(seconds)
  const out = sound.slice(overlap)
  for (let i = 0; i < overlap; i++) {
    const u = i / overlap
    const end = out.length - overlap + i
    out[end] = out[end]! * Math.cos((u * Math.PI) / 2) + sound[i]! * Math.sin((u * Math.PI) / 2)
  }
  return out
}
