import { together } from '../../../../core/model/groups'
import { useAppSelector } from '../../../parts/hooks'

/** How many regions an edit of some reaches, in words: those that go along because their tracks are in a group are counted, too. */
export const useReachWords = (regionIds: readonly string[]): string =>
  useAppSelector(({ session: { session }, selection: { leavesGroups } }) => {
    const count =
      session?.groups?.length && !leavesGroups
        ? together(session, regionIds).regionIds.length
        : regionIds.length
    return count === 1 ? '1 region' : `${count} regions`
  })
