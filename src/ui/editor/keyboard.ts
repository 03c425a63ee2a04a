import { least, most } from '../../core/units/extremes'
import { memo, useEffect, useRef } from 'react'
import { flushSync } from 'react-dom'
import { useHotkeys, type HotkeyCallback } from 'react-hotkeys-hook'
import {
  changeClipGain,
  isAutomated,
  resetClipGain,
  resetThreads,
  setFades,
  setTrack,
  shiftLanes,
  weaveOf,
} from '../../core/edit'
import { parameterOf } from '../../core/model/parameters'
import { sessionLength } from '../../core/model/queries'
import { clearRange, copyAutomation, cutAutomation, putAutomation } from '../../store/automation-actions'
import { current } from '../../store/current'
import { commit, READ_ONLY, redo, undo } from '../../store/edits'
import {
  getPlayer,
  hearAlone,
  hearWithRoll,
  switchListening,
  toggleLoop,
  togglePlay,
} from '../../store/playback'
import {
  copySelected,
  crossfadeSelected,
  cutSelected,
  deleteSelected,
  joinSelected,
  jumpMarker,
  loopSelected,
  markHere,
  nudgeSelected,
  pasteHere,
  selectFrom,
  slipSelected,
  splitAt,
  splitHere,
  trimToPlayhead,
  trimToRange,
} from '../../store/region-actions'
import { dropKnots, resetKnots } from '../../store/thread-actions'
import { dropWeave, moveWeave, shiftWeave } from '../../store/weave-actions'
import { stepValue, resetValue } from '../../store/parameter-actions'
import { rideBy } from '../../store/riding'
import { moveHeads, tracksMeant } from '../../store/track-actions'
import { pathTrack, shownSession } from '../../store/selectors'
import type { RootState, Thunk } from '../../store/store'
import {
  benchShown,
  dialogShown,
  followSet,
  handTaken,
  headsReleased,
  knotsSelected,
  rangeSet,
  selected,
  viewChanged,
  weavePicked,
  type Hand,
  type View,
} from '../../store/view-slice'
import { sayWhyNot } from '../../store/why-not'
import { useAppDispatch, useAppSelector, useAppStore } from '../parts/hooks'
import { boundedView, frameToX, wholeFramesPerPixel, zoomedAbout } from './drawing/geometry'
import { duplicateHere } from './hands/duplicate'
import { LANE_PLAYS } from './hands/whole-lane'
import { underPointer } from './hands/pointed'
import { gridFrames, toNextGrid } from './hands/snap'
import { stepKnots } from './hands/step-knots'
import { KEY_HELD_MS } from './parts/live-field'

const HANDLES = ['slider', 'radio'] as const

/**
 * A keyboard shortcut of the editor. It also works while a handle has the focus; handles consume the keys
 * they need.
 */
const useKey = (
  keys: string,
  callback: HotkeyCallback,
  options: { preventDefault?: boolean; useKey?: boolean } = {},
) => useHotkeys(keys, callback, { enableOnFormTags: HANDLES, ...options })

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
      dispatch(rideBy(ref, by * parameterOf(ref.lane).scale.step, KEY_HELD_MS)),
    )
    if (ridden || !keys) return
    if (keys.kind === 'knots') {
      const { framesPerPixel } = state.view.view
      dispatch(stepKnots(keys.ref, keys.indices, { level: direction, fine }, framesPerPixel))
    } else if (keys.kind === 'weave') {
      const { step, upwards } = parameterOf(keys.weave.ref.lane).scale
      dispatch(shiftWeave(keys.weave, by * step * (upwards ? 1 : -1)))
    } else if (keys.kind === 'parameter') {
      // What a lane moves has no static value that is heard: the whole lane goes, as by its fader.
      const moved = lanes.filter((ref) => isAutomated(state.session.session!, ref))
      const { step, upwards } = keys.parameter.scale
      if (moved.length === 0) dispatch(stepValue(keys.trackIds, keys.parameter, direction, fine))
      else if (state.transport.playing) sayWhyNot(LANE_PLAYS)
      else dispatch(commit(shiftLanes, { lanes: moved, by: by * step * (upwards ? 1 : -1) }))
    } else dispatch(commit(changeClipGain, { regionIds: state.view.selection, byDb: by }))
  }

