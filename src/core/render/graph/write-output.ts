import { tailGain } from '../state/memory'
import type { RenderPlan } from '../plan/render-plan'

/**
 * Writes `count` frames of a block that was rendered (64-bit), from its index `first` on, as they come out (32-bit): with the gain of
 * listening, and the fade at the end of what sounds on, which begins at the session frame `fadeFrom`. `frame` is that of the
 * first of them; they are put at index `at`.
 */
export function writeOutput(
  plan: RenderPlan,
  fadeFrom: number | null,
  [a, b]: readonly [Float64Array, Float64Array],
  first: number,
  frame: number,
  count: number,
  left: Float32Array,
  right: Float32Array,
  at: number,
): void {
  const { listen } = plan
  for (let i = 0; i < count; i++) {
    left[at + i] = a[first + i]! * listen
    right[at + i] = b[first + i]! * listen
  }
  if (fadeFrom === null || frame + count <= fadeFrom) return
  for (let i = 0; i < count; i++) {
    const gain = tailGain(plan, fadeFrom, frame + i)
    left[at + i] = left[at + i]! * gain
    right[at + i] = right[at + i]! * gain
  }
}
