import { useSyncExternalStore } from 'react'

/** What a gesture says of itself, and where on the timeline. */
export interface Readout {
  x: number
  y: number
  text: string
}

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
  return readout && <span className="pointer-events-none absolute z-10 -translate-y-8 rounded bg-ink px-1.5 py-0.5 font-mono text-2xs whitespace-nowrap text-white" style={{ left: Math.min(readout.x, width - 150), top: Math.max(30, readout.y) }}>{readout.text}</span>
}
