import { useSyncExternalStore } from 'react'

/** A value that is kept beside the store, since it changes with every movement of a hand and few parts of the screen show it. */
export interface BesideStore<T> {
  get(): T
  set(next: T): void
  /** The value, for a component that shows it. */
  use(): T
}

/** A new one, with its first value. */
export function besideStore<T>(first: T): BesideStore<T> {
  let now = first
  const listeners = new Set<() => void>()
  const subscribe = (listener: () => void) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }
  const get = () => now
  return {
    get,
    set(next) {
      now = next
      for (const listener of listeners) listener()
    },
    use: () => useSyncExternalStore(subscribe, get),
  }
}
