import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from 'react'
import type { Session } from '../../../../core/model/session'
import type { MeasuredSeam } from '../../../../core/suggest/seams'
import { measureSeams } from '../../../../engine/background'
import { useAppSelector } from '../../../parts/hooks'

/** All seams of the session measured so far, the clicking ones by track, and the number still to come. */
export interface SeamsValue {
  seams: readonly MeasuredSeam[]
  clicks: ReadonlyMap<string, MeasuredSeam[]>
  waiting: number
}

const none: SeamsValue = { seams: [], clicks: new Map(), waiting: 0 }
const SeamsContext = createContext(none)

/** The value after new measurements; lists of tracks without changes stay the same objects. */
function seamsValue(before: SeamsValue, seams: readonly MeasuredSeam[], waiting: number): SeamsValue {
  const clicks = new Map<string, MeasuredSeam[]>()
  for (const seam of seams) {
    if (!seam.clicks) continue
    const found = clicks.get(seam.trackId)
    if (found) found.push(seam)
    else clicks.set(seam.trackId, [seam])
  }
  for (const [trackId, found] of clicks) {
    const known = before.clicks.get(trackId)
    if (
      known?.length === found.length &&
      known.every((k, i) => k.id === found[i]!.id && k.frame === found[i]!.frame)
    )
      clicks.set(trackId, known)
  }
  return { seams, clicks, waiting }
}

/** How long the session must stay unchanged before its seams are measured, in milliseconds. */
const CALM = 500

/** Keeps the seams of the session measured, in a worker, and only where something changed. */
export function SeamWatch({ session, children }: { session: Session; children: ReactNode }) {
  const [value, setValue] = useState(none)
  // What a gesture or a dialog tries out does not count.
  const base = useAppSelector((s) => s.session.base) ?? session
  const { regions, crossfades, gainThreads, trackIds } = base
  const watched = useMemo(() => base, [regions, crossfades, gainThreads, trackIds]) // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => {
    const control = new AbortController()
    const timer = window.setTimeout(() => {
      measureSeams(
        watched,
        (seams, waiting) =>
          !control.signal.aborted && setValue((before) => seamsValue(before, seams, waiting)),
        control.signal,
      ).catch(() => undefined)
    }, CALM)
    return () => {
      window.clearTimeout(timer)
      control.abort()
    }
  }, [watched])
  return <SeamsContext.Provider value={value}>{children}</SeamsContext.Provider>
}

export const useSeams = () => useContext(SeamsContext)
