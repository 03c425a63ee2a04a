import { takeHand } from '../../store/actions/take-hand'
import { useMemo } from 'react'
import { useNavigate } from 'react-router'
import { INSERT_KINDS, type InsertKindName } from '../../core/model/inserts/insert-kinds'
import {
  changeClipGain,
  insertOf,
  isAutomated,
  laneKeysOf,
  resetClipGain,
  resetThreads,
  setFades,
  setTrack,
  shiftLanes,
  swapChains,
  weaveOf,
  type LaneRef,
} from '../../core/edit'
import { findCommonParameter, parameterOf } from '../../core/model/parameters'
import { regionsOf, sessionLength } from '../../core/model/queries'
import type { Session } from '../../core/model/session'
import { rowIds, rowOf, stripOf } from '../../core/model/strips'
import { dbToGain } from '../../core/units/decibel'
import { least, most } from '../../core/units/extremes'
import type { Pictures } from '../../engine/storage'
import {
  clearRange,
  copyAutomation,
  cutAutomation,
  putAutomation,
} from '../../store/actions/automation-actions'
import { current } from '../../store/current'
import { commit, redo, undo } from '../../store/edits'
import { getPlayer, hearAlone, hearWithRoll, toggleLoop, togglePlay } from '../../store/playback/playback'
import { compareRound, listenHere, switchEqual, switchListening } from '../../store/playback/listening'
import { resetValue, stepValue } from '../../store/actions/parameter-actions'
import {
  copySelected,
  crossfadeSelected,
  cutSelected,
  deleteSelected,
  joinSelected,
  jumpMarker,
  loopSelected,
  markHere,
  moveSelectedToTrack,
  nudgeSelected,
  pasteHere,
  putBackSelected,
  renderPart,
  selectFrom,
  slipSelected,
  splitAt,
  splitHere,
  switchSelected,
  trimToPlayhead,
  trimToRange,
  unlinkSelected,
} from '../../store/actions/region-actions'
import { rideBy } from '../../store/actions/riding'
import { fitTracks, resizeRows, scaleSound, usualRows } from '../../store/actions/row-actions'
import { pathTrack, shownSession } from '../../store/selectors'
import type { Dispatch, RootState, Thunk } from '../../store/store'
import {
  addBusFor,
  dropInsert,
  letInsertAct,
  putInsert,
  shiftInsert,
} from '../../store/actions/strip-actions'
import { dropKnots, resetKnots } from '../../store/actions/thread-actions'
import { removeTimeOfRange } from '../../store/actions/time-actions'
import {
  addTrackBelow,
  changeTracks,
  deleteHeads,
  duplicateHeads,
  moveHeads,
  selectRegionsOf,
  setChannels,
  soloOnly,
  tracksMeant,
  ungroupHeads,
} from '../../store/actions/track-actions'
import {
  benchShown,
  dialogShown,
  followSet,
  groundSet,
  groupsLeft,
  headsReleased,
  knotsSelected,
  lanesToggled,
  metersShown,
  pathFolded,
  rangeSet,
  selected,
  soundDecibelsSet,
  soundFactorSet,
  stopReturnsSet,
  travelsSet,
  viewChanged,
  weavePicked,
  type DialogName,
  type Hand,
  type View,
} from '../../store/view'
import { sayWhyNot } from '../../store/why-not'
import { dropWeave, moveWeave, shiftWeave } from '../../store/actions/weave-actions'
import { useAppDispatch, useAppStore } from '../parts/hooks'
import { isEvening } from '../look/ground'
import { toNextArea } from '../parts/commands/one-stop'
import { saveCopyOf } from '../parts/copies/session-copy'
import { toast } from '../parts/messages/toast'
import { keyWordsOf } from '../parts/commands/use-key-words'
import { boundedView, frameToX, wholeFramesPerPixel, zoomedAbout } from './drawing/geometry'
import { duplicateHere } from './hands/duplicate'
import { LANE_PLAYS } from './hands/whole-lane'
import { addBusInSight } from './hands/add-bus'
import { underPointer } from './hands/pointed'
import { gridFrames, toNextGrid } from './hands/snap'
import { stepKnots } from './hands/step-knots'
import type { CommandRuns } from './parts/command-context'
import { KEY_HELD_MS } from './parts/fields/live-field'
import { usePictures } from './parts/watch/use-pictures'
import { wasReturnedTo } from '../parts/focus-return'

