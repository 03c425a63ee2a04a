import { Link2 } from 'lucide-react'
import { groupOf } from '../../../core/model/groups'
import { shownSession } from '../../../store/selectors'
import { useAppSelector } from '../../parts/hooks'

/** The sign of the edit group that a track is in, with the group's number; pale while the groups are left. */
export function GroupSign({ trackId }: { trackId: string }) {
  const number = useAppSelector((s) => {
    const session = shownSession(s)
    const group = session && groupOf(session, trackId)
    return group ? session.groups!.indexOf(group) + 1 : 0
  })
  const name = useAppSelector((s) => {
    const session = shownSession(s)
    return (session && groupOf(session, trackId)?.name) ?? ''
  })
  const left = useAppSelector((s) => s.selection.leavesGroups)
  if (number === 0) return null
  return (
    <span
      title={
        left
          ? `In the group “${name}”, which is left at present: edits go to one region alone`
          : `In the group “${name}”: edits go to the regions of its tracks that begin and end together. Hold Y to leave it for a moment`
      }
      className={`inline-flex h-5 shrink-0 items-center gap-0.5 rounded-md border px-1 font-mono text-2xs ${left ? 'border-dashed border-seam text-soft opacity-60' : 'border-walnut'}`}
    >
      <Link2 size={11} aria-hidden />
      {number}
      <span className="sr-only">
        , group {name}
        {left ? ', left at present' : ''}
      </span>
    </span>
  )
}
