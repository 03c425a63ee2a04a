import { clamp } from '../../core/units/clamp'
import { valueAt } from '../../core/curve/knots'
import { rideInto, type Touch } from '../../core/curve/ride'
import type { RawPoint } from '../../core/curve/thin'
import { refKey, shapeThreads, threadOf, type LaneRef } from '../../core/edit'
import type { Knot } from '../../core/model/session'
import { amend, commit, dropPreview, lastStep, preview } from '../edits'
import { getPlayer } from '../playback/playback'
import type { Store, Thunk } from '../store'

/** A touch of a control, in progress or finished. */
interface OpenTouch extends Touch {
  points: RawPoint[]
  open: boolean
}

/** A lane that is being ridden in this pass. */
interface Ridden {
  ref: LaneRef
  before: readonly Knot[]
  value: number
  touches: OpenTouch[]
  /** When the control counts as released, in the page's milliseconds; Infinity while it is held. */
  goneAt: number
}

/** Summary of a finished pass. */
export interface PassKept {
  lanes: number
  points: number
  knots: number
  worst: number
  /** Puts every point in place of the thinned lines; resolves to false when the pass is no longer the last step. */
  keepRaw(): boolean
}

/** While a pass is being written, the current value is heard for this many seconds ahead. */
const AHEAD = 1.2
/** Interval at which a pass in progress is shown and heard, in milliseconds. */
const SHOWN_EVERY = 70
/** Length of the ramps that join the written part to the rest of the lane, in seconds. */
const JOIN_SECONDS = 0.005

const ridden = new Map<string, Ridden>()
const listeners = new Set<(pass: PassKept) => void>()
let frame = 0
let shownAt = 0

/** Calls back for every finished pass. Returns a function that unsubscribes. */
export function onPassKept(listener: (pass: PassKept) => void): () => void {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}

/** Whether moving a volume or a pan writes its lane: riding is on and the transport runs. */
export const isRiding = (): Thunk<boolean> => (_dispatch, getState) => {
  const { listening, transport, session } = getState()
  return listening.ride.mode !== 'off' && transport.playing && !session.readOnly && session.session !== null
}

/**
 * Moves a control to a value (a height, or a pan); its lane is written from here on. `holdMs` says how long
 * the control counts as held when nothing reports its release (keys, faders without touch). Returns false,
 * and does nothing, when riding is off.
 */
export const rideTo =
  (ref: LaneRef, value: number, holdMs = Infinity): Thunk<boolean> =>
  (dispatch, getState) => {
    const { session } = getState().session
    const thread = session && threadOf(session, ref)
    if (!thread || !dispatch(isRiding())) return false
    const key = refKey(ref)
    let lane = ridden.get(key)
    if (!lane) ridden.set(key, (lane = { ref, before: thread.knots, value, touches: [], goneAt: Infinity }))
    if (!lane.touches.at(-1)?.open)
      lane.touches.push({ points: [], returns: getState().listening.ride.mode === 'touch', open: true })
    lane.value = clamp(value, thread.kind.min, thread.kind.max)
    lane.goneAt = performance.now() + holdMs
    write(lane, getPlayer()?.position() ?? 0)
    frame ||= requestAnimationFrame(() => dispatch(tick()))
    return true
  }

/**
 * Moves a control by a change in the scale's units (dB, hundredths of pan), starting from what is heard now.
 */
export const rideBy =
  (ref: LaneRef, by: number, holdMs: number): Thunk<boolean> =>
  (dispatch, getState) => {
    const { session } = getState().session
    const thread = session && threadOf(session, ref)
    if (!thread || !dispatch(isRiding())) return false
    const known = ridden.get(refKey(ref))
    const now = known?.touches.at(-1)?.open
      ? known.value
      : valueAt(thread.kind, thread.knots, getPlayer()?.position() ?? 0)
    return dispatch(rideTo(ref, thread.kind.shift(now, by), holdMs))
  }

/** Releases a control. In latch mode the value stays until the transport stops. */
export const letGo =
  (ref: LaneRef): Thunk =>
  (_dispatch, getState) => {
    const lane = ridden.get(refKey(ref))
    if (lane && getState().listening.ride.mode === 'touch') closeTouch(lane, true)
  }

