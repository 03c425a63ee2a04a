import type { Progress as State } from '../../../engine/worker'
import { Button } from '../button'

/** How far a job is, with a way to stop it. */
export function ProgressBar({
  progress,
  onCancel,
  rest,
}: {
  progress: State
  onCancel?: () => void
  rest?: string | undefined
}) {
  const percent = Math.round(progress.done * 100)
  return (
    <div className="flex items-center gap-4">
      <div className="min-w-0 flex-1">
        <div className="mb-1 flex justify-between gap-4 text-sm">
          <span className="truncate">{progress.doing}</span>
          <span className="shrink-0 font-mono text-soft">
            {percent} %{rest ? ` · ${rest}` : ''}
          </span>
        </div>
        <div
          role="progressbar"
          aria-label={progress.doing}
          aria-valuenow={percent}
          aria-valuemin={0}
          aria-valuemax={100}
          className="h-2 overflow-hidden rounded-full bg-fold"
        >
          <div className="h-full rounded-full bg-oak" style={{ width: `${percent}%` }} />
        </div>
      </div>
      {onCancel && <Button onClick={onCancel}>Cancel</Button>}
    </div>
  )
}
