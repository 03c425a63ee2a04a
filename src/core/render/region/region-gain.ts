import { crossfadeGains } from '../../curve/crossfade'
import { fadeGain, fadeProgress } from '../../curve/fade'
import { TAPE_SILENCE_SECONDS } from '../../curve/tape'
import type { RegionPlan } from '../plan/render-plan'

/** Whether a fade or a crossfade lies on any frame of `count` from `from`. */
export function fadesWithin(region: RegionPlan, from: number, count: number): boolean {
  const { fadeIn, fadeOut, crossIn, crossOut } = region
  return Boolean(
    (fadeIn && from < region.start + fadeIn.length) ||
    (fadeOut && from + count > region.end - fadeOut.length) ||
    (crossIn && from < crossIn.from + crossIn.length) ||
    (crossOut && from + count > crossOut.from),
  )
}

/**
 * Writes the gain thread's gain, times that of the region, of session frames `from`… into `out`; source frames run backwards in a
 * reversed region.
 */
function fillThread(region: RegionPlan, from: number, count: number, out: Float64Array): void {
  const first = region.sourceStart + region.direction * (from - region.start)
  if (region.direction === 1) region.thread!.fillGains(first, count, region.gain, out)
  else {
    region.thread!.fillGains(first - count + 1, count, region.gain, out)
    out.subarray(0, count).reverse()
  }
}

/**
 * The gain of a region as it leaves its gain stages (clip gain × thread × fades and crossfades) at `count`
 * session frames from `from`, all inside the region. Returns one number where it is the same throughout, else
 * fills `out` and returns null.
 */
export function regionGain(
  region: RegionPlan,
  from: number,
  count: number,
  out: Float64Array,
): number | null {
  if (!region.thread && !fadesWithin(region, from, count)) return region.gain
  if (region.thread) {
    fillThread(region, from, count, out)
  } else out.fill(region.gain, 0, count)
  const { fadeIn, fadeOut, crossIn, crossOut, start, end } = region
  if (fadeIn?.kind === 'tape') {
    // The thread goes with the sound that is read (see readRegion); here only the standing end falls to silence.
    const silence = Math.min(fadeIn.length, Math.round(region.sampleRate * TAPE_SILENCE_SECONDS))
    const last = Math.min(count, start + fadeIn.length - from)
    for (let i = 0; i < last; i++) out[i] = region.gain * Math.min(1, (from + i - start) / silence)
  } else if (fadeIn) {
    const last = Math.min(count, start + fadeIn.length - from)
    for (let i = 0; i < last; i++) out[i] = out[i]! * fadeGain(fadeIn, fadeProgress(fadeIn, from + i - start))
  }
  if (fadeOut?.kind === 'tape') {
    const silence = Math.min(fadeOut.length, Math.round(region.sampleRate * TAPE_SILENCE_SECONDS))
    for (let i = Math.max(0, end - fadeOut.length - from); i < count; i++)
      out[i] = region.gain * Math.min(1, (end - from - i) / silence)
  } else if (fadeOut) {
    for (let i = Math.max(0, end - fadeOut.length - from); i < count; i++)
      out[i] = out[i]! * fadeGain(fadeOut, Math.min(1, fadeProgress(fadeOut, end - from - i)))
  }
  if (crossIn) {
    const last = Math.min(count, crossIn.from + crossIn.length - from)
    for (let i = Math.max(0, crossIn.from - from); i < last; i++)
      out[i] =
        out[i]! *
        crossfadeGains(crossIn.fade, (from + i - crossIn.from) / crossIn.length, crossIn.correlation).in
  }
  if (crossOut) {
    for (let i = Math.max(0, crossOut.from - from); i < count; i++)
      out[i] =
        out[i]! *
        crossfadeGains(crossOut.fade, (from + i - crossOut.from) / crossOut.length, crossOut.correlation).out
  }
  return null
}

const single = new Float64Array(1)

/** The gain of a region at one session frame; before its first frame and after its last one, that of these. */
export function gainAt(region: RegionPlan, frame: number): number {
  const inside = Math.min(region.end - 1, Math.max(region.start, Math.floor(frame)))
  return regionGain(region, inside, 1, single) ?? single[0]!
}
