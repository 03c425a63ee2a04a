/** A command as its group lists it. */
export interface CommandEntry {
  id: string
  title: string
  /** Further words by which people look for it. */
  words?: string
  /** The keys that run it unless the person chose others, as react-hotkeys-hook takes them. */
  keys?: readonly string[]
  /** Whether holding a key lends it: then it has one key without modifiers. */
  held?: true
  /** Whether it needs the pointer or the focus, so that it cannot be run from a list. */
  onlyByKey?: true
}
