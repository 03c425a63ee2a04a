import { useSyncExternalStore } from 'react'

/** A clip gain that a hand tries on very many regions: only their pictures have it, on top of what the session says. */
export interface Trial {
  regionIds: ReadonlySet<string>
  byDb: number
}

let now: Trial | null = null
const listeners = new Set<() => void>()

/** Shows a trial, or ends it. */
export function setTrial(next: Trial | null): void {
  now = next
  for (const listener of listeners) listener()
}

const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

export const useTrial = () => useSyncExternalStore(subscribe, () => now)