/** Resets what is current: the selected knots, or the value of the picked bead. */
const reset = (): Thunk => (dispatch, getState) => {
  const state = getState()
  const { keys } = current(state)
  const regionIds = state.view.selection
  if (keys?.kind === 'knots') dispatch(resetKnots(keys.ref, keys.indices))
  else if (keys?.kind === 'weave') dispatch(dropWeave(keys.weave))
  else if (keys?.kind === 'parameter') dispatch(resetValue(keys.trackIds, keys.parameter))
  else if (keys?.bead === 'clip-gain') dispatch(commit(resetClipGain, { regionIds }))
  else if (keys?.bead === 'gain-thread') dispatch(commit(resetThreads, { regionIds }))
  else if (keys?.bead === 'fades')
    dispatch(commit(setFades, { regionIds, edges: ['in', 'out'], change: { lengthFrames: 0 } }))
}

/** Switches mute or solo of the track that the Path shows. */
const switchTrack =
  (key: 'muted' | 'soloed'): Thunk =>
  (dispatch, getState) => {
    const track = pathTrack(getState())
    if (track) dispatch(commit(setTrack, { trackIds: [track.id], change: { [key]: !track[key] } }))
  }

/** The field that Enter focuses at a bead of regions; that of a parameter is named after its bead. */
const regionFields: Readonly<Record<string, string>> = {
  'clip-gain': 'clip-gain',
  'gain-thread': 'knot-level',
  fades: 'fade-in',
}

/** The name of the field in which the value of what is current is typed. */
function currentField(state: RootState): string {
  const { bead, keys } = current(state)
  return keys?.kind === 'knots'
    ? 'knot-level'
    : keys?.kind === 'weave'
      ? 'weave-high'
      : (regionFields[bead] ?? bead)
}

/**
 * The keyboard shortcuts of the editor; the help page lists them. Renders nothing, and never re-renders
 * during a drag.
 */
