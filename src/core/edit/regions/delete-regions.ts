import { regionEnd, regionsOf } from '../../model/queries'
import type { Region, Session } from '../../model/session'
import { defineEdit, groupRegions, regionWords } from '../shared/edit'
import { movable } from './move-regions'
import { resolveOverlaps, withFadesLeft, withoutUnusedThreads } from './resolve-overlaps'

/**
 * Deletes regions; with `closeGap` what follows on their tracks moves up by what was taken away. Locked
 * regions stay.
 */
export const deleteRegions = defineEdit<{ regionIds: readonly string[]; closeGap?: boolean }>({
  name: 'deleteRegions',
  together: groupRegions,
  label: (session, { regionIds, closeGap }) =>
    `Delete ${regionWords(session, regionIds)}${closeGap ? ' and close the gap' : ''}`,
  apply(session, { regionIds, closeGap }) {
    const gone = movable(session, regionIds)
    if (gone.length === 0) return session
    const regions = { ...session.regions }
    for (const { id } of gone) delete regions[id]
    if (closeGap)
      for (const trackId of new Set(gone.map((r) => r.trackId))) closeGaps(session, regions, trackId)
    const locked = Object.values(regions)
      .filter((r) => r.locked)
      .map((r) => r.id)
    return withFadesLeft(
      session,
      withoutUnusedThreads(resolveOverlaps({ ...session, regions }, closeGap ? locked : [])),
    )
  },
})

/** Moves what stays on a track up by the frames before it that only deleted regions covered. */
function closeGaps(session: Session, regions: Record<string, Region>, trackId: string): void {
  const all = regionsOf(session, trackId)
  const stay = all.filter((r) => regions[r.id])
  // Stretches that are bare now: what was deleted, less what stays.
  const bare: { from: number; to: number }[] = []
  let reached = 0
  for (const gone of all.filter((r) => !regions[r.id])) {
    let from = Math.max(gone.start, reached)
    for (const r of stay) {
      if (r.start >= regionEnd(gone)) break
      if (regionEnd(r) <= from) continue
      if (r.start > from) bare.push({ from, to: r.start })
      from = Math.max(from, regionEnd(r))
    }
    if (from < regionEnd(gone)) bare.push({ from, to: regionEnd(gone) })
    reached = Math.max(reached, regionEnd(gone))
  }
  for (const region of stay) {
    if (region.locked) continue
    const taken = bare.reduce((sum, b) => sum + Math.max(0, Math.min(b.to, region.start) - b.from), 0)
    if (taken > 0) regions[region.id] = { ...region, start: region.start - taken }
  }
}
