import { useEffect, useState } from 'react'
import { Cancelled, type Progress } from '../../../engine/worker'
import { openSession } from '../../../store/opening/open-session'
import { hasUnsavedWork } from '../../../store/selectors'
import { useAppDispatch, useAppSelector, useAppStore } from '../hooks'
import { SILENT_MS } from './silent-storage'

/** How opening a session stands. */
export type Opening =
  /** `silent`: nothing has been heard of the storage for a while. */
  | { state: 'opening'; progress: Progress | null; silent?: boolean }
  | { state: 'open' }
  | { state: 'missing' }
  /** Another session is open with changes that could not be saved; `giveUp` opens this one all the same. */
  | { state: 'unsaved'; id: string; title: string; giveUp(): void }
  | { state: 'failed'; message: string }

/**
 * Opens a session for a page. It stays open while the next page shows the same session, and closes when a
 * page shows another.
 */
export function useSession(id: string): Opening {
  const dispatch = useAppDispatch()
  const openId = useAppSelector((s) => s.session.session?.id)
  const [opening, setOpening] = useState<Opening>({ state: 'opening', progress: null })
  const isOpen = openId === id
  const store = useAppStore()
  const [givenUp, setGivenUp] = useState<string | null>(null)
  useEffect(() => {
    if (isOpen) return setOpening({ state: 'open' })
    const { session: held } = store.getState().session
    if (held && hasUnsavedWork(store.getState()) && givenUp !== held.id) {
      const { id: heldId, title } = held
      return setOpening({ state: 'unsaved', id: heldId, title, giveUp: () => setGivenUp(heldId) })
    }
    const abort = new AbortController()
    let silence = 0
    const show = (progress: Progress | null) => {
      if (abort.signal.aborted) return
      setOpening({ state: 'opening', progress })
      window.clearTimeout(silence)
      silence = window.setTimeout(() => setOpening({ state: 'opening', progress, silent: true }), SILENT_MS)
    }
    show(null)
    dispatch(openSession(id, show, abort.signal))
      .then((found) => !abort.signal.aborted && setOpening(found ? { state: 'open' } : { state: 'missing' }))
      .finally(() => window.clearTimeout(silence))
      .catch((error: unknown) => {
        if (!abort.signal.aborted && !(error instanceof Cancelled))
          setOpening({ state: 'failed', message: error instanceof Error ? error.message : String(error) })
      })
    return () => {
      window.clearTimeout(silence)
      abort.abort()
    }
    // Once open, a change of `isOpen` must not open it again.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id, dispatch, givenUp])
  return isOpen
    ? { state: 'open' }
    : opening.state === 'open'
      ? { state: 'opening', progress: null }
      : opening
}
