import { FADER } from '../../../../core/model/parameters'
import { createContext, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { plateau } from '../../../../core/curve/knots'
import { shapeThread, threadOf, type ThreadRef } from '../../../../core/edit'
import type { Knot, Session } from '../../../../core/model/session'
import { mergedOverloads } from '../../drawing/merged-overloads'
import { gainToDb } from '../../../../core/units/decibel'
import { OverloadFinder, type Overload } from '../../../../engine/background'
import { commit } from '../../../../store/edits'
import type { RootState, Thunk } from '../../../../store/store'
import { noticeDropped, noticed } from '../../../../store/transport-slice'
import { mixFlaggedSet } from '../../../../store/view'
import { useAppSelector, useAppStore } from '../../../parts/hooks'

/** The overloads found so far, and how much of the session has been looked at, 0…1. */
interface Found {
  list: readonly Overload[]
  looked: number
}

const OverloadContext = createContext<Found>({ list: [], looked: 1 })
const CourseContext = createContext<Float32Array | null>(null)

/**
 * How long the session must stay unchanged before the search starts, in milliseconds: keys that are held
 * change it often.
 */
const PAUSE_MS = 120
/** Least interval between two reports of the visible part, in milliseconds. */
const LOOK_MS = 400

const shownFrames = ({ navigation: { view } }: RootState) => ({
  from: view.left,
  to: view.left + view.width * view.framesPerPixel,
})

/** Keeps track of where the session would exceed full scale, in a worker, and reports when that fails. */
export function OverloadWatch({ children }: { children: ReactNode }) {
  const [found, setFound] = useState<Found>({ list: [], looked: 0 })
  const [course, setCourse] = useState<Float32Array | null>(null)
  const store = useAppStore()
  // What a gesture or a dialog tries out does not count.
  const base = useAppSelector((s): Session => (s.session.base ?? s.session.session)!)
  const { regions, crossfades, gainThreads, tracks, mix, panLaw } = base
  const watched = useMemo(() => base, [regions, crossfades, gainThreads, tracks, mix, panLaw]) // eslint-disable-line react-hooks/exhaustive-deps
  const finder = useRef<OverloadFinder | null>(null)
  useEffect(() => {
    let timer = 0
    let looked: RootState['navigation']['view'] | null = null
    const leave = store.subscribe(() => {
      const { view } = store.getState().navigation
      if (view === looked || timer) return
      looked = view
      timer = window.setTimeout(() => {
        timer = 0
        finder.current?.look(shownFrames(store.getState()))
      }, LOOK_MS)
    })
    return () => {
      leave()
      window.clearTimeout(timer)
      finder.current?.close()
      finder.current = null
    }
  }, [store])
  useEffect(() => {
    const timer = window.setTimeout(() => {
      finder.current ??= new OverloadFinder({
        onFound: (list, looked) => {
          setFound({ list, looked })
          // It goes on, so what was said before holds no more.
          store.dispatch(noticeDropped('overloads'))
        },
        onCourse: setCourse,
        onFailed: (message) =>
          store.dispatch(
            noticed({
              id: 'overloads',
              text: `Overloads cannot be looked for, so none are shown: ${message}`,
            }),
          ),
      })
      finder.current.setPlaying(store.getState().transport.playing)
      finder.current.update(watched, shownFrames(store.getState()))
    }, PAUSE_MS)
    return () => window.clearTimeout(timer)
  }, [watched, store])
  const playing = useAppSelector((s) => s.transport.playing)
  useEffect(() => finder.current?.setPlaying(playing), [playing])
  const flagged = found.list.some((o) => o.trackId === null)
  useEffect(() => void store.dispatch(mixFlaggedSet(flagged)), [store, flagged])
  return (
    <OverloadContext.Provider value={found}>
      <CourseContext.Provider value={course}>{children}</CourseContext.Provider>
    </OverloadContext.Provider>
  )
}

/** The K-weighted power of the mix in steps of 100 ms, NaN where it is not known; null before anything is. */
export const useLoudnessCourse = () => useContext(CourseContext)

export const useOverloads = () => useContext(OverloadContext).list

/** How much of the session has been looked at for overloads, 0…1. */
export const useLookedAt = () => useContext(OverloadContext).looked

/** By how much an overload must be lowered, in dB, rounded up to a tenth. */
export const tooLoud = ({ peak }: Pick<Overload, 'peak'>): number =>
  Math.ceil(gainToDb(peak) * 10 - 1e-6) / 10

/**
 * Lowers overloading stretches of one track, or of the mix, by plateaus in its volume lane, as one step. Stretches so
 * near that their plateaus would meet are lowered as one, by what the loudest needs.
 */
export const lowerOverloads =
  (overloads: readonly Overload[]): Thunk =>
  (dispatch, getState) => {
    const { session } = getState().session
    const [first] = overloads
    if (!session || !first) return
    const ref: ThreadRef = { kind: 'lane', trackId: first.trackId, lane: FADER }
    const { knots, kind } = threadOf(session, ref)!
    const shoulder = Math.round(session.sampleRate * 0.02)
    const lowered = mergedOverloads(overloads, 4 * shoulder).reduce<readonly Knot[]>(
      (now, { from, to, peak }) =>
        plateau(now, Math.max(0, from - shoulder), to + shoulder, -tooLoud({ peak }), shoulder, kind),
      knots,
    )
    const what = overloads.length === 1 ? 'Lower an overload' : `Lower ${overloads.length} overloads`
    dispatch(commit(shapeThread, { ref, knots: lowered, what }))
  }
