/** The most characters of a text from a file that a message repeats. */
const MOST = 60

// Control characters (C0, DEL, C1), line and paragraph separators, and marks that turn the direction of text.
// eslint-disable-next-line no-control-regex
const UNPRINTABLE = /[\u0000-\u001f\u007f-\u009f\u061c\u200e\u200f\u2028\u2029\u202a-\u202e\u2066-\u2069]/g

const escaped = (character: string) => {
  const code = character.charCodeAt(0)
  return code < 256 ? `\\x${code.toString(16).padStart(2, '0')}` : `\\u${code.toString(16)}`
}

/** The first `most` UTF-16 units of a text with "…" where it is longer; never ends inside a character. */
export function shortened(text: string, most: number): string {
  if (text.length <= most) return text
  const cut = text.slice(0, most - 1)
  return `${/[\ud800-\udbff]$/.test(cut) ? cut.slice(0, -1) : cut}…`
}

/** A text from outside as a message shows it: control characters as `\x1b`, at most `most` characters. */
export const shownText = (text: string, most = MOST): string =>
  shortened(shortened(text, most).replace(UNPRINTABLE, escaped), most)

/** A value from outside as a message shows it: text, a number, or what kind of thing it is. */
export function shownValue(value: unknown): string {
  if (Array.isArray(value)) return value.length === 1 ? 'a list of 1' : `a list of ${value.length}`
  if (typeof value === 'object' && value !== null) return 'an object'
  return value === undefined ? 'nothing' : shownText(String(value))
}