type Store = ReturnType<typeof useAppStore>

const scaleOf = (session: Session, { trackId, lane }: LaneRef) =>
  parameterOf(stripOf(session, trackId)!, lane).scale

/**
 * Changes what is current by a step, or finely: a lane being ridden, the selected knots, else the value of
 * the picked bead.
 */
const nudge =
  (direction: 1 | -1, fine: boolean): Thunk =>
  (dispatch, getState) => {
    const state = getState()
    const { keys, lanes } = current(state)
    const by = direction * (fine ? 0.1 : 1)
    const ridden = lanes.some((ref) =>
      dispatch(rideBy(ref, by * scaleOf(state.session.session!, ref).step, KEY_HELD_MS)),
    )
    if (ridden || !keys) return
    if (keys.kind === 'knots') {
      const { framesPerPixel } = state.navigation.view
      dispatch(stepKnots(keys.ref, keys.indices, { level: direction, fine }, framesPerPixel))
    } else if (keys.kind === 'weave') {
      const { step, upwards } = scaleOf(state.session.session!, keys.weave.ref)
      dispatch(shiftWeave(keys.weave, by * step * (upwards ? 1 : -1)))
    } else if (keys.kind === 'parameter') {
      // What a lane moves has no static value that is heard: the whole lane goes, as by its fader.
      const moved = lanes.filter((ref) => isAutomated(state.session.session!, ref))
      const { step, upwards } = keys.parameter.scale
      if (moved.length === 0) dispatch(stepValue(keys.trackIds, keys.parameter, direction, fine))
      else if (state.transport.playing) sayWhyNot(LANE_PLAYS)
      else dispatch(commit(shiftLanes, { lanes: moved, by: by * step * (upwards ? 1 : -1) }))
    } else if (keys.kind === 'insert') sayWhyNot(INSERT_LEADS)
    else dispatch(commit(changeClipGain, { regionIds: state.selection.regionIds, byDb: by }))
  }

const INSERT_LEADS =
  'An insert is picked: press one of its fields, and arrow keys, Enter and Backspace are about that value.'

type InsertRuns = Pick<CommandRuns, `insert-${InsertKindName}`>

/** Adds an insert, for each kind. */
const insertRuns = (add: (kind: InsertKindName) => void): InsertRuns =>
  Object.fromEntries(INSERT_KINDS.map(({ kind }) => [`insert-${kind}`, () => add(kind)])) as InsertRuns

/** Moves the picked insert earlier or later in its chain; false where none is picked. */
const shiftPicked =
  (by: number): Thunk<boolean> =>
  (dispatch, getState) => {
    const { keys } = current(getState())
    if (keys?.kind !== 'insert') return false
    dispatch(shiftInsert(keys.ref.stripId, keys.ref.insertId, by))
    return true
  }

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

