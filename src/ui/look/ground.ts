import { observable } from '../../store/observable'
import type { Store } from '../../store/store'
import { forgetColours } from './colours'

/** The ground that is shown: light, or dark for the evening. */
export const ground = observable<'day' | 'evening'>('day')

export const isEvening = () => ground.get() === 'evening'

/**
 * Shows the ground that the person chose, or else the one of the system, and follows both. Pictures on canvases are made
 * anew.
 */
export function startGround(store: Store): void {
  const dark = window.matchMedia('(prefers-color-scheme: dark)')
  const show = () => {
    const chosen = store.getState().preferences.ground
    const next = chosen === 'system' ? (dark.matches ? 'evening' : 'day') : chosen
    if (next === ground.get() && document.documentElement.dataset.ground === next) return
    document.documentElement.dataset.ground = next
    forgetColours()
    ground.set(next)
  }
  show()
  dark.addEventListener('change', show)
  store.subscribe(show)
}
