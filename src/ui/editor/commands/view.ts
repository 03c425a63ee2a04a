import { regionsOf } from '../../../core/model/queries'
import { dbToGain } from '../../../core/units/decibel'
import { least, most } from '../../../core/units/extremes'
import type { Pictures } from '../../../engine/storage'
import { getPlayer } from '../../../store/playback/playback'
import { fitTracks, resizeRows, scaleSound, usualRows } from '../../../store/actions/row-actions'
import { shownSession } from '../../../store/selectors'
import type { RootState, Thunk } from '../../../store/store'
import {
  benchShown,
  followSet,
  groundSet,
  metersShown,
  pathFolded,
  soundDecibelsSet,
  soundFactorSet,
  viewChanged,
  type View,
} from '../../../store/view'
import { sayWhyNot } from '../../../store/why-not'
import { isEvening } from '../../look/ground'
import { toNextArea } from '../../parts/commands/one-stop'
import { frameToX, wholeFramesPerPixel, zoomedAbout } from '../drawing/geometry'
import { type CommandContext, type RunsOf } from './context'

/** The largest sample of a track's regions at their clip gains, linear; 0 where nothing is known of it. */
function loudestOf(state: RootState, pictures: Pictures, trackId: string): number {
  const session = shownSession(state)!
  const columns = { min: new Float32Array(1), max: new Float32Array(1) }
  let loudest = 0
  for (const region of regionsOf(session, trackId)) {
    const source = session.sources[region.sourceId]!
    for (let c = 0; c < source.channels; c++)
      if (pictures.columns(source.sha256, c, region.offset, region.length, 1, columns))
        loudest = Math.max(loudest, Math.max(columns.max[0]!, -columns.min[0]!) * dbToGain(region.clipGainDb))
  }
  return loudest
}

/** Draws sound so large that the loudest of the selected heads, or of every track, just fits. */
const fitSound =
  (pictures: Pictures): Thunk =>
  (dispatch, getState) => {
    const { trackIds } = getState().selection
    const meant = trackIds.length ? trackIds : shownSession(getState())!.trackIds
    for (const id of meant) {
      const loudest = loudestOf(getState(), pictures, id)
      if (loudest > 0)
        dispatch(soundFactorSet({ trackIds: [id], factor: Math.round((0.98 / loudest) * 10) / 10 || 1 }))
    }
  }

/** View: what each command does. */
export function viewRuns({
  dispatch,
  state,
  session,
  length,
  rows,
  pictures,
  show,
  turn,
}: CommandContext): RunsOf<'View'> {
  const zoom = (factor: number) => {
    const { view } = state().navigation
    const x = frameToX(view, getPlayer()?.position() ?? 0)
    dispatch(
      viewChanged(
        zoomedAbout(view, x >= 0 && x <= view.width ? x : view.width / 2, factor, length(), rows()),
      ),
    )
  }
  /** Where the view was before the last look at something close, and what that look was. */
  let close: { before: View; shown: View } | null = null
  const lookClose = () => {
    const { view } = state().navigation
    const { regionIds: selection, range } = state().selection
    if (close && close.shown.left === view.left && close.shown.framesPerPixel === view.framesPerPixel) {
      const { before } = close
      close = null
      return void show(before.left, before.framesPerPixel)
    }
    const regions = selection.flatMap((id) => session().regions[id] ?? [])
    if (!range && regions.length === 0)
      return sayWhyNot('Select regions or mark a range first, then Z shows just that, and Z again goes back.')
    const from = range ? range.from : least(regions, (r) => r.start)
    const to = range ? range.to : most(regions, (r) => r.start + r.length)
    const framesPerPixel = (to - from) / (view.width * 0.92)
    show(from - view.width * 0.04 * framesPerPixel, framesPerPixel)
    close = { before: view, shown: state().navigation.view }
  }
  return {
    'zoom-in': () => zoom(1 / 1.5),
    'zoom-out': () => zoom(1.5),
    whole: () => void show(0, wholeFramesPerPixel(length(), state().navigation.view.width)),
    'zoom-selected': lookClose,
    'page-back': () => turn(-0.9),
    'page-on': () => turn(0.9),
    follow: () => void dispatch(followSet(!state().preferences.follow)),
    bench: () => void dispatch(benchShown(!state().preferences.bench)),
    meters: () => void dispatch(metersShown(!state().preferences.meters)),
    'fold-path': () => void dispatch(pathFolded(!state().preferences.pathFolded)),
    'rows-taller': () => dispatch(resizeRows(1)),
    'rows-shorter': () => dispatch(resizeRows(-1)),
    'fit-tracks': () => dispatch(fitTracks()),
    'rows-usual': () => dispatch(usualRows()),
    'sound-larger': () => dispatch(scaleSound(state().selection.trackIds, 1)),
    'sound-smaller': () => dispatch(scaleSound(state().selection.trackIds, -1)),
    'fit-sound': () => dispatch(fitSound(pictures)),
    'sound-plain': () => void dispatch(soundFactorSet({ trackIds: null, factor: 1 })),
    'sound-decibels': () => void dispatch(soundDecibelsSet(!state().preferences.soundScale.decibels)),
    ground: () => void dispatch(groundSet(isEvening() ? 'day' : 'evening')),
    'ground-system': () => void dispatch(groundSet('system')),
    'next-area': () => toNextArea(1),
    'previous-area': () => toNextArea(-1),
  }
}
