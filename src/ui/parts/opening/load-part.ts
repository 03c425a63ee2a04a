import { toast } from '../messages/toast'

/** Said where a part of the program could not be loaded. */
export const NOT_LOADED =
  'A part of the program could not be loaded. Are you offline, or is the server gone? Try again when it can be reached.'

/** Loads a part of the program, as by `import()`; where it cannot be loaded, that is said, and it resolves to null. */
export const loadPart = <T>(load: () => Promise<T>): Promise<T | null> =>
  load().catch(() => {
    toast({ text: NOT_LOADED })
    return null
  })
