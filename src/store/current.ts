import { rowOf } from '../core/model/strips'
import { createSelector } from '@reduxjs/toolkit'
import { insertOf, laneKeysOf, weaveOf, type LaneRef, type ThreadRef, type WeaveRef } from '../core/edit'
import type { Parameter } from '../core/model/parameters'
import { parameterOf } from '../core/model/parameters'
import { stripOf } from '../core/model/strips'
import { beadOf, isTrackBead, lanesAt, parameterOfBead, type Bead } from './beads'
import { pathTrack } from './selectors'
import type { RootState } from './store'
import type { InsertRef } from './view'

/** What the bench shows. */
export type BenchSubject =
  | { kind: 'crossfade'; id: string }
  /**
   * A parameter of a track, or with null of the mix, at its bead; `lane` where one lane was worked on below
   * its track.
   */
  | { kind: 'strip'; trackId: string | null; bead: Bead; lane: string | null }
  | { kind: 'insert'; ref: InsertRef }
  | { kind: 'regions' }

/** What is current: the thing pressed last, which fields, keys, clipboard and menus are about. */
export interface Current {
  /** The stage of the Path that is current. */
  bead: Bead
  /** The selected regions, which menus and dialogs are about. */
  regionIds: readonly string[]
  bench: BenchSubject
  /** What arrow keys, Backspace and Enter change. */
  keys:
    | { kind: 'knots'; ref: ThreadRef; indices: number[] }
    | { kind: 'weave'; weave: WeaveRef }
    | { kind: 'insert'; ref: InsertRef }
    | { kind: 'parameter'; trackIds: (string | null)[]; parameter: Parameter }
    | { kind: 'regions'; bead: Bead }
    | null
  /** The lanes that riding with keys and range commands act on. */
  lanes: LaneRef[]
  /** What Delete acts on. Cut, copy and paste act on the same, but never on knots. */
  removes: 'knots' | 'weave' | 'insert' | 'automation' | 'regions'
  copies: 'automation' | 'regions'
}

/**
 * What is current, by these rules: what was pressed last leads. Heads of tracks lead with the bead of tracks
 * that was used last, an opened lane with its own; otherwise the bead that the rows show is current, for the
 * selected regions, for the leading track or for the mix. An insert leads alone when its bead was pressed. Selected knots, or a picked weave, come before all of it. With a range set
 * and lanes current, cutting and copying are about what these do in the range.
 */
export const current = createSelector(
  [
    (state: RootState) => state.session.session,
    (state: RootState) => pathTrack(state)?.id,
    (state: RootState) => state.selection.bead,
    (state: RootState) => state.selection.lastBeads.tracks,
    (state: RootState) => state.selection.lead,
    (state: RootState) => state.selection.trackIds,
    (state: RootState) => state.selection.knots,
    (state: RootState) => state.selection.crossfadeId,
    (state: RootState) => state.selection.range,
    (state: RootState) => state.selection.regionIds,
    (state: RootState) => state.selection.pickedWeave,
  ],
  (
    session,
    trackId,
    rowsBead,
    trackBead,
    lead,
    heads,
    knots,
    crossfadeId,
    range,
    regionIds,
    pickedWeave,
  ): Current => {
    const lane =
      lead.kind === 'lane' && session && laneKeysOf(session, lead.ref.trackId).includes(lead.ref.lane)
        ? lead.ref
        : null
    const insert =
      lead.kind === 'insert' && session && insertOf(session, lead.ref.stripId, lead.ref.insertId)
        ? lead.ref
        : null
    const bead = lane
      ? beadOf(lane.trackId, lane.lane)
      : lead.kind === 'tracks' && !isTrackBead(rowsBead)
        ? trackBead
        : rowsBead
    const own = lane && parameterOf(stripOf(session!, lane.trackId)!, lane.lane)
    const picked = parameterOfBead(bead) ?? (own && { parameter: own, mix: lane.trackId === null })
    const owner = lane ? lane.trackId : picked?.mix ? null : trackId
    const strip =
      !insert && picked && owner !== undefined ? { trackId: owner, parameter: picked.parameter } : null
    // The heads that are selected, where the leading track is one of them.
    const trackIds =
      strip && strip.trackId !== null && heads.includes(strip.trackId)
        ? heads.filter((id) => session && rowOf(session, id))
        : strip
          ? [strip.trackId]
          : []

    const weave = session && pickedWeave && weaveOf(session, pickedWeave) ? pickedWeave : null
    const lanes: LaneRef[] =
      knots?.ref.kind === 'lane'
        ? [knots.ref]
        : weave
          ? [weave.ref]
          : lane
            ? [lane]
            : session && strip
              ? trackIds.flatMap((id) =>
                  lanesAt(session, id, bead).map((key): LaneRef => ({
                    kind: 'lane',
                    trackId: id,
                    lane: key,
                  })),
                )
              : []
    const copies = range !== null && lanes.length > 0 ? 'automation' : 'regions'

    const bench: BenchSubject =
      crossfadeId !== null && session?.crossfades[crossfadeId]
        ? { kind: 'crossfade', id: crossfadeId }
        : insert
          ? { kind: 'insert', ref: insert }
          : strip
            ? { kind: 'strip', trackId: strip.trackId, bead, lane: lane?.lane ?? null }
            : { kind: 'regions' }

    return {
      bead,
      regionIds,
      bench,
      keys: knots
        ? { kind: 'knots', ref: knots.ref, indices: knots.indices }
        : weave
          ? { kind: 'weave', weave }
          : insert
            ? { kind: 'insert', ref: insert }
            : strip
              ? { kind: 'parameter', trackIds, parameter: strip.parameter }
              : picked
                ? null
                : { kind: 'regions', bead },
      lanes,
      removes: knots ? 'knots' : weave && !range ? 'weave' : insert ? 'insert' : copies,
      copies,
    }
  },
)
