import { regionEnd } from '../../model/queries'
import { together } from '../../model/groups'
import type { Region, Session } from '../../model/session'
import { counted, defineEdit } from '../shared/edit'
import { movable } from './move-regions'
import { resolveOverlaps, withoutUnusedThreads } from './resolve-overlaps'
import { fadesFitted, freshId, moveEnd, moveStart } from '../shared/span'

/** A stretch of session frames, `from` ≤ n < `to`. */
export interface Part {
  from: number
  to: number
}

/**
 * Replaces regions by some of their parts (session frames, sorted, apart): what lies between is hidden, as by
 * trimming. Used to cut silence off the ends, and to cut or split at silences. Parts keep gain, thread and,
 * at the outer edges, fades. Locked regions stay.
 */
export const keepParts = defineEdit<{ parts: Readonly<Record<string, readonly Part[]>>; what?: string }>({
  name: 'keepParts',
  together(session, args) {
    const { follows, missing } = together(session, Object.keys(args.parts))
    const parts = { ...args.parts }
    for (const [id, leader] of follows)
      parts[id] = followingParts(session.regions[id]!, session.regions[leader]!, args.parts[leader]!)
    return { args: { ...args, parts }, missing }
  },
  label: (_session, { parts, what }) =>
    `${what ?? 'Cut the silence'} of ${counted(Object.keys(parts).length, 'region')}`,
  apply(session, { parts }) {
    const regions = { ...session.regions }
    let crossfades = session.crossfades
    let changed = false
    for (const region of movable(session, Object.keys(parts))) {
      const kept = parts[region.id]!.map((p) => ({
        from: Math.max(region.start, Math.round(p.from)),
        to: Math.min(regionEnd(region), Math.round(p.to)),
      })).filter((p) => p.to > p.from)
      if (
        kept.length === 0 ||
        (kept.length === 1 && kept[0]!.from === region.start && kept[0]!.to === regionEnd(region))
      )
        continue
      changed = true
      kept.forEach(({ from, to }, n) => {
        const id = n === 0 ? region.id : freshId(regions, region.id)
        const piece = moveEnd(moveStart(region, from - region.start), to - regionEnd(region))
        regions[id] = fadesFitted({
          ...piece,
          id,
          fadeIn: n === 0 ? region.fadeIn : null,
          fadeOut: n === kept.length - 1 ? region.fadeOut : null,
        })
        if (n === kept.length - 1 && id !== region.id) crossfades = handedOver(crossfades, region.id, id)
      })
    }
    return changed ? withoutUnusedThreads(resolveOverlaps({ ...session, regions, crossfades }, [])) : session
  },
})

/** The same parts of a region that goes along; where the other keeps an edge, so does it, a few frames earlier or later. */
const followingParts = (region: Region, leader: Region, parts: readonly Part[]): Part[] =>
  parts.map(({ from, to }) => ({
    from: from <= leader.start ? region.start : from,
    to: to >= regionEnd(leader) ? regionEnd(region) : to,
  }))

/** The crossfade at a region's end now belongs to its last piece. */
function handedOver(crossfades: Session['crossfades'], fromId: string, toId: string): Session['crossfades'] {
  const fade = Object.values(crossfades).find((x) => x.leftId === fromId)
  return fade ? { ...crossfades, [fade.id]: { ...fade, leftId: toId } } : crossfades
}
