import type { Region, Session, Track } from '../../../core/model/session'
import { pathTrack, selectedRegions, shownSession } from '../../../store/selectors'
import type { RootState } from '../../../store/store'
import { useCalm } from '../../parts/throttled-selector'
import { sameLook, sameSessionLook } from '../../parts/same-look'

/** What the Path and the bench are about: the track that the Path shows, and the selected regions. */
export interface Followed {
  session: Session | null
  track: Track | null
  regions: readonly Region[]
}

const followed = (state: RootState): Followed => ({
  session: shownSession(state),
  track: pathTrack(state),
  regions: selectedRegions(state),
})

const sameOrNone = <T>(a: T | null, b: T | null, same: (a: T, b: T) => boolean) =>
  a === b || (a !== null && b !== null && same(a, b))

const sameFollowed = (a: Followed, b: Followed): boolean =>
  sameOrNone(a.session, b.session, sameSessionLook) &&
  sameOrNone(a.track, b.track, sameLook) &&
  a.regions.length === b.regions.length &&
  a.regions.every((region, i) => region === b.regions[i])

/**
 * What the fields are about, as it was a moment ago while a hand drags. Knots of lanes are not seen in it;
 * what shows them follows by itself.
 */
export const useFollowed = (): Followed => useCalm(followed, sameFollowed)
