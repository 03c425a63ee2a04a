import { createContext, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { plateau } from '../../core/curve/knots'
import { shapeThread, threadOf, type ThreadRef } from '../../core/edit'
import type { Session } from '../../core/model/session'
import { gainToDb } from '../../core/units/decibel'
import { OverloadFinder, type Overload } from '../../engine/overloads'
import { commit } from '../../store/edits'
import type { Thunk } from '../../store/store'
import { useAppSelector } from '../parts/hooks'

const OverloadContext = createContext<readonly Overload[]>([])

/** How long the session must stay the same before it is looked through, in milliseconds. */
const CALM = 1500

/** Keeps known where the session would pass full scale, in a worker. */
export function OverloadWatch({ children }: { children: ReactNode }) {
  const [found, setFound] = useState<readonly Overload[]>([])
  // What a gesture or a dialog tries out does not count.
  const base = useAppSelector((s): Session => (s.session.base ?? s.session.session)!)
  const { regions, crossfades, gainThreads, tracks, mix, panLaw } = base
  const watched = useMemo(() => base, [regions, crossfades, gainThreads, tracks, mix, panLaw]) // eslint-disable-line react-hooks/exhaustive-deps
  const finder = useRef<OverloadFinder | null>(null)
  useEffect(
    () => () => {
      finder.current?.close()
      finder.current = null
    },
    [],
  )
  useEffect(() => {
    const timer = window.setTimeout(() => {
      finder.current ??= new OverloadFinder()
      void finder.current.find(watched).then(
        (list) => list && setFound(list),
        () => undefined,
      )
    }, CALM)
    return () => window.clearTimeout(timer)
  }, [watched])
  return <OverloadContext.Provider value={found}>{children}</OverloadContext.Provider>
}

export const useOverloads = () => useContext(OverloadContext)

/** By how much an overload must be lowered, in dB, rounded up to a tenth. */
export const tooLoud = ({ peak }: Overload): number => Math.ceil(gainToDb(peak) * 10 - 1e-6) / 10

/** Lowers a stretch that overloads by a plateau in the volume lane of its track, or of the mix. */
export const lowerOverload =
  (overload: Overload): Thunk =>
  (dispatch, getState) => {
    const { session } = getState().session
    if (!session) return
    const ref: ThreadRef = { kind: 'lane', trackId: overload.trackId, lane: 'volume' }
    const { knots, kind } = threadOf(session, ref)!
    const shoulder = Math.round(session.sampleRate * 0.02)
    dispatch(
      commit(shapeThread, {
        ref,
        knots: plateau(
          knots,
          Math.max(0, overload.from - 2 * shoulder),
          overload.to + 2 * shoulder,
          -tooLoud(overload),
          shoulder,
          kind,
        ),
        what: 'Lower an overload',
      }),
    )
  }
