/** How far a long job is: `done` of 0…1 and what it is doing, in words. */
export interface Progress {
  done: number
  doing: string
}

/** Receives progress from a long job. */
export type OnProgress = (progress: Progress) => void

/** A job that the user stopped. */
export class Cancelled extends Error {
  override name = 'Cancelled'
  constructor() {
    super('cancelled')
  }
}
