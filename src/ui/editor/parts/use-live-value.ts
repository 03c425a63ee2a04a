import { useRef } from 'react'
import { valueAt } from '../../../core/curve/knots'
import { threadOf, type ThreadRef } from '../../../core/edit'
import { getPlayer } from '../../../store/playback'
import { shownSession } from '../../../store/selectors'
import { showText, useAppStore, useFrame } from '../../parts/hooks'

/**
 * A reference for an element that shows the value of a lane at the playhead, kept up to date with every frame
 * of the screen.
 */
export function useLiveValue(ref: ThreadRef | null) {
  const store = useAppStore()
  const element = useRef<HTMLSpanElement>(null)
  useFrame((shows) => {
    if (!shows) return
    const session = shownSession(store.getState())
    const thread = ref && session && threadOf(session, ref)
    if (!element.current || !thread) return
    const text = thread.kind.show(valueAt(thread.kind, thread.knots, getPlayer()?.position() ?? 0))
    showText(element.current, text)
  }, ref !== null)
  return element
}
