import { regionEnd } from '../../model/queries'
import type { Session } from '../../model/session'
import { defineEdit, type Edit } from '../shared/edit'
import { keepParts, type Part } from './keep-parts'
import { removeTime, removeTimeRefusal } from '../time/time'

/** Of each region the parts that stay, in session frames, sorted, apart. */
export type Parts = Readonly<Record<string, readonly Part[]>>

/** What lies within some regions and in none of the parts that stay of them: the gaps that come about, sorted. */
export function gapsOf(session: Session, parts: Parts): Part[] {
  const events: { frame: number; by: number; stays: boolean }[] = []
  for (const [id, kept] of Object.entries(parts)) {
    const region = session.regions[id]
    if (!region) continue
    const both = (part: Part, stays: boolean) =>
      events.push({ frame: part.from, by: 1, stays }, { frame: part.to, by: -1, stays })
    both({ from: region.start, to: regionEnd(region) }, false)
    for (const part of kept) both(part, true)
  }
  const gaps: Part[] = []
  let [within, staying, from] = [0, 0, 0]
  events.sort((a, b) => a.frame - b.frame)
  for (const { frame, by, stays } of events) {
    if (within > 0 && staying === 0 && frame > from) {
      const last = gaps.at(-1)
      if (last?.to === from) last.to = frame
      else gaps.push({ from, to: frame })
    }
    if (stays) staying += by
    else within += by
    from = frame
  }
  return gaps
}

/** Why the time of some gaps cannot be removed from all tracks, as a sentence; null where it can. */
export const closeGapsRefusal = (session: Session, gaps: readonly Part[]): string | null =>
  gaps.map(({ from, to }) => removeTimeRefusal(session, from, to)).find((why) => why !== null) ?? null

/**
 * Keeps some parts of regions (see `keepParts`) and removes the time of the gaps between them from all tracks: what comes
 * later moves up, and other tracks are cut there, too. Changes nothing where `closeGapsRefusal` says why.
 */
export const cutAndClose: Edit<{ parts: Parts; what?: string }> = defineEdit({
  name: 'cutAndClose',
  together: (session, args) => keepParts.together!(session, args),
  label: (session, args) => `${keepParts.label(session, args)} and close the gaps on all tracks`,
  apply(session, { parts }) {
    const gaps = gapsOf(session, parts)
    if (closeGapsRefusal(session, gaps)) return session
    return gaps.reduceRight(
      (now, { from, to }) => removeTime.apply(now, { from, to }),
      keepParts.apply(session, { parts }),
    )
  },
})
