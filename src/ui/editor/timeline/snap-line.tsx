import { useAppSelector } from '../../parts/hooks'
import { frameToX } from '../drawing/geometry'
import type { Snapped } from '../hands/snap'

/** The line at what a dragged thing snaps to. */
export function SnapLine({ snapped }: { snapped: Snapped }) {
  const view = useAppSelector((s) => s.navigation.view)
  return (
    <div
      className="pointer-events-none absolute inset-y-0 w-px bg-ink"
      style={{ left: frameToX(view, snapped.frame) }}
    >
      <span className="absolute top-1 left-1.5 max-w-52 truncate rounded bg-ink px-1.5 py-0.5 text-2xs whitespace-nowrap text-white">
        {snapped.what}
      </span>
    </div>
  )
}
