import { observable } from '../../../store/observable'

/** What the pointer is over: a session frame, the kind of thing there, and its region. */
export interface Pointed {
  frame: number
  over: string
  regionId: string | null
}

/** What the pointer is over; null when it has left the timeline. */
export const underPointer = observable<Pointed | null>(null)

/** Tells what the pointer is over now. */
export function setPointed(next: Pointed | null): void {
  const now = underPointer.get()
  // Most movements of a hand that goes up or down stay over the same thing.
  if (
    now && next
      ? now.frame !== next.frame || now.over !== next.over || now.regionId !== next.regionId
      : now !== next
  )
    underPointer.set(next)
}
