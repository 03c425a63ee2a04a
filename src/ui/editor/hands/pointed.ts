import { besideStore } from '../parts/beside-store'

/** What the pointer is over: a session frame, the kind of thing there, and its region. */
export interface Pointed {
  frame: number
  over: string
  regionId: string | null
}

const pointed = besideStore<Pointed | null>(null)

/** What the pointer is over; null when it has left the timeline. */
export const { get: getPointed, use: usePointed } = pointed

/** The pointer is over this now. */
export function setPointed(next: Pointed | null): void {
  const now = pointed.get()
  // Most movements of a hand that goes up or down stay over the same thing.
  if (
    now && next
      ? now.frame !== next.frame || now.over !== next.over || now.regionId !== next.regionId
      : now !== next
  )
    pointed.set(next)
}
