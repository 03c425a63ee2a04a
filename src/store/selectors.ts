import { rowIds, rowOf } from '../core/model/strips'
import { regionsOf } from '../core/model/queries'
import type { Region, Session, Track } from '../core/model/session'
import type { RootState } from './store'
import { MIX_FLAGS_HEIGHT } from './view'

/** The selected regions that exist, in the order in which they were selected. */
export function selectedRegions(state: RootState): Region[] {
  const { session } = state.session
  return session ? state.selection.regionIds.flatMap((id) => session.regions[id] ?? []) : []
}

/** More regions than this are not all shown while they are dragged. */
export const MANY = 200

/**
 * The session as shown, including the preview of a gesture; null when none is open. While very many regions
 * are dragged only their pictures follow the pointer; everything else shows the session from before until the
 * drag ends.
 */
export const shownSession = ({
  session: { session, base },
  selection: { regionIds: selection },
}: RootState): Session | null => (base && selection.length > MANY ? base : session)

/** Whether the open session has steps that could not be stored, so that only this tab has them. */
export const hasUnsavedWork = ({ session: { session, saved, readOnly, unsaved } }: RootState): boolean =>
  session !== null && (saved.failure !== null || (readOnly === 'taken' && unsaved))

/**
 * The track or bus that the Path shows: the one pressed last by its head or a lane, else that of the selected region,
 * else the one pressed last anyhow, else the first.
 */
export function pathTrack(state: RootState): Track | null {
  const { session } = state.session
  const { lead, regionIds: selection, trackId } = state.selection
  if (!session) return null
  const ofRegion = lead.kind === 'stage' ? session.regions[selection[0] ?? '']?.trackId : undefined
  return rowOf(session, ofRegion ?? trackId ?? '') ?? rowOf(session, rowIds(session)[0] ?? '') ?? null
}

/** The sorted regions of every row, from the top; buses have none. */
export const regionRows = (session: Session): Region[][] =>
  rowIds(session).map((id) => regionsOf(session, id))

/** Height of the mix row with its flags and its opened lanes, in pixels. */
export const mixRoom = ({ preferences, navigation }: RootState): number =>
  navigation.openLanes.reduce(
    (sum, o) => (o.trackId === null ? sum + o.height : sum),
    preferences.mixHeight + (navigation.mixFlagged ? MIX_FLAGS_HEIGHT : 0),
  )
