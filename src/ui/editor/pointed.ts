import { useSyncExternalStore } from 'react'

/** What the pointer is over: a session frame, the kind of thing there, and its region. */
export interface Pointed {
  frame: number
  over: string
  regionId: string | null
}

let now: Pointed | null = null
const listeners = new Set<() => void>()

/** Tells what the pointer is over; null when it has left the timeline. */
export function setPointed(next: Pointed | null): void {
  now = next
  for (const listener of listeners) listener()
}

/** What the pointer is over now. */
export const getPointed = () => now

/** What the pointer is over. Kept outside the store, since it changes with every movement. */
export const usePointed = () => useSyncExternalStore((listener) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}, () => now)
