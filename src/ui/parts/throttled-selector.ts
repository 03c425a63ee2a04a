import { useCallback, useState, useSyncExternalStore } from 'react'
import type { RootState, Store } from '../../store/store'
import { useAppStore } from './hooks'

/** A hand that drags pauses when nothing has changed for so long, in milliseconds: then calm parts change. */
const PAUSE_MS = 120
/** How long they rest at most while it goes on without a pause. */
const REST_MS = 800

const calm = new Set<() => void>()
/** How many rests there were. */
let rests = 0
let timer: ReturnType<typeof setTimeout> | undefined
/** When something changed last, and when the first change came that calm parts do not show yet. */
let changedAt = 0
let waitingSince = 0

const dragging = (state: RootState) => state.session.base !== null

/** Ends the rest when the hand pauses or it has been long enough; else looks again. */
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
 * Calls back after every change of the store, and after every rest. All calm parts change at once: each by
 * itself would cost a frame of its own.
 */
export function followCalmly(store: Pick<Store, 'getState' | 'subscribe'>, call: () => void): () => void {
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
 * What selectors find, kept from one look to the next: with `when`, it is looked for once between two rests
 * while a gesture goes on.
 */
export function calmReader<T>(): (
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
 * What a selector finds in the store, for fields and words that need not follow every frame: while a gesture
 * goes on it is looked for when the hand pauses, or about once a second, and at once when it ends. The same
 * value as before where `equal` finds it so. With `when` false it follows everything, as for what the hand
 * itself moves.
 */
export function useCalm<T>(
  select: (state: RootState) => T,
  equal: (a: T, b: T) => boolean = Object.is,
  when = true,
): T {
  const store = useAppStore()
  const [read] = useState(() => calmReader<T>())
  return useSyncExternalStore(
    useCallback((call) => followCalmly(store, call), [store]),
    () => read(store.getState(), select, equal, when),
  )
}
