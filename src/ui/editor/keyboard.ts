import { least, most } from '../../core/units/extremes'
import { memo, useEffect, useRef } from 'react'
import { useHotkeys, type HotkeyCallback } from 'react-hotkeys-hook'
import {
  changeClipGain,
  resetClipGain,
  resetThreads,
  setFades,
  setMixPan,
  setMixVolume,
  setTrack,
} from '../../core/edit'
import { sessionLength } from '../../core/model/queries'
import {
  aboutAutomation,
  clearRange,
  copyAutomation,
  cutAutomation,
  lanesPicked,
  putAutomation,
} from '../../store/automation-actions'
import { commit, redo, undo } from '../../store/edits'
import { getPlayer, hearAlone, switchListening, toggleLoop, togglePlay } from '../../store/playback'
import {
  copySelected,
  crossfadeSelected,
  cutSelected,
  deleteSelected,
  duplicateSelected,
  joinSelected,
  jumpMarker,
  loopSelected,
  markHere,
  nudgeSelected,
  pasteHere,
  slipSelected,
  splitAt,
  splitHere,
  trimToPlayhead,
  trimToRange,
} from '../../store/region-actions'
import { dropKnots, resetKnots } from '../../store/thread-actions'
import { rideBy } from '../../store/riding'
import { pathTrack, shownSession } from '../../store/selectors'
import type { Thunk } from '../../store/store'
import {
  benchShown,
  dialogShown,
  followSet,
  handTaken,
  knotsSelected,
  rangeSet,
  selected,
  viewChanged,
  type Hand,
} from '../../store/view-slice'
import { useAppDispatch, useAppSelector, useAppStore } from '../parts/hooks'
import { boundedView, frameToX, wholeFramesPerPixel, zoomedAbout } from './drawing/geometry'
import { underPointer } from './hands/pointed'
import { gridFrames } from './hands/snap'
import { stepKnots } from './hands/step-knots'
import { nudgedDb, nudgedPan } from '../../core/units/nudge'

const HANDLES = ['slider', 'radio'] as const

/** A key of the editor. It also works while a handle has the focus; handles take the keys that they need for themselves. */
const useKey = (
  keys: string,
  callback: HotkeyCallback,
  options: { preventDefault?: boolean; useKey?: boolean } = {},
) => useHotkeys(keys, callback, { enableOnFormTags: HANDLES, ...options })

/** How long a key counts as held for riding after it was pressed, in milliseconds. */
const KEY_HELD_MS = 350

/** Moves what is picked by a step (1 dB or 5 hundredths of pan, finely a tenth): a lane that is ridden, selected knots, else the value of the bead. */
const nudge =
  (direction: 1 | -1, fine: boolean): Thunk =>
  (dispatch, getState) => {
    const state = getState()
    const {
      session: { session },
      view: { knots, bead, selection, view },
    } = state
    const track = pathTrack(state)
    if (!session) return
    const by = direction * (fine ? 0.1 : 1)
    if (
      lanesPicked(state).some((ref) =>
        dispatch(rideBy(ref, ref.lane === 'volume' ? by : by * 5, KEY_HELD_MS)),
      )
    )
      return
    if (knots)
      return dispatch(stepKnots(knots.ref, knots.indices, { level: direction, fine }, view.framesPerPixel))
    switch (bead) {
      case 'gain-thread':
      case 'clip-gain':
      case 'fades':
        return void dispatch(commit(changeClipGain, { regionIds: selection, byDb: by }))
      case 'volume':
        return void (
          track &&
          dispatch(
            commit(setTrack, {
              trackIds: [track.id],
              change: { volumeDb: nudgedDb(track.volumeDb, direction, fine) },
            }),
          )
        )
      case 'pan':
        return void (
          track &&
          dispatch(
            commit(setTrack, {
              trackIds: [track.id],
              change: { pan: nudgedPan(track.pan, direction, fine) },
            }),
          )
        )
      case 'mix':
        return void dispatch(
          commit(setMixVolume, { volumeDb: nudgedDb(session.mix.volumeDb, direction, fine) }),
        )
      case 'mix-pan':
        return void dispatch(commit(setMixPan, { pan: nudgedPan(session.mix.pan ?? 0, direction, fine) }))
    }
  }

