/** Whether this machine writes modifiers as ⌘ and ⌥. */
export const isApple = () => /mac|iphone|ipad/i.test(globalThis.navigator?.platform ?? '')

const APPLE: Readonly<Record<string, string>> = { mod: '⌘', meta: '⌘', ctrl: '⌃', alt: '⌥', shift: '⇧' }
const OTHERS: Readonly<Record<string, string>> = {
  mod: 'Ctrl',
  meta: 'Meta',
  ctrl: 'Ctrl',
  alt: 'Alt',
  shift: 'Shift',
}
const KEYS: Readonly<Record<string, string>> = {
  up: '↑',
  down: '↓',
  left: '←',
  right: '→',
  space: 'Space',
  escape: 'Esc',
  enter: 'Enter',
  backspace: 'Backspace',
  delete: 'Delete',
  home: 'Home',
  end: 'End',
  pageup: 'Page Up',
  pagedown: 'Page Down',
  bracketleft: '[',
  bracketright: ']',
  slash: '/',
  backslash: '\\',
  semicolon: ';',
  quote: "'",
  backquote: '`',
}
const APPLE_KEYS: Readonly<Record<string, string>> = {
  backspace: '⌫',
  delete: '⌦',
  enter: '↩',
  escape: 'esc',
}

/** What the person's keyboard has on a key of the usual place, once the browser has told. */
const layout = new Map<string, string>()

interface KeyboardLayout {
  getLayoutMap(): Promise<Map<string, string>>
}

/** Asks the browser what is on the keys, where it tells. */
export function readLayout(): void {
  const { keyboard } = navigator as Navigator & { keyboard?: KeyboardLayout }
  keyboard
    ?.getLayoutMap()
    .then((map) => {
      for (const [code, key] of map)
        if (/^(Key|Bracket|Slash|Backslash|Semicolon|Quote|Backquote)/.test(code))
          layout.set(code.replace(/^Key/, '').toLowerCase(), key.toUpperCase())
    })
    .catch(() => undefined)
}

const isLatin = (key: string) => /^[a-z]$/i.test(key)

/**
 * Whether a combination is about a letter, wherever the keyboard has it: those of Ctrl or ⌘ and a letter are, as in any
 * program. All others are about a place on the keyboard.
 */
export function followsLetter(combination: string): boolean {
  const parts = combination.split('+')
  return parts.includes('mod') && isLatin(parts.at(-1)!)
}

/** Whether a key event writes a Latin letter; on other keyboards letters of combinations are those of the usual places. */
export const writesLatin = ({ key }: Pick<KeyboardEvent, 'key'>): boolean => isLatin(key)

/** A combination as it stands on this machine's keys: "Ctrl Shift Z", "⇧⌘Z". */
export function keyWords(combination: string, apple = isApple()): string {
  const parts = combination.split('+')
  const key = parts.at(-1)!
  const name =
    (apple ? APPLE_KEYS[key] : undefined) ??
    (followsLetter(combination) ? undefined : layout.get(key)) ??
    KEYS[key] ??
    (key.length === 1 ? key.toUpperCase() : key.toUpperCase())
  if (!apple) return [...parts.slice(0, -1).map((m) => OTHERS[m] ?? m), name].join(' ')
  const order = ['ctrl', 'alt', 'shift', 'mod', 'meta']
  return [...order.filter((m) => parts.slice(0, -1).includes(m)).map((m) => APPLE[m]!), name].join('')
}

/** A modifier as it stands on this machine's keys. */
export const modifierWords = (modifier: 'mod' | 'alt' | 'shift', apple = isApple()): string =>
  (apple ? APPLE : OTHERS)[modifier]!

const CODES: Readonly<Record<string, string>> = {
  ArrowUp: 'up',
  ArrowDown: 'down',
  ArrowLeft: 'left',
  ArrowRight: 'right',
  Escape: 'escape',
}

/**
 * The combination that a key event stands for; null for a modifier alone, and for digits and signs, which begin a typed
 * value.
 */
export function combinationOf(
  event: Pick<KeyboardEvent, 'code' | 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>,
  apple = isApple(),
): string | null {
  const { code } = event
  if (/^(Shift|Control|Alt|Meta|OS|Caps)/.test(code) || code === '') return null
  const bare = !event.ctrlKey && !event.metaKey && !event.altKey
  if (/^(Digit|Numpad|Minus|Equal|Comma|Period)/.test(code) && bare) return null
  const mod = apple ? event.metaKey : event.ctrlKey
  const key =
    mod && isLatin(event.key)
      ? event.key.toLowerCase()
      : (CODES[code] ?? code.replace(/^Key|^Digit/, '').toLowerCase())
  const other = apple ? event.ctrlKey : event.metaKey
  return [
    mod && 'mod',
    other && (apple ? 'ctrl' : 'meta'),
    event.shiftKey && 'shift',
    event.altKey && 'alt',
    key,
  ]
    .filter(Boolean)
    .join('+')
}
