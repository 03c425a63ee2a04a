import { clamp } from './clamp'
import { gainScale, type Scale } from './scale'
import { parseLevel, parsePercent, parseShift, showLength, type TimeContext, type Typed } from './typed'

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
  /** Reads a typed amount, where its text is not that of a value. */
  amount?: ((text: string) => Typed<number>) | undefined
  /** The value so much further, or why it cannot be; by default what the sum gives when it is typed. */
  add?: ((amount: number) => Typed<number | null>) | undefined
}

/**
 * The amount of a typed change, in the field's own unit. It is refused in words where the value is silence, and
 * for factors and percentages, which are no amounts of it.
 */
export function parseAmount({ from, parse, amount: own }: Changeable, text: string): Typed<number> {
  if (from === null)
    return { ok: false, message: 'It is silent, so there is nothing to add to. Type a value instead.' }
  if (own) return own(text)
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
  if (!amount.ok) return amount
  return field.add ? field.add(amount.value) : field.parse(field.show(field.from! + amount.value))
}

/** How a length or a time, in whole frames, is changed by a typed one: "+20 ms", "by −1 beat". */
export function lengthChange(
  frames: number,
  context: TimeContext,
  range: { min: number; max: number },
  bareUnit: 'ms' | 's',
  show: (frames: number) => string = (n) => showLength(n, context.sampleRate),
): Pick<Changeable, 'from' | 'show' | 'amount' | 'add'> {
  return {
    from: frames,
    show: (n) => (n < 0 ? `−${show(-n)}` : show(n)),
    amount: (text) => parseShift(text, context, { back: MOST_FRAMES, on: MOST_FRAMES }, bareUnit),
    add(amount) {
      const value = frames + amount
      if (value >= range.min && value <= range.max) return { ok: true, value }
      const would = `${value < 0 ? '−' : ''}${show(Math.abs(value))}`
      return {
        ok: false,
        message: `That would be ${would}; it goes from ${show(range.min)} to ${show(range.max)}.`,
      }
    },
  }
}

/** More frames than any time in a session. */
const MOST_FRAMES = 2 ** 32

/** How a part of a whole (1 is 100 %) is changed by typed percentage points: "+10", "by −5 %". */
export function percentChange(
  value: number,
  range: { min: number; max: number },
): Pick<Changeable, 'from' | 'show' | 'amount' | 'add'> {
  const show = (x: number) => `${x < 0 ? '−' : ''}${Math.round(Math.abs(x) * 1000) / 10} %`
  return {
    from: value,
    show,
    amount: (text) => parsePercent(text, { min: -10, max: 10 }, 'a change'),
    add(amount) {
      const x = value + amount
      return x >= range.min - 1e-9 && x <= range.max + 1e-9
        ? { ok: true, value: clamp(Math.round(x * 1e4) / 1e4, range.min, range.max) }
        : {
            ok: false,
            message: `That would be ${show(x)}; it goes from ${show(range.min)} to ${show(range.max)}.`,
          }
    },
  }
}

/** A typed amount of dB or LU: "+2", "−1.5 dB". */
export const parseDbAmount = (text: string): Typed<number> => {
  const amount = /[%x×*]/i.test(text)
    ? null
    : parseLevel(text.replace(/ ?lu(fs)?$/i, ''), { min: -120, max: 120 })
  return amount?.ok && amount.value !== null
    ? { ok: true, value: amount.value }
    : { ok: false, message: 'A change is typed in dB, such as +2 or by −2.' }
}

/** How the value of a thread is changed by a typed amount, in the unit of its scale. */
export const scaleChange = (
  scale: Scale,
  value: number,
): Pick<Changeable, 'from' | 'show' | 'amount' | 'add'> => ({
  // Silence has nothing to add to.
  from: scale.name === gainScale.name && value <= 0 ? null : value,
  show: (v) => scale.show(v, 2),
  amount: (text) => scale.parseChange(text),
  add(amount) {
    const units = scale.exact(value) + amount
    const { min, max } = scale.unitRange
    return units >= min - 1e-9 && units <= max + 1e-9
      ? { ok: true, value: scale.fromUnits(units) }
      : {
          ok: false,
          message: `That would be beyond ${scale.show(scale.fromUnits(units > max ? max : min))}.`,
        }
  },
})
