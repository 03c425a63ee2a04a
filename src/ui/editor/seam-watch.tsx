import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from 'react'
import type { Session } from '../../core/model/session'
import type { MeasuredSeam } from '../../core/suggest/seams'
import { measureSeams } from '../../engine/analysis'
import { useAppSelector } from '../parts/hooks'

/** All seams of the session as far as they are measured, and how many are still to come. */
export interface SeamsValue {
  seams: readonly MeasuredSeam[]
  waiting: number
}

const SeamsContext = createContext<SeamsValue>({ seams: [], waiting: 0 })

/** How long the session must stay the same before its seams are measured, in milliseconds. */
const CALM = 500

/** Keeps the seams of the session measured, in a worker and only where something changed. */
export function SeamWatch({ session, children }: { session: Session; children: ReactNode }) {
  const [value, setValue] = useState<SeamsValue>({ seams: [], waiting: 0 })
  // What a gesture or a dialog tries out does not count.
  const base = useAppSelector((s) => s.session.base) ?? session
  const { regions, crossfades, gainThreads, trackIds } = base
  const watched = useMemo(() => base, [regions, crossfades, gainThreads, trackIds]) // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => {
    const control = new AbortController()
    const timer = window.setTimeout(() => {
      measureSeams(watched, (seams, waiting) => !control.signal.aborted && setValue({ seams, waiting }), control.signal).catch(() => undefined)
    }, CALM)
    return () => {
      window.clearTimeout(timer)
      control.abort()
    }
  }, [watched])
  return <SeamsContext.Provider value={value}>{children}</SeamsContext.Provider>
}

export const useSeams = () => useContext(SeamsContext)
