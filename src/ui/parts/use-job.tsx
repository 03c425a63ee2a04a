import { useRef, useState, type ReactNode } from 'react'
import { Cancelled, type OnProgress, type Progress } from '../../engine/jobs'
import { ProgressBar } from './progress-bar'
import { toast } from './toast'

/** A long job with its progress at the foot of the page and a way to stop it. One runs at a time. */
export function useJob(): {
  run(job: (onProgress: OnProgress, signal: AbortSignal) => Promise<unknown>): void
  shown: ReactNode
} {
  const [progress, setProgress] = useState<Progress | null>(null)
  const abort = useRef<AbortController | null>(null)
  const run = (job: (onProgress: OnProgress, signal: AbortSignal) => Promise<unknown>) => {
    if (abort.current) return
    const control = new AbortController()
    abort.current = control
    setProgress({ done: 0, doing: 'Preparing' })
    job((p) => setProgress(p), control.signal)
      .catch((error: unknown) =>
        toast({
          text:
            error instanceof Cancelled
              ? 'Cancelled; nothing was changed.'
              : error instanceof Error
                ? error.message
                : String(error),
        }),
      )
      .finally(() => {
        abort.current = null
        setProgress(null)
      })
  }
  const shown = progress && (
    <div className="fixed bottom-10 left-1/2 z-40 w-[32rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 rounded-xl border border-seam bg-white p-4 shadow-lg">
      <ProgressBar progress={progress} onCancel={() => abort.current?.abort()} />
    </div>
  )
  return { run, shown }
}
