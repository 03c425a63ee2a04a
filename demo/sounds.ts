import {
  at,
  bandPass,
  enveloped,
  lowPass,
  mixInto,
  noise,
  peakOf,
  RATE,
  scaled,
  seamless,
  silence,
  struck,
} from './synth'

/** How much quieter the third hammer of the wheel is than the others. */
export const QUIET_HIT_GAIN = 0.32

function hammer(seed: number): Float32Array {
  const out = silence(0.55)
  mixInto(out, struck(176, 0.09, 0.5), 0, 0.5)
  mixInto(out, struck(412, 0.05, 0.3, 0.4), 0, 0.32)
  mixInto(out, struck(735, 0.03, 0.2, 1.1), 0, 0.2)
  mixInto(
    out,
    enveloped(bandPass(noise(at(0.05), seed), 1800, 1.2), (t) => Math.exp(-t / 0.008)),
    0,
    0.5,
  )
  return out
}

/**
 * One turn of the wheel, one bar at 96 bpm: four hammers on the beats, the third too quiet, a creak and
 * dripping between.
 */
export function wheelTurn(): Float32Array {
  const out = silence(2.5)
  ;[0, 1, 2, 3].forEach((beat) =>
    mixInto(out, hammer(40 + beat), 0.02 + beat * 0.625, beat === 2 ? QUIET_HIT_GAIN * 0.7 : 0.7),
  )
  const creak = silence(0.8).map((_, i) => {
    const t = i / RATE
    return (
      Math.sin(2 * Math.PI * (310 * t + 22 * t * t) + 3 * Math.sin(2 * Math.PI * 31 * t)) *
      Math.sin((Math.PI * t) / 0.8) ** 2
    )
  })
  mixInto(out, lowPass(creak, 900), 1.42, 0.035)
  return out
}

/**
 * The mill race: rushing water in stereo, 30 s that repeat without a seam, the left channel 4 dB hotter than
 * the right.
 */
export function millRace(): Float32Array[] {
  const channel = (seed: number) => {
    const white = noise(at(31), seed)
    const body = bandPass(white, 520, 0.6)
    const hiss = bandPass(white, 2600, 0.7)
    const swell = (t: number) =>
      1 + 0.18 * Math.sin(2 * Math.PI * 0.2 * t + seed) + 0.1 * Math.sin(2 * Math.PI * 0.4 * t)
    const out = body.map((x, i) => (x * 0.5 + hiss[i]! * 0.28) * swell(i / RATE))
    return seamless(lowPass(out, 7000), 1)
  }
  const left = channel(11)
  const right = channel(12)
  return [scaled(left, 0.42), scaled(right, 0.42 * 10 ** (-4 / 20))]
}

/** A concertina drone of 26 s: two reeds a note, slightly apart so that they beat, with a bellows' slow breath. */
export function drone(notes: readonly number[], seed: number): Float32Array {
  const out = silence(26)
  notes.forEach((hz, n) => {
    for (const detune of [0.9988, 1.0011])
      for (let k = 1; k <= 9; k++) {
        const level = (k % 2 ? 1 : 0.55) / k ** 1.15
        const phase = (seed * 1.7 + n * 2.1 + k * k * 0.37 + detune * 900) % 6.283
        const step = (2 * Math.PI * hz * detune * k) / RATE
        // A sine by turning a pointer: one sine a sample would take ten times as long.
        const [turnRe, turnIm] = [Math.cos(step), Math.sin(step)]
        let [re, im] = [Math.cos(phase) * level, Math.sin(phase) * level]
        for (let i = 0; i < out.length; i++) {
          out[i] = out[i]! + im
          const next = re * turnRe - im * turnIm
          im = re * turnIm + im * turnRe
          re = next
        }
      }
  })
  const peak = peakOf(out)
  return enveloped(
    out,
    (t) =>
      (0.5 / peak) *
      Math.min(1, t / 0.12, (26 - t) / 0.2) *
      (1 + 0.06 * Math.sin(2 * Math.PI * 0.31 * t + seed)),
  )
}

/** A static pedal note on D, 25 s and 1835 whole periods long, so that copies join without a seam. */
export function pedalBass(): Float32Array {
  const step = (2 * Math.PI * 73.4) / RATE
  return silence(25).map(
    (_, i) =>
      0.3 *
      (Math.sin(step * i) +
        0.45 * Math.sin(2 * step * i + 0.5) +
        0.22 * Math.sin(3 * step * i + 1.2) +
        0.1 * Math.sin(5 * step * i)),
  )
}

/** A gull: falling cries, `count` of them. */
export function gull(count: number, pitch: number): Float32Array {
  const out = silence(0.42 * count + 0.3)
  for (let n = 0; n < count; n++) {
    const length = 0.34
    let phase = 0
    const cry = silence(length).map((_, i) => {
      const t = i / RATE / length
      phase +=
        (2 * Math.PI * pitch * (1.15 - 0.45 * t + 0.22 * Math.sin(Math.PI * Math.min(1, t * 2.2)))) / RATE
      return (
        (Math.sin(phase) +
          0.5 * Math.sin(2 * phase + 0.3) +
          0.3 * Math.sin(3 * phase) +
          0.12 * Math.sin(5 * phase)) *
        Math.sin(Math.PI * t) ** 0.7
      )
    })
    mixInto(out, cry, n * 0.42, 0.3 * (1 - 0.06 * n))
  }
  return out
}

/** A sluice gate: the winch rattles, the gate drops with a clang, water bursts through. */
export function sluiceGate(seed: number): Float32Array {
  const out = silence(4.2)
  for (let n = 0; n < 11; n++)
    mixInto(
      out,
      enveloped(bandPass(noise(at(0.06), seed + n), 950 + 40 * (n % 3), 4), (t) => Math.exp(-t / 0.012)),
      0.1 * n + 0.01 * (n % 2),
      0.7,
    )
  for (const [hz, decay, gain] of [
    [92, 0.5, 0.4],
    [233, 0.35, 0.22],
    [391, 0.28, 0.16],
    [688, 0.2, 0.1],
    [1120, 0.12, 0.06],
  ] as const)
    mixInto(out, struck(hz, decay, 2), 1.2, gain)
  const water = bandPass(noise(at(3), seed + 50), 700, 0.5)
  mixInto(
    out,
    enveloped(water, (t) => 0.9 * Math.min(1, t / 0.05) * Math.exp(-t / 0.75) * Math.min(1, (3 - t) / 0.3)),
    1.2,
    0.55,
  )
  return out
}

/**
 * One stroke of the harbour bell, 6 s: the partials of a church bell (hum, prime, tierce, quint, nominal and
 * above).
 */
export function bell(): Float32Array {
  const out = silence(6)
  const prime = 329.6
  for (const [ratio, decay, gain] of [
    [0.5, 3.2, 0.2],
    [1, 2.1, 0.26],
    [1.19, 1.7, 0.22],
    [1.5, 1.1, 0.1],
    [2, 1.3, 0.24],
    [2.51, 0.6, 0.1],
    [3.01, 0.45, 0.08],
    [4.1, 0.25, 0.05],
  ] as const)
    mixInto(out, struck(prime * ratio, decay, 6, ratio), 0, gain * 0.8)
  mixInto(
    out,
    enveloped(bandPass(noise(at(0.03), 77), 3200, 1), (t) => Math.exp(-t / 0.004)),
    0,
    0.4,
  )
  return enveloped(out, (t) => Math.min(1, (6 - t) / 0.5))
}
