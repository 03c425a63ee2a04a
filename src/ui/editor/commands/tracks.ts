import { INSERT_KINDS, type InsertKindName } from '../../../core/model/inserts/insert-kinds'
import { insertOf, setTrack, swapChains } from '../../../core/edit'
import { rowOf } from '../../../core/model/strips'
import { current } from '../../../store/current'
import { commit, undo } from '../../../store/edits'
import { pathTrack } from '../../../store/selectors'
import type { RootState, Thunk } from '../../../store/store'
import { addBusFor, letInsertAct, putInsert } from '../../../store/actions/strip-actions'
import {
  addTrackBelow,
  changeTracks,
  deleteHeads,
  duplicateHeads,
  moveHeads,
  setChannels,
  soloOnly,
  tracksMeant,
  ungroupHeads,
} from '../../../store/actions/track-actions'
import { dialogShown } from '../../../store/view'
import { sayWhyNot } from '../../../store/why-not'
import { toast } from '../../parts/messages/toast'
import { addBusInSight } from '../hands/add-bus'
import type { CommandRuns } from '../parts/command-context'
import { withTracks, type CommandContext, type RunsOf } from './context'

type InsertRuns = Pick<CommandRuns, `insert-${InsertKindName}`>

/** Adds an insert, for each kind. */
const insertRuns = (add: (kind: InsertKindName) => void): InsertRuns =>
  Object.fromEntries(INSERT_KINDS.map(({ kind }) => [`insert-${kind}`, () => add(kind)])) as InsertRuns

/** Goes over to the other version of the inserts: of the strip of the picked insert, else of the track that the Path shows. */
const swapPicked = (): Thunk => (dispatch, getState) => {
  const state = getState()
  const { keys } = current(state)
  const id = keys?.kind === 'insert' ? keys.ref.stripId : pathTrack(state)?.id
  if (id !== undefined) dispatch(commit(swapChains, { id }))
}

/** Bypasses the picked insert, or lets it act again. */
const bypassPicked = (): Thunk => (dispatch, getState) => {
  const state = getState()
  const { keys } = current(state)
  if (keys?.kind !== 'insert') return sayWhyNot('Press the bead of an insert in the Path first.')
  const { stripId, insertId } = keys.ref
  dispatch(letInsertAct(stripId, insertId, insertOf(state.session.session!, stripId, insertId)!.bypassed))
}

/** Switches mute or solo of the tracks that are meant: the selected heads, else the track that the Path shows. */
const switchTrack =
  (key: 'muted' | 'soloed'): Thunk =>
  (dispatch, getState) => {
    const track = pathTrack(getState())
    if (track)
      dispatch(
        commit(setTrack, { trackIds: tracksMeant(getState(), track.id), change: { [key]: !track[key] } }),
      )
  }

/** What was deleted, of the state before. */
function deletedWords(before: RootState, ids: readonly string[]): string {
  const bus = ids.length === 1 ? before.session.session?.buses[ids[0]!] : undefined
  if (bus) return `The bus “${bus.name}” was removed. What went through it goes where it went.`
  return ids.length === 1
    ? 'The track was deleted, with what lay on it.'
    : `${ids.length} tracks were deleted, with what lay on them.`
}

const deleteTracks: Thunk = (dispatch) =>
  dispatch(
    withTracks((trackIds) => (d, getState) => {
      const state = getState()
      if (d(deleteHeads(trackIds)))
        toast({
          text: deletedWords(state, trackIds),
          action: { label: 'Undo', run: () => void d(undo()) },
          stays: 8000,
        })
    }),
  )

/** Tracks: what each command does. */
export function tracksRuns({ dispatch, state, session }: CommandContext): RunsOf<'Tracks'> {
  return {
    'add-mono': () => dispatch(addTrackBelow(null, 1)),
    'add-stereo': () => dispatch(addTrackBelow(null, 2)),
    'add-bus': () => dispatch(addBusInSight()),
    'bus-for-tracks': () => dispatch(withTracks((ids) => addBusFor(ids))),
    inserts: () => dispatch(withTracks(() => (d) => void d(dialogShown('strip')))),
    'move-gain': () => void dispatch(dialogShown('move-gain')),
    'bypass-insert': () => dispatch(bypassPicked()),
    'swap-chains': () => dispatch(swapPicked()),
    'mix-inserts': () => void dispatch(dialogShown('mix-inserts')),
    'duplicate-tracks': () => dispatch(withTracks((ids) => duplicateHeads(ids, true))),
    'duplicate-tracks-empty': () => dispatch(withTracks((ids) => duplicateHeads(ids, false))),
    'delete-tracks': () => dispatch(deleteTracks),
    'rename-track': () => dispatch(withTracks(() => (d) => void d(dialogShown('rename-track')))),
    'track-up': () => dispatch(withTracks((ids) => moveHeads(ids, -1))),
    'track-down': () => dispatch(withTracks((ids) => moveHeads(ids, 1))),
    mute: () => dispatch(switchTrack('muted')),
    solo: () => dispatch(switchTrack('soloed')),
    'solo-only': () => dispatch(withTracks(soloOnly)),
    'clear-solos': () => void dispatch(soloOnly([])),
    'make-stereo': () =>
      dispatch(withTracks((ids) => setChannels(ids, rowOf(session(), ids[0]!)!.channels === 1 ? 2 : 1))),
    polarity: () =>
      dispatch(
        withTracks((ids) =>
          changeTracks(ids, { polarity: rowOf(session(), ids[0]!)!.polarity === 1 ? -1 : 1 }),
        ),
      ),
    group: () =>
      state().selection.trackIds.length < 2
        ? sayWhyNot('Select the heads of two tracks or more first: Shift adds one.')
        : void dispatch(dialogShown('group-tracks')),
    ungroup: () => dispatch(withTracks(ungroupHeads)),
    ...insertRuns((kind) =>
      dispatch(
        withTracks(
          ([first]) =>
            (d) =>
              void d(putInsert(first!, 'inserts', kind)),
        ),
      ),
    ),
  }
}