/** Puts the value of the picked bead, or of selected knots, back to where it does nothing. */
const reset = (): Thunk => (dispatch, getState) => {
  const state = getState()
  const { knots, bead, selection: regionIds } = state.view
  const track = pathTrack(state)
  if (knots) return dispatch(resetKnots(knots.ref, knots.indices))
  switch (bead) {
    case 'clip-gain':
      return void dispatch(commit(resetClipGain, { regionIds }))
    case 'gain-thread':
      return void dispatch(commit(resetThreads, { regionIds }))
    case 'fades':
      return void dispatch(commit(setFades, { regionIds, edges: ['in', 'out'], change: { lengthFrames: 0 } }))
    case 'volume':
      return void (track && dispatch(commit(setTrack, { trackIds: [track.id], change: { volumeDb: 0 } })))
    case 'pan':
      return void (track && dispatch(commit(setTrack, { trackIds: [track.id], change: { pan: 0 } })))
    case 'mix':
      return void dispatch(commit(setMixVolume, { volumeDb: 0 }))
    case 'mix-pan':
      return void dispatch(commit(setMixPan, { pan: 0 }))
  }
}

/** Switches mute or solo of the track that the Path shows. */
const switchTrack =
  (key: 'muted' | 'soloed'): Thunk =>
  (dispatch, getState) => {
    const track = pathTrack(getState())
    if (track) dispatch(commit(setTrack, { trackIds: [track.id], change: { [key]: !track[key] } }))
  }

const fieldOf = {
  'clip-gain': 'clip-gain',
  'gain-thread': 'knot-level',
  fades: 'fade-in',
  volume: 'volume',
  pan: 'pan',
  mix: 'mix',
  'mix-pan': 'mix-pan',
} as const

