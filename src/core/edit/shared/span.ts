import { fadeParts, withFadeLength } from '../../curve/fade'
import { regionEnd } from '../../model/queries'
import type { Region, Source } from '../../model/session'

/** How far a region's edges can be moved, in frames: negative is to the left. `length` always stays at least 1. */
export interface EdgeRoom {
  startLeft: number
  startRight: number
  endLeft: number
  endRight: number
}

/**
 * The room of a region's edges: hidden sound on both sides of a source, the start of the session, and a last
 * frame that stays.
 */
export function edgeRoom(region: Region, source: Source): EdgeRoom {
  const before = region.offset
  const after = source.frames - region.offset - region.length
  const [hiddenLeft, hiddenRight] = region.reversed ? [after, before] : [before, after]
  return {
    startLeft: -Math.min(hiddenLeft, region.start),
    startRight: region.length - 1,
    endLeft: -(region.length - 1),
    endRight: hiddenRight,
  }
}

/**
 * The region with its start moved by so many frames (negative uncovers hidden sound); its end and its sound
 * stay where they are.
 */
export function moveStart(region: Region, by: number): Region {
  if (by === 0) return region
  return {
    ...region,
    start: region.start + by,
    length: region.length - by,
    offset: region.reversed ? region.offset : region.offset + by,
  }
}

/** The region with its end moved by so many frames; its start and its sound stay where they are. */
export function moveEnd(region: Region, by: number): Region {
  if (by === 0) return region
  return {
    ...region,
    length: region.length + by,
    offset: region.reversed ? region.offset - by : region.offset,
  }
}

/**
 * The two halves of a region on both sides of a session frame inside it. The right one gets the given id. A fade that
 * the frame lies in is divided, so that both halves sound as before; a tape fade stays whole, and is cut.
 */
export function halves(region: Region, frame: number, rightId: string): [Region, Region] {
  const left = { ...moveEnd(region, frame - regionEnd(region)), fadeOut: null }
  const right = { ...moveStart(region, frame - region.start), id: rightId, fadeIn: null }
  const { fadeIn, fadeOut } = region
  if (fadeIn?.kind === 'gain' && fadeIn.length > left.length) {
    const parts = fadeParts(fadeIn, left.length)
    return [{ ...left, fadeIn: parts.outer }, fadesFitted({ ...right, fadeIn: parts.inner })]
  }
  if (fadeOut?.kind === 'gain' && fadeOut.length > right.length) {
    const parts = fadeParts(fadeOut, right.length)
    return [fadesFitted({ ...left, fadeOut: parts.inner }), { ...right, fadeOut: parts.outer }]
  }
  return [fadesFitted(left), fadesFitted(right)]
}

/** The region with fades cut so that they fit into it beside what crossfades take at its ends (frames). */
export function fadesFitted(region: Region, taken: { in: number; out: number } = { in: 0, out: 0 }): Region {
  const room = Math.max(0, region.length - taken.in - taken.out)
  let fadeIn = taken.in > 0 ? null : region.fadeIn
  let fadeOut = taken.out > 0 ? null : region.fadeOut
  const total = (fadeIn?.length ?? 0) + (fadeOut?.length ?? 0)
  if (total > room) {
    const kept = fadeIn ? Math.floor((fadeIn.length / total) * room) : 0
    if (fadeIn) fadeIn = kept > 0 ? withFadeLength(fadeIn, kept) : null
    const rest = room - (fadeIn?.length ?? 0)
    if (fadeOut) fadeOut = rest > 0 ? withFadeLength(fadeOut, Math.min(fadeOut.length, rest)) : null
  }
  return fadeIn === region.fadeIn && fadeOut === region.fadeOut ? region : { ...region, fadeIn, fadeOut }
}

/** An id that the record does not have, made of another one. */
export function freshId(taken: Readonly<Record<string, unknown>>, base: string): string {
  const stem = base.replace(/~\d+$/, '').slice(0, 100)
  for (let n = 1; ; n++) if (!(`${stem}~${n}` in taken)) return `${stem}~${n}`
}
