import { observable } from '../../../store/observable'

/** A short message, possibly with something to do about it. */
export interface ToastMessage {
  text: string
  action?: { label: string; run(): void }
  /** Milliseconds it stays. */
  stays?: number
}

/** A message on the screen. */
export type ShownToast = ToastMessage & { id: number }

/** At most so many are shown at once. */
const MOST_TOASTS = 4

let count = 0

/** The messages on the screen, the newest last. */
export const shownToasts = observable<readonly ShownToast[]>([])

/** Shows a short message at the lower right. */
export const toast = (message: ToastMessage): void =>
  shownToasts.set([...shownToasts.get().slice(1 - MOST_TOASTS), { ...message, id: ++count }])

/** Takes a message off the screen. */
export const dismissToast = (id: number): void =>
  shownToasts.set(shownToasts.get().filter((m) => m.id !== id))
