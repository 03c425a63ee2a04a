import { besideStore } from '../parts/beside-store'

/** What the pointer is over: a session frame, the kind of thing there, and its region. */
export interface Pointed {
  frame: number
  over: string
  regionId: string | null
}

/** What the pointer is over; null when it has left the timeline. */
export const { get: getPointed, set: setPointed, use: usePointed } = besideStore<Pointed | null>(null)