/** The keys of the editor; all of them are listed in the help. It draws nothing, and is never drawn anew while a hand drags. */
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
    // On a button the browser's own meaning of Space stays, except where the pointer has just left focus on a transport button.
    if (!(e.target instanceof HTMLButtonElement) || e.target.closest('header')) e.preventDefault()
    if (e.target instanceof HTMLButtonElement && !e.target.closest('header')) return
    dispatch(togglePlay())
  })
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
    dispatch(selected({ regionIds: [] }))
    dispatch(knotsSelected(null))
    dispatch(rangeSet(null))
  })
  useKey('up, alt+up', (e) => dispatch(nudge(1, e.altKey)), prevent)
  useKey('down, alt+down', (e) => dispatch(nudge(-1, e.altKey)), prevent)
  useKey('backspace', () => dispatch(reset()), prevent)
  useKey('enter', (e) => {
    const field = document.querySelector<HTMLInputElement>(
      `[data-field="${state().knots ? 'knot-level' : fieldOf[state().bead]}"]`,
    )
    if (!field || e.target instanceof HTMLButtonElement || e.target instanceof HTMLAnchorElement) return
    e.preventDefault()
    field.focus()
  })
  useKey('equal, shift+equal, add, numpadadd', () => zoom(1 / 1.5), { ...prevent, useKey: false })
  useKey('minus, subtract, numpadsubtract', () => zoom(1.5), { ...prevent, useKey: false })
  useKey('0', () => show(0, wholeFramesPerPixel(length(), state().view.width)))
  useKey('9', () => {
    const { view, selection } = state()
    const regions = selection.flatMap((id) => session().regions[id] ?? [])
    if (regions.length === 0) return
    const from = least(regions, (r) => r.start)
    const to = most(regions, (r) => r.start + r.length)
    const framesPerPixel = (to - from) / (view.width * 0.92)
    show(from - view.width * 0.04 * framesPerPixel, framesPerPixel)
  })
  /** Selected knots go on in time; without any the view does, and with Alt the keys are the browser's. */
  const stepOrTurn = (event: KeyboardEvent, time: 1 | -1) => {
    const { knots, view } = state()
    if (!knots && event.altKey) return
    event.preventDefault()
    if (knots)
      dispatch(stepKnots(knots.ref, knots.indices, { time, fine: event.altKey }, view.framesPerPixel))
    else turn(time * 0.1)
  }
  useKey('left, alt+left', (e) => stepOrTurn(e, -1))
  useKey('right, alt+right', (e) => stepOrTurn(e, 1))
  useKey('pageup', () => turn(-0.9), prevent)
  useKey('pagedown', () => turn(0.9), prevent)
  useKey('a', () => {
    const [first] = state().selection
    if (first !== undefined) dispatch(hearAlone(first))
  })
  useKey('k', () => dispatch(splitHere()))
  useKey('j', () => dispatch(joinSelected()))
  useKey('2', () => dispatch(duplicateSelected(false)))
  useKey('shift+2', () => dispatch(duplicateSelected(true)), prevent)
  useKey('bracketleft', () => dispatch(trimToPlayhead('start')))
  useKey('bracketright', () => dispatch(trimToPlayhead('end')))
  useKey('shift+k', () => {
    const at = underPointer.get()
    if (at) dispatch(splitAt(at.frame))
  })
  useKey('t', () => dispatch(trimToRange()))
  useKey('shift+l', () => dispatch(loopSelected()))
  useKey('e', () => void dispatch(dialogShown('match')), prevent)
  useKey('shift+e', () => void dispatch(dialogShown('even-out')), prevent)
  useKey('x', () => void dispatch(dialogShown('silence')), prevent)
  useKey('shift+f', () => void dispatch(dialogShown('fades')), prevent)
  useKey('shift+c', () => void dispatch(dialogShown('crossfades')), prevent)
  useKey('c', () => dispatch(crossfadeSelected()))
  useKey('v', () => void dispatch(dialogShown(state().dialog === 'seams' ? null : 'seams')), prevent)
  useKey('g', () => void dispatch(dialogShown('give-way')), prevent)
  useKey('u', () => dispatch(switchListening()))
  useKey('n', () => dispatch(markHere()), prevent)
  useKey('mod+left', () => dispatch(jumpMarker(-1)), prevent)
  useKey('mod+right', () => dispatch(jumpMarker(1)), prevent)
  useKey(
    'delete',
    () => {
      const { knots } = state()
      if (knots) dispatch(dropKnots(knots.ref, knots.indices))
      else dispatch(aboutAutomation(store.getState()) ? clearRange() : deleteSelected(false))
    },
    prevent,
  )
  useKey('shift+delete', () => dispatch(deleteSelected(true)), prevent)
  // With a lane picked and a range set these are about what the lane does there.
  const lastCopied = useRef<'regions' | 'automation'>('regions')
  useKey('mod+c', () => {
    lastCopied.current = aboutAutomation(store.getState()) ? 'automation' : 'regions'
    dispatch(lastCopied.current === 'automation' ? copyAutomation() : copySelected())
  })
  useKey('mod+x', () => {
    lastCopied.current = aboutAutomation(store.getState()) ? 'automation' : 'regions'
    dispatch(lastCopied.current === 'automation' ? cutAutomation() : cutSelected())
  })
  useKey('mod+v', () => dispatch(lastCopied.current === 'automation' ? putAutomation() : pasteHere()))
  const small = () => Math.round(session().sampleRate / 1000)
  const grid = () => gridFrames(session(), state().view.framesPerPixel, state().timeScale)
  useKey('comma, alt+comma', (e) => dispatch(nudgeSelected(e.altKey ? -small() : -grid())), prevent)
  useKey('period, alt+period', (e) => dispatch(nudgeSelected(e.altKey ? small() : grid())), prevent)
  useKey(
    'shift+comma, shift+alt+comma',
    (e) => dispatch(slipSelected(e.altKey ? -small() : -grid())),
    prevent,
  )
  useKey(
    'shift+period, shift+alt+period',
    (e) => dispatch(slipSelected(e.altKey ? small() : grid())),
    prevent,
  )
  useLentHand()
  return null
})

const lent: Record<string, Hand> = { r: 'range', d: 'draw', p: 'plateau', w: 'weave' }

/** A hand is lent while its key is held and something is done with it; a tap keeps it, or gives it back. */
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
    /** Elsewhere the key is let go without a word: the hand comes back. */
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
