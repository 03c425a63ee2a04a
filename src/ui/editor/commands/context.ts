import { sessionLength } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { rowIds } from '../../../core/model/strips'
import type { Pictures } from '../../../engine/storage'
import { getPlayer } from '../../../store/playback/playback'
import { pathTrack, shownSession } from '../../../store/selectors'
import type { Dispatch, RootState, Thunk } from '../../../store/store'
import { tracksMeant } from '../../../store/actions/track-actions'
import { dialogShown, viewChanged, type DialogName } from '../../../store/view'
import { sayWhyNot } from '../../../store/why-not'
import type { useAppStore } from '../../parts/hooks'
import { boundedView } from '../drawing/geometry'
import type { CommandRuns } from '../parts/command-context'
import type { CommandGroup, CommandIdOf } from '../../parts/commands/commands'
/** What commands work on, and what several of them do alike. */
export interface CommandContext {
  dispatch: Dispatch
  state(): RootState
  session(): Session
  /** Length of the session in frames, and how many rows it has. */
  length(): number
  rows(): number
  /** The session frame of the playhead. */
  playhead(): number
  pictures: Pictures
  goTo(path: string): void
  /** Shows a dialog. */
  dialog(name: DialogName): () => void
  /** Shows the session from a frame on. */
  show(left: number, framesPerPixel: number): void
  /** Goes on by so many widths of the view. */
  turn(pages: number): void
  /** Runs what is about the selected regions, or says that there are none. */
  withRegions(run: (first: string) => unknown): () => void
}

/** What the commands of a group do. */
export type RunsOf<Group extends CommandGroup> = Pick<CommandRuns, CommandIdOf<Group>>

export function commandContext(
  dispatch: Dispatch,
  store: ReturnType<typeof useAppStore>,
  pictures: Pictures,
  goTo: (path: string) => void,
): CommandContext {
  const state = () => store.getState()
  const session = () => shownSession(store.getState())!
  const length = () => sessionLength(session())
  const rows = () => rowIds(session()).length
  const show = (left: number, framesPerPixel: number) =>
    void dispatch(
      viewChanged(boundedView({ ...state().navigation.view, left, framesPerPixel }, length(), rows())),
    )
  return {
    dispatch,
    state,
    session,
    length,
    rows,
    playhead: () => Math.round(getPlayer()?.position() ?? 0),
    pictures,
    goTo,
    dialog: (name) => () => void dispatch(dialogShown(name)),
    show,
    turn(pages) {
      const { view } = state().navigation
      show(view.left + view.width * view.framesPerPixel * pages, view.framesPerPixel)
    },
    withRegions: (run) => () => {
      const [first] = state().selection.regionIds
      if (first === undefined) sayWhyNot('Select regions first: press one, or sweep over several.')
      else run(first)
    },
  }
}

/** Commands about the tracks that are meant: the selected heads, else the one that the Path shows. */
export const withTracks =
  (run: (trackIds: string[]) => Thunk<unknown>): Thunk =>
  (dispatch, getState) => {
    const track = pathTrack(getState())
    if (track) dispatch(run(tracksMeant(getState(), track.id)))
    else sayWhyNot('There is no track yet: add one, or import audio.')
  }
