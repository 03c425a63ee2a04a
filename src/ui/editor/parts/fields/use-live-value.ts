import { useRef } from 'react'
import { valueAt } from '../../../../core/curve/knots'
import { threadOf, type ThreadRef } from '../../../../core/edit'
import { getPlayer } from '../../../../store/playback/playback'
import { shownSession } from '../../../../store/selectors'
import { showText, useAppStore, useFrame } from '../../../parts/hooks'

/**
 * A reference for an element that shows the values of some lanes at the playhead, kept up to date with every frame of the screen;
 * without lanes its text is left alone.
 */
export function useLiveValue(refs: readonly ThreadRef[]) {
  const store = useAppStore()
  const element = useRef<HTMLSpanElement>(null)
  useFrame((shows) => {
    if (!shows) return
    const session = shownSession(store.getState())
    if (!element.current || !session) return
    const at = getPlayer()?.position() ?? 0
    const texts = refs.flatMap((ref) => {
      const thread = threadOf(session, ref)
      return thread ? thread.kind.show(valueAt(thread.kind, thread.knots, at)) : []
    })
    if (texts.length) showText(element.current, texts.join(' / '))
  }, refs.length > 0)
  return element
}
