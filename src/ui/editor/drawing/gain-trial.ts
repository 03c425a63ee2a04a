import { observable } from '../../../store/observable'

/** A clip gain that a hand tries on very many regions: only their pictures have it, on top of what the session says. */
export interface Trial {
  regionIds: ReadonlySet<string>
  byDb: number
}

/** The trial that is shown; null when there is none. */
export const gainTrial = observable<Trial | null>(null)
