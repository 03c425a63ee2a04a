import { useRef, useState } from 'react'
import type { ImportOutcome, Refused } from '../../engine/import-files'
import { Cancelled, type OnProgress, type Progress } from '../../engine/jobs'
import { ProgressBar } from './progress-bar'
import { RefusedDialog, type Onward } from './refused-files'
import { toast } from './toast'

/** What is said when nothing came with a drop. */
export const NOTHING_DROPPED =
  'Nothing was dropped that could be imported: the folder is empty. Drop audio files, or a folder that holds some.'

const none = { refused: [] as Refused[], imported: 0, onward: null as Onward | null }

/** An import as a page runs it: `run` starts one, `shown` is its progress and what was refused, with what `onward` offers then. */
export function useImport() {
  const [progress, setProgress] = useState<Progress | null>(null)
  const [refused, setRefused] = useState(none)
  const abort = useRef<AbortController | null>(null)

  async function run<T extends ImportOutcome>(
    job: (onProgress: OnProgress, signal: AbortSignal) => Promise<T>,
    onward: (outcome: T) => Onward | null = () => null,
  ): Promise<T | null> {
    if (abort.current) return null
    const control = new AbortController()
    abort.current = control
    setProgress({ done: 0, doing: 'Reading the files' })
    try {
      const outcome = await job((p) => setProgress(p), control.signal)
      setRefused({ refused: outcome.refused, imported: outcome.sounds.length, onward: onward(outcome) })
      return outcome
    } catch (error) {
      toast({
        text:
          error instanceof Cancelled
            ? 'The import was cancelled; nothing was added.'
            : error instanceof Error
              ? error.message
              : String(error),
      })
      return null
    } finally {
      abort.current = null
      setProgress(null)
    }
  }

  const shown = (
    <>
      {progress && (
        <div className="fixed bottom-10 left-1/2 z-40 w-[32rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 rounded-xl border border-seam bg-white p-4 shadow-lg">
          <ProgressBar progress={progress} onCancel={() => abort.current?.abort()} />
        </div>
      )}
      <RefusedDialog {...refused} onClose={() => setRefused(none)} />
    </>
  )
  return { run, shown, busy: progress !== null }
}
