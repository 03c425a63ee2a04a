import { observable } from './observable'

/** Why what was just tried did nothing, as a sentence; null when nothing is to be said. A new object each time. */
export const whyNot = observable<{ text: string } | null>(null)

/** Says at the pointer, or at the focus, why what was just tried does nothing. */
export const sayWhyNot = (text: string): void => {
  // A drag tries again with every movement: the same sentence stays where it is.
  if (whyNot.get()?.text !== text) whyNot.set({ text })
}
