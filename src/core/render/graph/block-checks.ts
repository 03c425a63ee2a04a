import { processingKernel } from '../../dsp/kernels/processing'
import type { Sides } from '../../dsp/processors'

/** Whether frames `at` ≤ n < `at + count` of all channels are silence. */
export function isZero(sound: Sides, channels: 1 | 2, at: number, count: number): boolean {
  for (let c = 0; c < channels; c++) {
    const side = sound[c]!
    for (let i = at; i < at + count; i++) if (side[i] !== 0) return false
  }
  return true
}

/** Whether the first frames of any channel hold NaN or infinity. */
export function hasFaults(sound: Sides, channels: 1 | 2, count: number): boolean {
  const kernel = processingKernel()
  if (sound[0] === kernel.sound[0]) return !kernel.loops.isFinite(channels, 0, count)
  for (let c = 0; c < channels; c++) if (!isFiniteSide(sound[c]!, count)) return true
  return false
}

/** Whether the first frames of a side are all numbers. */
export function isFiniteSide(side: Float64Array, count: number): boolean {
  let sum = 0
  for (let i = 0; i < count; i++) sum += side[i]! * 0
  return sum === 0
}

/** Takes out samples that are no numbers. */
export function withoutFaults(side: Float64Array, count: number): void {
  for (let i = 0; i < count; i++) if (!Number.isFinite(side[i])) side[i] = 0
}