export const EditorKeys = memo(function EditorKeys() {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  // Read when a key comes: the keys need not be bound anew whenever the view scrolls or the session changes.
  const state = () => store.getState().view
  const session = () => shownSession(store.getState())!
  const length = () => sessionLength(session())
  const rows = () => session().trackIds.length
  const prevent = { preventDefault: true }
  const zoom = (factor: number) => {
    const { view } = state()
    const x = frameToX(view, getPlayer()?.position() ?? 0)
    dispatch(
      viewChanged(
        zoomedAbout(view, x >= 0 && x <= view.width ? x : view.width / 2, factor, length(), rows()),
      ),
    )
  }
  const show = (left: number, framesPerPixel: number) =>
    dispatch(viewChanged(boundedView({ ...state().view, left, framesPerPixel }, length(), rows())))
  const turn = (pages: number) => {
    const { view } = state()
    show(view.left + view.width * view.framesPerPixel * pages, view.framesPerPixel)
  }
  useKey('space', (e) => {
    // On a button the browser's own meaning of Space stays, except where the pointer has just left focus on a
    // transport button.
    if (!(e.target instanceof HTMLButtonElement) || e.target.closest('header')) e.preventDefault()
    if (e.target instanceof HTMLButtonElement && !e.target.closest('header')) return
    dispatch(togglePlay())
  })
  useKey('shift+end', () => dispatch(selectFrom(Math.round(getPlayer()?.position() ?? 0), null)), prevent)
  useKey('home', () => getPlayer()?.seek(0), prevent)
  useKey('end', () => getPlayer()?.seek(length()), prevent)
  useKey('l', () => dispatch(toggleLoop()))
  useKey('m', () => dispatch(switchTrack('muted')))
  useKey('s', () => dispatch(switchTrack('soloed')))
  useKey('b', () => void dispatch(benchShown(!state().bench)))
  useKey('f', () => void dispatch(followSet(!state().follow)))
  useKey('mod+z', () => dispatch(undo()), prevent)
  useKey('mod+shift+z, mod+y', () => dispatch(redo()), prevent)
  useKey('mod+a', () => void dispatch(selected({ regionIds: Object.keys(session().regions) })), prevent)
  useKey('escape', (e) => {
    // It closes a dialog or a menu first.
    if (state().dialog || e.defaultPrevented) return
    // One step back with each press.
    const { knots, pickedWeave, range, selection, crossfadeId } = state()
    if (knots) dispatch(knotsSelected(null))
    else if (pickedWeave) dispatch(weavePicked(null))
    else if (range) dispatch(rangeSet(null))
    else if (selection.length || crossfadeId !== null) dispatch(selected({ regionIds: [] }))
    else dispatch(headsReleased())
  })
  useKey('up, alt+up', (e) => dispatch(nudge(1, e.altKey)), prevent)
  useKey('down, alt+down', (e) => dispatch(nudge(-1, e.altKey)), prevent)
  useKey('backspace', () => dispatch(reset()), prevent)
  useKey('enter', (e) => {
    const field = document.querySelector<HTMLInputElement>(`[data-field="${currentField(store.getState())}"]`)
    if (!field || e.target instanceof HTMLButtonElement || e.target instanceof HTMLAnchorElement) return
    e.preventDefault()
    field.focus()
  })
  useKey('i', () => zoom(1 / 1.5))
  useKey('o', () => zoom(1.5))
  useKey('h', () => show(0, wholeFramesPerPixel(length(), state().view.width)))
  /** Where the view was before the last look at something close, and what that look was. */
  const close = useRef<{ before: View; shown: View } | null>(null)
  useKey('z', () => {
    const { view, selection, range } = state()
    const back = close.current
    if (back && back.shown.left === view.left && back.shown.framesPerPixel === view.framesPerPixel) {
      close.current = null
      return show(back.before.left, back.before.framesPerPixel)
    }
    const regions = selection.flatMap((id) => session().regions[id] ?? [])
    if (!range && regions.length === 0)
      return sayWhyNot('Select regions or mark a range first, then Z shows just that, and Z again goes back.')
    const from = range ? range.from : least(regions, (r) => r.start)
    const to = range ? range.to : most(regions, (r) => r.start + r.length)
    const framesPerPixel = (to - from) / (view.width * 0.92)
    show(from - view.width * 0.04 * framesPerPixel, framesPerPixel)
    close.current = { before: view, shown: state().view }
  })
  const small = () => Math.round(session().sampleRate / 1000)
  const onGrid = (frame: number, time: 1 | -1) =>
    toNextGrid(session(), frame, time, state().view.framesPerPixel, state().timeScale)
  const grid = () => gridFrames(session(), state().view.framesPerPixel, state().timeScale)
  /**
   * Moves selected knots, or the selected regions, in time; without any, scrolls. With Alt and nothing to be
   * moved the keys are the browser's.
   */
  const stepOrTurn = (event: KeyboardEvent, time: 1 | -1) => {
    const { keys, regionIds } = current(store.getState())
    const moves = keys?.kind === 'regions' && regionIds.length > 0
    if (keys?.kind !== 'knots' && keys?.kind !== 'weave' && !moves && event.altKey) return
    event.preventDefault()
    const weave = keys?.kind === 'weave' ? weaveOf(session(), keys.weave) : undefined
    if (keys?.kind === 'weave' && weave) {
      const by = Math.max(-weave.from, event.altKey ? time * small() : onGrid(weave.from, time))
      return void dispatch(moveWeave(keys.weave, weave.from + by, weave.to + by))
    }
    if (keys?.kind === 'knots') {
      const { framesPerPixel } = state().view
      dispatch(stepKnots(keys.ref, keys.indices, { time, fine: event.altKey }, framesPerPixel))
    } else if (moves) {
      const first = least(
        regionIds.map((id) => session().regions[id]!),
        (r) => r.start,
      )
      dispatch(nudgeSelected(event.altKey ? time * small() : onGrid(first, time)))
    } else turn(time * 0.1)
  }
  const slip = (event: KeyboardEvent, time: 1 | -1) =>
    dispatch(slipSelected(time * (event.altKey ? small() : grid())))
  useKey('left, alt+left', (e) => stepOrTurn(e, -1))
  useKey('right, alt+right', (e) => stepOrTurn(e, 1))
  useKey('shift+left, shift+alt+left', (e) => slip(e, -1), prevent)
  useKey('shift+right, shift+alt+right', (e) => slip(e, 1), prevent)
  /** Moves the leading track, or all selected heads, by a row. */
  const reorder = (byRows: 1 | -1) => {
    const track = pathTrack(store.getState())
    if (track) dispatch(moveHeads(tracksMeant(store.getState(), track.id), byRows))
  }
  useKey('shift+alt+up', () => reorder(-1), prevent)
  useKey('shift+alt+down', () => reorder(1), prevent)
  useKey('f2', () => void dispatch(dialogShown('rename-track')), prevent)
  useKey('pageup', () => turn(-0.9), prevent)
  useKey('pagedown', () => turn(0.9), prevent)
  /** Runs what is about the selected regions, or says that there are none. */
  const withRegions = (run: (first: string) => void) => {
    const [first] = state().selection
    if (first === undefined) sayWhyNot('Select regions first: press one, or sweep over several.')
    else run(first)
  }
  useKey('a', () => withRegions((first) => dispatch(hearAlone(first))))
  useKey('shift+a', () => withRegions((first) => dispatch(hearWithRoll(first))))
  useKey('k', () => dispatch(splitHere()))
  useKey('j', () => withRegions(() => dispatch(joinSelected())))
  useKey('q', () => withRegions(() => dispatch(duplicateHere(false))))
  useKey('shift+q', () => withRegions(() => dispatch(duplicateHere(true))), prevent)
  useKey('bracketleft', () => withRegions(() => dispatch(trimToPlayhead('start'))))
  useKey('bracketright', () => withRegions(() => dispatch(trimToPlayhead('end'))))
  useKey('shift+k', () => {
    const at = underPointer.get()
    if (at) dispatch(splitAt(at.frame))
  })
  /** Lets the marked range begin or end at the playhead. */
  const rangeEnd = (edge: 'from' | 'to') => {
    const at = Math.round(getPlayer()?.position() ?? 0)
    const { range } = state()
    const other = edge === 'from' ? (range?.to ?? length()) : (range?.from ?? 0)
    if (edge === 'from' ? other > at : other < at)
      dispatch(rangeSet(edge === 'from' ? { from: at, to: other } : { from: other, to: at }))
    else sayWhyNot('The range would have no length: move the playhead first.')
  }
  useKey('shift+bracketleft', () => rangeEnd('from'), prevent)
  useKey('shift+bracketright', () => rangeEnd('to'), prevent)
  useKey('t', () =>
    withRegions(() =>
      state().range ? dispatch(trimToRange()) : sayWhyNot('Mark a range first: hold R and sweep.'),
    ),
  )
  useKey('shift+l', () => withRegions(() => dispatch(loopSelected())))
  useKey('e', () => void dispatch(dialogShown('match')), prevent)
  useKey('shift+e', () => void dispatch(dialogShown('even-out')), prevent)
  useKey('x', () => void dispatch(dialogShown('silence')), prevent)
  useKey('shift+f', () => void dispatch(dialogShown('fades')), prevent)
  useKey('shift+c', () => void dispatch(dialogShown('crossfades')), prevent)
  useKey('c', () => withRegions(() => dispatch(crossfadeSelected())))
  useKey('v', () => void dispatch(dialogShown(state().dialog === 'seams' ? null : 'seams')), prevent)
  useKey('g', () => void dispatch(dialogShown('give-way')), prevent)
  useKey('u', () => dispatch(switchListening()))
  useKey('n', () => dispatch(markHere()), prevent)
  useKey('mod+left', () => dispatch(jumpMarker(-1)), prevent)
  useKey('mod+right', () => dispatch(jumpMarker(1)), prevent)
  useKey(
    'delete',
    () => {
      const { keys, removes } = current(store.getState())
      if (keys?.kind === 'knots') dispatch(dropKnots(keys.ref, keys.indices))
      else if (keys?.kind === 'weave' && removes === 'weave') dispatch(dropWeave(keys.weave))
      else if (removes === 'automation') dispatch(clearRange())
      else withRegions(() => dispatch(deleteSelected(false)))
    },
    prevent,
  )
  useKey('shift+delete', () => dispatch(deleteSelected(true)), prevent)
  // With a lane picked and a range set these are about what the lane does there.
  const lastCopied = useRef<'regions' | 'automation'>('regions')
  useKey('mod+c', () => {
    lastCopied.current = current(store.getState()).copies
    dispatch(lastCopied.current === 'automation' ? copyAutomation() : copySelected())
  })
  useKey('mod+x', () => {
    lastCopied.current = current(store.getState()).copies
    dispatch(lastCopied.current === 'automation' ? cutAutomation() : cutSelected())
  })
  useKey('mod+v', () => dispatch(lastCopied.current === 'automation' ? putAutomation() : pasteHere()))
  useTyping()
  useLentHand()
  return null
})

