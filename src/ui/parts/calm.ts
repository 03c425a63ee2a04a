import { useCallback, useState, useSyncExternalStore } from 'react'
import type { RootState, Store } from '../../store/store'
import { useAppStore } from './hooks'

/** How long calm parts rest between two changes while a hand drags, in milliseconds. */
const REST_MS = 500

const calm = new Set<() => void>()
/** How many rests there were. */
let rests = 0
let timer: ReturnType<typeof setTimeout> | undefined

const dragging = (state: RootState) => state.session.base !== null

/** Calls back after every change of the store, and after every rest. All calm parts change at once: each by itself would cost a frame of its own. */
export function followCalmly(store: Pick<Store, 'getState' | 'subscribe'>, call: () => void): () => void {
  const rest = () => {
    timer = undefined
    rests++
    for (const each of calm) each()
  }
  const leave = store.subscribe(() => {
    if (dragging(store.getState())) timer ??= setTimeout(rest, REST_MS)
    call()
  })
  calm.add(call)
  return () => {
    leave()
    calm.delete(call)
  }
}

/** What selectors find, kept from one look to the next: with `when`, it is looked for once between two rests while a gesture goes on. */
export function calmReader<T>(): (state: RootState, select: (state: RootState) => T, equal: (a: T, b: T) => boolean, when: boolean) => T {
  let found: { value: T; at: number } | null = null
  return (state, select, equal, when) => {
    if (found && when && found.at === rests && dragging(state)) return found.value
    const value = select(state)
    found = { value: found && equal(found.value, value) ? found.value : value, at: rests }
    return found.value
  }
}

/**
 * What a selector finds in the store, for fields and words that need not follow every frame: while a gesture goes on it is looked for twice a second
 * only, and at once when it ends. The same value as before where `equal` finds it so. With `when` false it follows everything, as for
 * what the hand itself moves.
 */
export function useCalm<T>(select: (state: RootState) => T, equal: (a: T, b: T) => boolean = Object.is, when = true): T {
  const store = useAppStore()
  const [read] = useState(() => calmReader<T>())
  return useSyncExternalStore(useCallback((call) => followCalmly(store, call), [store]), () => read(store.getState(), select, equal, when))
}
