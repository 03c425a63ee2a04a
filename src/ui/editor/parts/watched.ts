import type { Session, Track } from '../../../core/model/session'
import { lastInsertsOf } from '../../../core/model/strips'
import type { Watched } from '../../../engine/probes'
import { PROBE_NUMBERS, PROBE_SLOTS, PROBES } from '../../../engine/ring'

export type { Watched }

/** The places of the Path whose levels are shown: what comes to the inserts of a strip and of the mix, and what leaves each. */
export function watchedPlaces(session: Session, track: Track): Watched[] {
  const of = (stripId: string | null, ids: readonly string[]): Watched[] =>
    ids.map((insertId) => ({ stripId, insertId }))
  const { mix } = session
  return [
    { stripId: track.id, insertId: null },
    ...of(
      track.id,
      track.inserts.map(({ id }) => id),
    ),
    { stripId: null, insertId: null },
    ...of(
      null,
      [...mix.inserts, ...lastInsertsOf(mix)].map(({ id }) => id),
    ),
  ]
}

/** Where the numbers of a watched place begin in a row of meters; -1 for one that has none. */
export function slotOfWatched(watched: readonly Watched[], { stripId, insertId }: Watched): number {
  const n = watched.findIndex((w) => w.stripId === stripId && w.insertId === insertId)
  return n < 0 || n >= PROBE_SLOTS ? -1 : PROBES + n * PROBE_NUMBERS
}
