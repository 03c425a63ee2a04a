import type { RenderPlan } from '../../core/render'

/** Seconds that are rendered, and not heard, before a place at which playing begins. */
const MOST_SECONDS = 4

/** Frames rendered in one go where nobody hears them. */
export const PREROLL_FRAMES = 8192

/**
 * The session frame from which is rendered so that things remember what they should at a frame: as far back as it matters,
 * at most a few seconds unless `whole`.
 */
export function prerollFrom({ memory, sampleRate }: RenderPlan, frame: number, whole = false): number {
  if (!memory.remembers) return frame
  const far = whole ? memory.settleFrames : Math.min(memory.settleFrames, MOST_SECONDS * sampleRate)
  return Math.max(0, frame - far)
}