/** What begins a typed value. */
const VALUE = /^[0-9+\-−=.,]$/

/** A digit, a sign or a point opens the field of what is current, and is the first that is typed there. */
function useTyping(): void {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  useEffect(() => {
    const typed = (event: KeyboardEvent) => {
      const target = event.target as Element
      if (event.ctrlKey || event.metaKey || event.altKey || !VALUE.test(event.key)) return
      if (event.defaultPrevented || target.closest('input, select, textarea, [role="dialog"]')) return
      if (store.getState().session.readOnly !== null) return sayWhyNot(READ_ONLY)
      if (!store.getState().view.bench) flushSync(() => dispatch(benchShown(true)))
      const name = currentField(store.getState())
      const field = document.querySelector<HTMLInputElement>(`[data-field="${name}"]:not(:disabled)`)
      // The browser puts the character into what has the focus then.
      if (field) return field.focus()
      event.preventDefault()
      sayWhyNot('Select a region, a track or a knot first; then its value can be typed.')
    }
    window.addEventListener('keydown', typed)
    return () => window.removeEventListener('keydown', typed)
  }, [dispatch, store])
}

const lent: Record<string, Hand> = { r: 'range', d: 'draw', p: 'plateau', w: 'weave' }

/** A hand is active while its key is held; tapping the key keeps it or puts it back. */
function useLentHand(): void {
  const dispatch = useAppDispatch()
  const hand = useAppSelector((s) => s.view.hand)
  const held = useRef<{ key: string; since: number; before: Hand } | null>(null)
  const latest = useRef(hand)
  useEffect(() => void (latest.current = hand))
  useEffect(() => {
    const typing = (e: KeyboardEvent) =>
      (e.target as Element).matches('input, select, textarea') || e.ctrlKey || e.metaKey || e.altKey
    const down = (e: KeyboardEvent) => {
      const key = e.key.toLowerCase()
      if (!lent[key] || e.repeat || held.current || typing(e)) return
      held.current = { key, since: performance.now(), before: latest.current }
      dispatch(handTaken(lent[key]))
    }
    const up = (e: KeyboardEvent) => {
      const key = e.key.toLowerCase()
      if (held.current?.key !== key) return
      const { since, before } = held.current
      held.current = null
      const tapped = performance.now() - since < 300
      dispatch(handTaken(tapped ? (before === lent[key] ? 'point' : lent[key]!) : before))
    }
    /** When the window loses focus no key-up arrives: put the hand back. */
    const away = () => {
      if (held.current) dispatch(handTaken(held.current.before))
      held.current = null
    }
    window.addEventListener('keydown', down)
    window.addEventListener('keyup', up)
    window.addEventListener('blur', away)
    return () => {
      window.removeEventListener('blur', away)
      window.removeEventListener('keydown', down)
      window.removeEventListener('keyup', up)
    }
  }, [dispatch])
}
