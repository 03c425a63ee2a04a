import { memo } from 'react'
import type { Session } from '../../../core/model/session'
import type { View } from '../../../store/view-slice'
import { onlyParts } from '../../parts/only-parts'
import { useSeams } from '../seam-watch'
import { frameToX, ROW_HEIGHT, ROW_PAD, rowTop } from './geometry'

/** Small marks at the seams that click. */
export const SeamMarks = memo(function SeamMarks({ session, view }: { session: Session; view: View }) {
  const { seams } = useSeams()
  const marks = []
  for (const seam of seams) {
    if (!seam.clicks) continue
    const row = session.trackIds.indexOf(seam.trackId)
    const x = frameToX(view, seam.frame)
    const y = rowTop(view, row) + ROW_PAD
    if (row < 0 || x < -6 || x > view.width + 6 || y < -ROW_HEIGHT || y > view.height) continue
    marks.push(<path key={seam.id} d={`M${x - 4} ${y + 1}l3 5-2.5 0 4.5 7-1-5.5 3 0-3-6.5z`} fill="var(--color-madder)" stroke="var(--color-white)" strokeWidth={0.8} />)
  }
  return <svg className="pointer-events-none absolute top-0 left-0" width={view.width} height={view.height} aria-hidden>{marks}</svg>
}, onlyParts('trackIds'))