/** Resets what is current: the selected knots, or the value of the picked bead. */
const reset = (): Thunk => (dispatch, getState) => {
  const state = getState()
  const { keys } = current(state)
  const regionIds = state.selection.regionIds
  if (keys?.kind === 'knots') dispatch(resetKnots(keys.ref, keys.indices))
  else if (keys?.kind === 'weave') dispatch(dropWeave(keys.weave))
  else if (keys?.kind === 'parameter') dispatch(resetValue(keys.trackIds, keys.parameter))
  else if (keys?.kind === 'insert') sayWhyNot(INSERT_LEADS)
  else if (keys?.bead === 'clip-gain') dispatch(commit(resetClipGain, { regionIds }))
  else if (keys?.bead === 'gain-thread') dispatch(commit(resetThreads, { regionIds }))
  else if (keys?.bead === 'fades')
    dispatch(commit(setFades, { regionIds, edges: ['in', 'out'], change: { lengthFrames: 0 } }))
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

/** The field that Enter focuses at a bead of regions; that of a parameter is named after its bead. */
const regionFields: Readonly<Record<string, string>> = {
  'clip-gain': 'clip-gain',
  'gain-thread': 'knot-level',
  fades: 'fade-in',
}

/** The name of the field in which the value of what is current is typed. */
export function currentField(state: RootState): string {
  const { bead, keys } = current(state)
  return keys?.kind === 'knots'
    ? 'knot-level'
    : keys?.kind === 'weave'
      ? 'weave-high'
      : (regionFields[bead] ?? bead)
}

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

/** Commands about the tracks that are meant: the selected heads, else the one that the Path shows. */
const withTracks =
  (run: (trackIds: string[]) => Thunk<unknown>): Thunk =>
  (dispatch, getState) => {
    const track = pathTrack(getState())
    if (track) dispatch(run(tracksMeant(getState(), track.id)))
    else sayWhyNot('There is no track yet: add one, or import audio.')
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

/** All that the editor's commands do. */
function commandRuns(
  dispatch: Dispatch,
  store: Store,
  pictures: Pictures,
  goTo: (path: string) => void,
): CommandRuns {
  const state = () => store.getState()
  const session = () => shownSession(store.getState())!
  const length = () => sessionLength(session())
  const rows = () => rowIds(session()).length
  const playhead = () => Math.round(getPlayer()?.position() ?? 0)
  const dialog = (name: DialogName) => () => void dispatch(dialogShown(name))
  const hand = (name: Hand) => () => void dispatch(takeHand(state().selection.hand === name ? 'point' : name))
  const zoom = (factor: number) => {
    const { view } = state().navigation
    const x = frameToX(view, getPlayer()?.position() ?? 0)
    dispatch(
      viewChanged(
        zoomedAbout(view, x >= 0 && x <= view.width ? x : view.width / 2, factor, length(), rows()),
      ),
    )
  }
  const show = (left: number, framesPerPixel: number) =>
    dispatch(viewChanged(boundedView({ ...state().navigation.view, left, framesPerPixel }, length(), rows())))
  const turn = (pages: number) => {
    const { view } = state().navigation
    show(view.left + view.width * view.framesPerPixel * pages, view.framesPerPixel)
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
  const small = () => Math.round(session().sampleRate / 1000)
  const onGrid = (frame: number, time: 1 | -1) =>
    toNextGrid(session(), frame, time, state().navigation.view.framesPerPixel, state().preferences.timeScale)
  const grid = () =>
    gridFrames(session(), state().navigation.view.framesPerPixel, state().preferences.timeScale)
  /**
   * Moves selected knots, or the selected regions, in time; without any, scrolls. With Alt and nothing to be
   * moved the keys are the browser's.
   */
  const stepOrTurn = (time: 1 | -1) => (event?: KeyboardEvent) => {
    const fine = event?.altKey ?? false
    const { keys, regionIds } = current(store.getState())
    const moves = keys?.kind === 'regions' && regionIds.length > 0
    if (keys?.kind !== 'knots' && keys?.kind !== 'weave' && !moves && fine) return
    event?.preventDefault()
    const weave = keys?.kind === 'weave' ? weaveOf(session(), keys.weave) : undefined
    if (keys?.kind === 'weave' && weave) {
      const by = Math.max(-weave.from, fine ? time * small() : onGrid(weave.from, time))
      return void dispatch(moveWeave(keys.weave, weave.from + by, weave.to + by))
    }
    if (keys?.kind === 'knots') {
      const { framesPerPixel } = state().navigation.view
      dispatch(stepKnots(keys.ref, keys.indices, { time, fine }, framesPerPixel))
    } else if (moves) {
      const first = least(
        regionIds.map((id) => session().regions[id]!),
        (r) => r.start,
      )
      dispatch(nudgeSelected(fine ? time * small() : onGrid(first, time)))
    } else turn(time * 0.1)
  }
  const slip = (time: 1 | -1) => (event?: KeyboardEvent) =>
    dispatch(slipSelected(time * (event?.altKey ? small() : grid())))
  /** Runs what is about the selected regions, or says that there are none. */
  const withRegions = (run: (first: string) => unknown) => () => {
    const [first] = state().selection.regionIds
    if (first === undefined) sayWhyNot('Select regions first: press one, or sweep over several.')
    else run(first)
  }
  /** Lets the marked range begin or end at the playhead. */
  const rangeEnd = (edge: 'from' | 'to') => () => {
    const at = playhead()
    const { range } = state().selection
    const other = edge === 'from' ? (range?.to ?? length()) : (range?.from ?? 0)
    if (edge === 'from' ? other > at : other < at)
      dispatch(rangeSet(edge === 'from' ? { from: at, to: other } : { from: other, to: at }))
    else sayWhyNot('The range would have no length: move the playhead first.')
  }
  const stepBack = (event?: KeyboardEvent) => {
    // It closes a dialog or a menu first.
    if (state().navigation.dialog || event?.defaultPrevented) return
    // One step back with each press.
    const { knots, pickedWeave, range, regionIds, crossfadeId } = state().selection
    if (knots) dispatch(knotsSelected(null))
    else if (pickedWeave) dispatch(weavePicked(null))
    else if (range) dispatch(rangeSet(null))
    else if (regionIds.length || crossfadeId !== null) dispatch(selected({ regionIds: [] }))
    else dispatch(headsReleased())
  }
  // With a lane picked and a range set these are about what the lane does there.
  let lastCopied: 'regions' | 'automation' = 'regions'
  return {
    play: (event) => {
      // On a button the browser's own meaning of Space stays, except where the pointer has just left focus on a
      // transport button.
      const button = event?.target instanceof HTMLButtonElement ? event.target : null
      if (button && !button.closest('header') && !wasReturnedTo(button)) return
      event?.preventDefault()
      dispatch(togglePlay())
    },
    loop: () => dispatch(toggleLoop()),
    'loop-selected': withRegions(() => dispatch(loopSelected())),
    'hear-alone': withRegions((first) => dispatch(hearAlone(first))),
    'hear-with-roll': withRegions((first) => dispatch(hearWithRoll(first))),
    unshaped: () => dispatch(switchListening()),
    'equal-loudness': () => void dispatch(switchEqual()),
    'stop-returns': () => void dispatch(stopReturnsSet(!state().preferences.stopReturns)),

    'to-start': () => getPlayer()?.seek(0),
    'to-end': () => getPlayer()?.seek(length()),
    marker: () => dispatch(markHere()),
    'marker-before': () => dispatch(jumpMarker(-1)),
    'marker-after': () => dispatch(jumpMarker(1)),
    'range-from': rangeEnd('from'),
    'range-to': rangeEnd('to'),

    'select-all': () => void dispatch(selected({ regionIds: Object.keys(session().regions) })),
    'select-after': () => dispatch(selectFrom(playhead(), null)),
    'select-after-on-track': () => dispatch(selectFrom(playhead(), pathTrack(store.getState())?.id ?? null)),
    'select-on-tracks': () => dispatch(withTracks(selectRegionsOf)),
    'step-back': stepBack,

    up: (event) => dispatch(nudge(1, event?.altKey ?? false)),
    down: (event) => dispatch(nudge(-1, event?.altKey ?? false)),
    'type-value': (event) => {
      const field = document.querySelector<HTMLInputElement>(
        `[data-field="${currentField(store.getState())}"]`,
      )
      if (!field || event?.target instanceof HTMLButtonElement || event?.target instanceof HTMLAnchorElement)
        return
      event?.preventDefault()
      field.focus()
    },
    reset: () => dispatch(reset()),
    match: dialog('match'),
    sides: dialog('sides'),
    loudness: dialog('loudness'),
    'even-out': dialog('even-out'),
    'mute-regions': withRegions(() => dispatch(switchSelected('muted'))),

    fades: dialog('fades'),
    crossfade: withRegions(() => dispatch(crossfadeSelected())),
    crossfades: dialog('crossfades'),
    seams: () => void dispatch(dialogShown(state().navigation.dialog === 'seams' ? null : 'seams')),

    split: () => dispatch(splitHere()),
    'split-here': () => {
      const at = underPointer.get()
      if (at) dispatch(splitAt(at.frame))
    },
    join: withRegions(() => dispatch(joinSelected())),
    'trim-start': withRegions(() => dispatch(trimToPlayhead('start'))),
    'trim-end': withRegions(() => dispatch(trimToPlayhead('end'))),
    'trim-to-range': withRegions(() =>
      state().selection.range
        ? dispatch(trimToRange())
        : sayWhyNot(keyWordsOf(state().preferences).in('Mark a range first: hold [hand-range] and sweep.')),
    ),
    silence: dialog('silence'),
    duplicate: withRegions(() => dispatch(duplicateHere(false))),
    'duplicate-linked': withRegions(() => dispatch(duplicateHere(true))),
    repeat: withRegions(dialog('repeat')),
    copy: () => {
      lastCopied = current(store.getState()).copies
      dispatch(lastCopied === 'automation' ? copyAutomation() : copySelected())
    },
    cut: () => {
      lastCopied = current(store.getState()).copies
      dispatch(lastCopied === 'automation' ? cutAutomation() : cutSelected())
    },
    paste: () => dispatch(lastCopied === 'automation' ? putAutomation() : pasteHere()),
    delete: () => {
      const { keys, removes } = current(store.getState())
      if (keys?.kind === 'knots') dispatch(dropKnots(keys.ref, keys.indices))
      else if (keys?.kind === 'weave' && removes === 'weave') dispatch(dropWeave(keys.weave))
      else if (keys?.kind === 'insert') dispatch(dropInsert(keys.ref.stripId, keys.ref.insertId))
      else if (removes === 'automation') dispatch(clearRange())
      else withRegions(() => dispatch(deleteSelected(false)))()
    },
    'delete-closing': () => dispatch(deleteSelected(true)),
    left: stepOrTurn(-1),
    right: stepOrTurn(1),
    'to-track-above': withRegions(() => dispatch(moveSelectedToTrack(-1))),
    'to-track-below': withRegions(() => dispatch(moveSelectedToTrack(1))),
    'slip-left': () => void (dispatch(shiftPicked(-1)) || slip(-1)()),
    'slip-right': () => void (dispatch(shiftPicked(1)) || slip(1)()),
    'move-gain': () => void dispatch(dialogShown('move-gain')),
    'swap-chains': () => dispatch(swapPicked()),
    compare: () => dispatch(compareRound()),
    'listen-here': () => dispatch(listenHere('alone')),
    'bypass-insert': () => dispatch(bypassPicked()),
    'insert-time': dialog('insert-time'),
    'remove-time': () => void dispatch(removeTimeOfRange()),
    reverse: withRegions(() => dispatch(switchSelected('reversed'))),
    lock: withRegions(() => dispatch(switchSelected('locked'))),
    unlink: withRegions(() => dispatch(unlinkSelected())),
    'rename-region': withRegions(dialog('rename')),
    render: () =>
      void dispatch(renderPart('clip')).then(
        (outcome) => outcome?.done === false && toast({ text: outcome.message }),
      ),
    'render-after': () =>
      void dispatch(renderPart('insert')).then(
        (outcome) => outcome?.done === false && toast({ text: outcome.message }),
      ),
    'put-back': withRegions(() => dispatch(putBackSelected())),

    'give-way': dialog('give-way'),
    travels: () => {
      dispatch(travelsSet(!state().preferences.travels))
      toast({
        text: state().preferences.travels
          ? 'Automation goes with regions now.'
          : 'Automation stays on its track now.',
      })
    },
    lanes: () =>
      dispatch(
        withTracks((trackIds) => (d) => {
          for (const trackId of trackIds)
            d(lanesToggled({ trackId, lanes: laneKeysOf(session(), trackId).filter(findCommonParameter) }))
        }),
      ),

    'add-mono': () => dispatch(addTrackBelow(null, 1)),
    'add-stereo': () => dispatch(addTrackBelow(null, 2)),
    'add-bus': () => dispatch(addBusInSight()),
    'bus-for-tracks': () => dispatch(withTracks((ids) => addBusFor(ids))),
    inserts: () => dispatch(withTracks(() => (d) => void d(dialogShown('strip')))),
    ...insertRuns((kind) =>
      dispatch(
        withTracks(
          ([first]) =>
            (d) =>
              void d(putInsert(first!, 'inserts', kind)),
        ),
      ),
    ),
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

    'hand-point': () => void dispatch(takeHand('point')),
    'hand-range': hand('range'),
    'hand-draw': hand('draw'),
    'hand-plateau': hand('plateau'),
    'hand-weave': hand('weave'),
    'leave-groups': () => void dispatch(groupsLeft(!state().selection.leavesGroups)),

    tempo: dialog('tempo'),
    undo: () => dispatch(undo()),
    redo: () => dispatch(redo()),
    commands: dialog('commands'),
    import: () => document.querySelector<HTMLInputElement>('input[aria-label="Import audio files"]')?.click(),
    versions: dialog('versions'),
    'save-copy': () => void dispatch(saveCopyOf(session().id, session().title)),
    export: () => goTo(`/session/${session().id}/export`),
    help: () => goTo('/help'),
    list: () => goTo('/'),
  }
}

/** What the commands of the editor do. The same object as long as the editor is open. */
export function useCommandRuns(): CommandRuns {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const navigate = useNavigate()
  const { pictures } = usePictures()
  return useMemo(
    () => commandRuns(dispatch, store, pictures, (path) => void navigate(path)),
    [dispatch, store, pictures, navigate],
  )
}