function closeTouch(lane: Ridden, returns: boolean): void {
  const touch = lane.touches.at(-1)
  if (!touch?.open) return
  touch.open = false
  touch.returns = returns && touch.returns
}

function write(lane: Ridden, position: number): void {
  const touch = lane.touches.at(-1)
  if (!touch?.open) return
  const last = touch.points.at(-1)
  const at = Math.round(position)
  if (last && at < last.frame) {
    // The loop has turned: what was written stays, and writing goes on from there.
    closeTouch(lane, false)
    lane.touches.push({ points: [{ frame: at, value: lane.value }], returns: touch.returns, open: true })
  } else if (last?.frame === at) last.value = lane.value
  else touch.points.push({ frame: at, value: lane.value })
}

const tick = (): Thunk => (dispatch) => {
  frame = 0
  if (ridden.size === 0) return
  if (!dispatch(isRiding())) return dispatch(keepPass())
  const now = performance.now()
  for (const lane of ridden.values()) {
    if (lane.touches.at(-1)?.open && now > lane.goneAt) dispatch(letGo(lane.ref))
    write(lane, getPlayer()?.position() ?? 0)
  }
  if (now - shownAt > SHOWN_EVERY) {
    shownAt = now
    dispatch(preview(shapeThreads, { threads: dispatch(written(true)).threads, what: 'Ride' }))
  }
  frame = requestAnimationFrame(() => dispatch(tick()))
}

/** The lanes of a pass as they were written, and how many points and knots that took. */
interface Written {
  threads: { ref: LaneRef; knots: readonly Knot[] }[]
  pass: Omit<PassKept, 'keepRaw'>
}

/**
 * The lanes of the pass with what has been written so far; `raw` with every point. `live` extends the current value a little, so that
 * it is heard.
 */
const written =
  (live: boolean, raw = false): Thunk<Written> =>
  (_dispatch, getState) => {
    const {
      session: { session },
      listening: { ride },
      preferences: { thinning },
    } = getState()
    const pass = { lanes: ridden.size, points: 0, knots: 0, worst: 0 }
    const rate = session?.sampleRate ?? 48000
    const threads = [...ridden.values()].flatMap(({ ref, before, touches, value }) => {
      const thread = session && threadOf(session, ref)
      if (!thread) return []
      const all = touches.map((t) => {
        const last = t.points.at(-1)
        return live && t.open && last
          ? {
              points: [...t.points, { frame: last.frame + Math.round(AHEAD * rate), value }],
              returns: t.returns,
            }
          : t
      })
      const drawn = rideInto(
        before,
        all,
        {
          tolerance: raw ? null : thinning,
          returnFrames: (ride.returnMs / 1000) * rate,
          join: JOIN_SECONDS * rate,
        },
        thread.kind,
      )
      pass.points += touches.reduce((sum, t) => sum + t.points.length, 0)
      pass.knots += drawn.drawn
      pass.worst = Math.max(pass.worst, drawn.worst)
      return [{ ref, knots: drawn.knots }]
    })
    return { threads, pass }
  }

/** Ends the pass: thins what was written and commits it as one step. */
const keepPass = (): Thunk => (dispatch) => {
  if (ridden.size === 0) return
  for (const lane of ridden.values()) closeTouch(lane, true)
  const { threads, pass } = dispatch(written(false))
  const raw = dispatch(written(false, true)).threads
  ridden.clear()
  if (pass.knots === 0) return dispatch(dropPreview())
  if (!dispatch(commit(shapeThreads, { threads, what: 'Ride' }))) return
  const number = dispatch(lastStep())
  const keepRaw = () => dispatch(amend(number, shapeThreads, { threads: raw, what: 'Ride' })) !== null
  for (const listener of listeners) listener({ ...pass, keepRaw })
}

/** Ends a pass when the transport stops, riding is switched off or the page is left. */
export function startRiding(store: Store): void {
  let id: string | null = null
  store.subscribe(() => {
    const { session } = store.getState().session
    if ((session?.id ?? null) !== id) {
      id = session?.id ?? null
      ridden.clear()
    }
    if (ridden.size > 0 && !store.dispatch(isRiding())) store.dispatch(keepPass())
  })
  window.addEventListener('pagehide', () => store.dispatch(keepPass()))
}
