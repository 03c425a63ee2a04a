import { useSyncExternalStore } from 'react'
import { ReadoutCard, type Readout } from '../../parts/readout'

let now: Readout | null = null
const listeners = new Set<() => void>()

/** Says something beside the pointer; null when the gesture is over. Kept outside the timeline, since it changes with every movement. */
export function say(next: Readout | null): void {
  now = next
  for (const listener of listeners) listener()
}

const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** The words beside the pointer, inside a place so wide. */
export function ReadoutShown({ width }: { width: number }) {
  const readout = useSyncExternalStore(subscribe, () => now)
  return readout && <ReadoutCard {...readout} width={width} />
}
