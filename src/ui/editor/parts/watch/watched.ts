import type { Session, Track } from '../../../../core/model/session'
import { lastInsertsOf } from '../../../../core/model/strips'
import { stageId, type ProbedStage } from '../../../../core/render'
import type { Watched } from '../../../../engine/playback'
import { PROBE_NUMBERS, PROBE_SLOTS, PROBES } from '../../../../engine/playback'

export type { Watched }

const STAGES: readonly ProbedStage[] = ['clip-gain', 'gain-thread', 'fades', 'trim', 'volume', 'pan']

/** The places of the Path whose levels are shown: every stage of a strip and of the mix, and what leaves each insert. */
export function watchedPlaces(session: Session, track: Track): Watched[] {
  const of = (stripId: string | null, ids: readonly string[]): Watched[] =>
    ids.map((insertId) => ({ stripId, insertId }))
  const stages = (stripId: string | null, names: readonly ProbedStage[]) => of(stripId, names.map(stageId))
  const { mix } = session
  return [
    ...stages(track.id, STAGES),
    ...stages(null, ['volume', 'pan']),
    ...of(
      track.id,
      track.inserts.map(({ id }) => id),
    ),
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
