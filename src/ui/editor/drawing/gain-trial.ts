import { observable } from '../../../store/observable'

/**
 * A clip gain that is being tried on very many regions: only their pictures show it, on top of the session's
 * value.
 */
export interface Trial {
  regionIds: ReadonlySet<string>
  byDb: number
}

/** The current trial; null when there is none. */
export const gainTrial = observable<Trial | null>(null)
