/** A value beside the store, for what changes with every movement of the pointer and few parts of the screen show. */
export interface Observable<T> {
  get(): T
  set(next: T): void
  /** Calls back after every `set`. Returns how to stop listening. */
  subscribe(listener: () => void): () => void
}

/** A new one, with its first value. */
export function observable<T>(first: T): Observable<T> {
  let now = first
  const listeners = new Set<() => void>()
  return {
    get: () => now,
    set(next) {
      now = next
      for (const listener of listeners) listener()
    },
    subscribe(listener) {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
  }
}
