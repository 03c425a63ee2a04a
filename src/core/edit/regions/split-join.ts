import { regionEnd } from '../../model/queries'
import type { Fade, Region } from '../../model/session'
import { counted, defineEdit, groupRegions, regionWords } from '../shared/edit'
import { movable } from './move-regions'
import { freshId, halves } from '../shared/span'

/**
 * Splits regions at session frames; the pieces keep sound, gain and thread. Frames outside a region, or
 * inside a crossfade or at one of its ends, leave it.
 */
export const splitRegions = defineEdit<{ regionIds: readonly string[]; frames: readonly number[] }>({
  name: 'splitRegions',
  together: groupRegions,
  label: (session, { regionIds }) => `Split ${regionWords(session, regionIds)}`,
  apply(session, { regionIds, frames }) {
    const regions = { ...session.regions }
    let crossfades = session.crossfades
    for (const { id } of movable(session, regionIds)) {
      let current = id
      for (const frame of [...frames].map(Math.round).sort((a, b) => a - b)) {
        const region = regions[current]!
        if (frame <= region.start || frame >= regionEnd(region)) continue
        const inside = Object.values(crossfades).some(
          (x) =>
            (x.leftId === current && frame >= regions[x.rightId]!.start) ||
            (x.rightId === current && frame <= regionEnd(regions[x.leftId]!)),
        )
        if (inside) continue
        const [left, right] = halves(region, frame, freshId(regions, id))
        regions[left.id] = left
        regions[right.id] = right
        // A crossfade at the old end is now one of the right piece.
        const fade = Object.values(crossfades).find((x) => x.leftId === current)
        if (fade) crossfades = { ...crossfades, [fade.id]: { ...fade, leftId: right.id } }
        current = right.id
      }
    }
    return Object.keys(regions).length === Object.keys(session.regions).length
      ? session
      : { ...session, regions, crossfades }
  },
})

/**
 * Whether the right region goes on in the source exactly where the left one ends, with the same gain and way
 * of playing.
 */
export function contiguous(left: Region, right: Region): boolean {
  return (
    left.trackId === right.trackId &&
    left.sourceId === right.sourceId &&
    regionEnd(left) === right.start &&
    left.reversed === right.reversed &&
    left.polarity === right.polarity &&
    left.clipGainDb === right.clipGainDb &&
    JSON.stringify(left.sides) === JSON.stringify(right.sides) &&
    left.gainThreadId === right.gainThreadId &&
    left.muted === right.muted &&
    (left.reversed ? right.offset + right.length === left.offset : left.offset + left.length === right.offset)
  )
}

/** The fade of which two are the parts on both sides of a join, the outer one all of a region's length; null if they are not. */
function joinedFade(outer: Fade | null, inner: Fade | null, length: number): Fade | null {
  if (outer?.kind !== 'gain' || inner?.kind !== 'gain' || !outer.piece || !inner.piece) return null
  const { from, of } = outer.piece
  const follows =
    outer.length === length &&
    inner.piece.of === of &&
    inner.piece.from === from + outer.length &&
    inner.curve === outer.curve &&
    inner.bend === outer.bend &&
    inner.level === outer.level
  if (!follows) return null
  const { piece: _, ...whole } = outer
  const total = outer.length + inner.length
  return { ...whole, length: total, ...(total === of ? {} : { piece: { from, of } }) }
}

/** Joins selected neighbours that are pieces of one recording into one region again; fades between them go. */
export const joinRegions = defineEdit<{ regionIds: readonly string[] }>({
  name: 'joinRegions',
  together: groupRegions,
  label: (_session, { regionIds }) => `Join ${counted(regionIds.length, 'region')}`,
  apply(session, { regionIds }) {
    const chosen = movable(session, regionIds).sort((a, b) => a.start - b.start)
    const regions = { ...session.regions }
    let joined = false
    let crossfades = session.crossfades
    for (let i = 0; i < chosen.length; i++) {
      const left = regions[chosen[i]!.id]
      const right =
        left &&
        chosen
          .slice(i + 1)
          .map((r) => regions[r.id])
          .find((r): r is Region => r !== undefined && contiguous(left, r))
      if (!left || !right) continue
      delete regions[right.id]
      regions[left.id] = {
        ...left,
        length: left.length + right.length,
        offset: left.reversed ? right.offset : left.offset,
        fadeIn: joinedFade(left.fadeIn, right.fadeIn, left.length) ?? left.fadeIn,
        fadeOut: joinedFade(right.fadeOut, left.fadeOut, right.length) ?? right.fadeOut,
      }
      const fade = Object.values(crossfades).find((x) => x.leftId === right.id)
      if (fade) crossfades = { ...crossfades, [fade.id]: { ...fade, leftId: left.id } }
      joined = true
      i--
    }
    return joined ? { ...session, regions, crossfades } : session
  },
})
