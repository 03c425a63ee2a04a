import { ThreadReader } from '../../curve/thread'
import { insertKindOf, type InsertKindName } from '../../model/inserts/insert-kinds'
import { stepSecondsOf } from '../../model/inserts/insert-types'
import type { Knot } from '../../model/session'
import { ParameterReader, processorKind, type Processor, type ProcessorSetup } from '.'

export const RATE = 48_000

/**
 * The setup of an insert with some values as they stand in a file; a list of knots (places on the scale) moves a
 * parameter.
 */
export function setup(
  kind: InsertKindName,
  values: Record<string, number | string | readonly Knot[]>,
  channels: 1 | 2 = 1,
  sampleRate = RATE,
): ProcessorSetup {
  return {
    sampleRate,
    channels,
    keyed: false,
    tempo: [{ beat: 0, bpm: 120, beatsPerBar: 4, beatUnit: 4 }],
    values: Object.fromEntries(
      insertKindOf(kind).parameters.map((parameter) => {
        const { key, range, type, scale, choices } = parameter
        const value =
          values[key] ??
          (choices ? choices[range.defaultValue]!.value : type === 'beats' ? 0 : range.defaultValue)
        if (typeof value === 'object')
          return [
            key,
            new ParameterReader(
              range.defaultValue,
              new ThreadReader(value, sampleRate, stepSecondsOf(kind, parameter)),
              scale.toValue ?? null,
            ),
          ]
        return [
          key,
          new ParameterReader(choices ? choices.findIndex((c) => c.value === value) : Number(value)),
        ]
      }),
    ),
  }
}

/** What comes out for what comes in, in blocks, with the latency taken off: frame n of both is the same frame. */
export function run(
  of: ProcessorSetup,
  kind: InsertKindName,
  sides: readonly Float64Array[],
  block = 1024,
): Float64Array[] {
  const processor: Processor = processorKind(kind).create(of)
  const { latencyFrames: latency, channels } = processor
  const frames = sides[0]!.length
  const out = Array.from({ length: channels }, () => new Float64Array(frames))
  for (let at = 0; at < frames + latency; at += block) {
    const sound = [new Float64Array(1024), new Float64Array(1024)] as const
    for (let c = 0; c < of.channels; c++)
      for (let i = 0; i < block; i++) sound[c]![i] = sides[c]![at + i] ?? 0
    processor.process(sound, at - latency, block)
    for (let c = 0; c < channels; c++)
      for (let i = 0; i < block; i++)
        if (at - latency + i >= 0 && at - latency + i < frames) out[c]![at - latency + i] = sound[c]![i]!
  }
  return out
}

export const impulse = (frames: number, at = 0) =>
  Float64Array.from({ length: frames }, (_, i) => (i === at ? 1 : 0))

export const sine = (frames: number, hz: number, level = 1, phase = 0) =>
  Float64Array.from({ length: frames }, (_, i) => level * Math.sin((2 * Math.PI * hz * i) / RATE + phase))

export const steady = (frames: number, level: number) => new Float64Array(frames).fill(level)

/** The first frame at which two sounds differ; -1 where they are the same. */
export function firstDifference(a: readonly Float64Array[], b: readonly Float64Array[]): number {
  for (let c = 0; c < Math.max(a.length, b.length); c++)
    for (let i = 0; i < a[c]!.length; i++) if (!Object.is(a[c]![i], b[c]![i])) return i
  return -1
}

/** The discrete Fourier transform in place; the length is a power of two. */
export function transform(re: Float64Array, im: Float64Array): void {
  const n = re.length
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1
    for (; j & bit; bit >>= 1) j ^= bit
    j ^= bit
    if (i < j) {
      ;[re[i], re[j]] = [re[j]!, re[i]!]
      ;[im[i], im[j]] = [im[j]!, im[i]!]
    }
  }
  for (let length = 2; length <= n; length *= 2)
    for (let k = 0; k < length / 2; k++) {
      const angle = (-2 * Math.PI * k) / length
      const [c, s] = [Math.cos(angle), Math.sin(angle)]
      for (let a = k; a < n; a += length) {
        const b = a + length / 2
        const [r, q] = [re[b]! * c - im[b]! * s, re[b]! * s + im[b]! * c]
        ;[re[b], im[b]] = [re[a]! - r, im[a]! - q]
        ;[re[a], im[a]] = [re[a]! + r, im[a]! + q]
      }
    }
}
