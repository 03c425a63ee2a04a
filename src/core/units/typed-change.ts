import type { Typed } from './typed'

/** What was typed into a field that has a value: another value, or a change of it, and the text of either. */
export interface TypedText {
  change: boolean
  text: string
}

/**
 * Tells a change from a value: "+2", "+-2" and "by -2" change; "2", "-4.2" and "=+2" set. A minus alone never
 * changes, since values have one, too.
 */
export function readTyped(text: string): TypedText {
  const typed = text.trim().replace(/^[−–]/, '-')
  const change = /^(?:by\s*\+?|\+)\s*(.*)$/i.exec(typed)
  if (change) return { change: true, text: change[1]! }
  return { change: false, text: typed.replace(/^=\s*\+?/, '') }
}

/** A value that can be changed by a typed amount. */
export interface Changeable {
  /** The value now; null where there is none to add to, such as silence. */
  from: number | null
  show(value: number): string
  parse(text: string): Typed<number | null>
}

/**
 * The amount of a typed change, in the field's own unit. It is refused in words where the value is silence, and
 * for factors and percentages, which are no amounts of it.
 */
export function parseAmount({ from, parse }: Changeable, text: string): Typed<number> {
  if (from === null)
    return { ok: false, message: 'It is silent, so there is nothing to add to. Type a value instead.' }
  if (/[%x×*]/i.test(text))
    return { ok: false, message: 'A change is typed in the unit of the field, such as +2 or by −2.' }
  const amount = parse(text)
  if (!amount.ok) return amount
  return amount.value === null
    ? { ok: false, message: 'Type a change such as +2 or by −2.' }
    : { ok: true, value: amount.value }
}

/** The value after a typed change, checked like one that was typed itself. */
export function changed(field: Changeable, text: string): Typed<number | null> {
  const amount = parseAmount(field, text)
  return amount.ok ? field.parse(field.show(field.from! + amount.value)) : amount
}
