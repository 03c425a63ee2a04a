import type { Region, Session, Track } from '../../../core/model/session'
import { pathTrack, selectedRegions, shownSession } from '../../../store/selectors'
import type { RootState } from '../../../store/store'
import { useThrottledSelector } from '../../parts/rendering/throttled-selector'
import { sameLook, sameSessionLook } from '../../parts/rendering/same-look'

/** What the Path and the bench are about: the track that the Path shows, and the selected regions. */
export interface PathSubject {
  session: Session | null
  track: Track | null
  regions: readonly Region[]
}

const pathSubject = (state: RootState): PathSubject => ({
  session: shownSession(state),
  track: pathTrack(state),
  regions: selectedRegions(state),
})

const sameOrNone = <T>(a: T | null, b: T | null, same: (a: T, b: T) => boolean) =>
  a === b || (a !== null && b !== null && same(a, b))

const samePathSubject = (a: PathSubject, b: PathSubject): boolean =>
  sameOrNone(a.session, b.session, sameSessionLook) &&
  sameOrNone(a.track, b.track, sameLook) &&
  a.regions.length === b.regions.length &&
  a.regions.every((region, i) => region === b.regions[i])

/**
 * The subject of the Path and the bench, throttled during drags. It ignores knots of lanes; components that
 * show those subscribe by themselves.
 */
export const usePathSubject = (): PathSubject => useThrottledSelector(pathSubject, samePathSubject)
