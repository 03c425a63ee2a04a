import { useCallback, useState, useSyncExternalStore } from 'react'
import type { RootState, Store } from '../../../store/store'
import { useAppStore } from '../hooks'

/**
 * A drag counts as paused when nothing has changed for this long, in milliseconds; throttled components then
 * update.
 */
const PAUSE_MS = 120
/** Longest time without an update during a drag, in milliseconds. */
const REST_MS = 800

const calm = new Set<() => void>()
/** Number of updates so far. */
let rests = 0
let timer: ReturnType<typeof setTimeout> | undefined
/** Time of the last change, and of the first change not shown yet. */
let changedAt = 0
let waitingSince = 0

const dragging = (state: RootState) => state.session.base !== null

/** Updates when the drag pauses or enough time has passed; otherwise checks again. */
function look(): void {
  const now = performance.now()
  if (now - changedAt < PAUSE_MS && now - waitingSince < REST_MS) {
    timer = setTimeout(look, PAUSE_MS)
    return
  }
  timer = undefined
  rests++
  for (const each of calm) each()
}

/**
 * Calls back after every change of the store, throttled during a drag. All throttled components update
 * together: separately each would cost a frame.
 */
export function subscribeThrottled(
  store: Pick<Store, 'getState' | 'subscribe'>,
  call: () => void,
): () => void {
  const leave = store.subscribe(() => {
    if (dragging(store.getState())) {
      changedAt = performance.now()
      if (timer === undefined) {
        waitingSince = changedAt
        timer = setTimeout(look, PAUSE_MS)
      }
    }
    call()
  })
  calm.add(call)
  return () => {
    leave()
    calm.delete(call)
  }
}

/**
 * A reader that keeps the selected value between updates; with `when`, it is computed once per update during
 * a gesture.
 */
export function throttledReader<T>(): (
  state: RootState,
  select: (state: RootState) => T,
  equal: (a: T, b: T) => boolean,
  when: boolean,
) => T {
  let found: { value: T; at: number } | null = null
  return (state, select, equal, when) => {
    if (found && when && found.at === rests && dragging(state)) return found.value
    const value = select(state)
    found = { value: found && equal(found.value, value) ? found.value : value, at: rests }
    return found.value
  }
}

/**
 * Keeps the last selected value during a gesture so that fields and labels do not re-render every frame: it
 * updates when the drag pauses, about once a second, and at its end. `equal` keeps the previous object. With
 * `when` false it follows everything, for what is being dragged itself.
 */
export function useThrottledSelector<T>(
  select: (state: RootState) => T,
  equal: (a: T, b: T) => boolean = Object.is,
  when = true,
): T {
  const store = useAppStore()
  const [read] = useState(() => throttledReader<T>())
  return useSyncExternalStore(
    useCallback((call) => subscribeThrottled(store, call), [store]),
    () => read(store.getState(), select, equal, when),
  )
}
