import { createSelector } from '@reduxjs/toolkit'
import type { LaneRef, ThreadRef } from '../core/edit'
import type { Parameter } from '../core/model/parameters'
import { beadOf, isTrackBead, lanesAt, parameterOfBead, type Bead } from './beads'
import { pathTrack } from './selectors'
import type { RootState } from './store'

/** What the bench shows. */
export type BenchSubject =
  | { kind: 'crossfade'; id: string }
  /**
   * A parameter of a track, or with null of the mix, at its bead; `lane` where one lane was worked on below
   * its track.
   */
  | { kind: 'strip'; trackId: string | null; bead: Bead; lane: string | null }
  | { kind: 'regions' }

/** What is current: the thing pressed last, which fields, keys, clipboard and menus are about. */
export interface Current {
  /** The picked stage of the Path. */
  bead: Bead
  /** The selected regions, which menus and dialogs are about. */
  regionIds: readonly string[]
  bench: BenchSubject
  /** What arrow keys, Backspace and Enter change. */
  keys:
    | { kind: 'knots'; ref: ThreadRef; indices: number[] }
    | { kind: 'parameter'; trackId: string | null; parameter: Parameter }
    | { kind: 'regions'; bead: Bead }
    | null
  /** The lanes that riding with keys and range commands act on. */
  lanes: LaneRef[]
  /** What Delete acts on. Cut, copy and paste act on the same, but never on knots. */
  removes: 'knots' | 'automation' | 'regions'
  copies: 'automation' | 'regions'
}

/**
 * What is current, by these rules: selected knots come before the picked bead; a lane that was worked on
 * below its track is in the bench while a bead of regions is picked; a crossfade is in the bench while it is
 * selected. With a range set and lanes current, cutting and copying are about what these do in the range.
 */
export const current = createSelector(
  [
    (state: RootState) => state.session.session,
    (state: RootState) => pathTrack(state)?.id,
    (state: RootState) => state.view.bead,
    (state: RootState) => state.view.knots,
    (state: RootState) => state.view.lastWeave,
    (state: RootState) => state.view.crossfadeId,
    (state: RootState) => state.view.range,
    (state: RootState) => state.view.selection,
  ],
  (session, trackId, bead, knots, lastWeave, crossfadeId, range, regionIds): Current => {
    const picked = parameterOfBead(bead)
    const owner = picked?.mix ? null : trackId
    const strip = picked && owner !== undefined ? { trackId: owner, parameter: picked.parameter } : null

    const lanes: LaneRef[] =
      knots?.ref.kind === 'lane'
        ? [knots.ref]
        : session && strip
          ? lanesAt(session, strip.trackId, bead).map((lane) => ({
              kind: 'lane',
              trackId: strip.trackId,
              lane,
            }))
          : []
    const copies = range !== null && lanes.length > 0 ? 'automation' : 'regions'

    const worked = knots?.ref ?? lastWeave?.ref
    const opened =
      worked?.kind === 'lane' &&
      worked.trackId !== null &&
      !isTrackBead(bead) &&
      session?.tracks[worked.trackId]
        ? worked
        : null
    const bench: BenchSubject =
      crossfadeId !== null && session?.crossfades[crossfadeId]
        ? { kind: 'crossfade', id: crossfadeId }
        : opened
          ? {
              kind: 'strip',
              trackId: opened.trackId,
              bead: beadOf(opened.trackId, opened.lane),
              lane: opened.lane,
            }
          : strip
            ? { kind: 'strip', trackId: strip.trackId, bead, lane: null }
            : { kind: 'regions' }

    return {
      bead,
      regionIds,
      bench,
      keys: knots
        ? { kind: 'knots', ref: knots.ref, indices: knots.indices }
        : strip
          ? { kind: 'parameter', ...strip }
          : picked
            ? null
            : { kind: 'regions', bead },
      lanes,
      removes: knots ? 'knots' : copies,
      copies,
    }
  },
)
