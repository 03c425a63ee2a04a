import { useEffect } from 'react'
import { releaseLock } from '../../../store/opening/session-lock'
import { hasUnsavedWork } from '../../../store/selectors'
import { closed } from '../../../store/session-slice'
import { useAppDispatch, useAppStore } from '../hooks'

/** Closes the open session, so that another tab may edit it. One with changes that could not be saved stays open. */
export function useCloseSession(): void {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  useEffect(() => {
    if (hasUnsavedWork(store.getState())) return
    dispatch(closed())
    releaseLock()
  }, [dispatch, store])
}
