import { gainToDb } from './decibel'

/** What became of a typed text: a value, or one sentence for the person who typed it. */
export type Typed<T> = { ok: true; value: T } | { ok: false; message: string }

const good = <T>(value: T): Typed<T> => ({ ok: true, value })

const bad = (message: string): Typed<never> => ({ ok: false, message })

const number = (text: string) => (/^[+-]?(\d+(?:\.\d*)?|\.\d+)$/.test(text) ? Number(text) : NaN)

/**
 * Typed text in one spelling: trimmed, lower case, proper minus signs and decimal commas turned into what
 * numbers use.
 */
const plain = (text: string) =>
  text
    .trim()
    .toLowerCase()
    .replace(/[−–]/g, '-')
    .replace(/(\d),(\d)/g, '$1.$2')
    .replace(/\s+/g, ' ')

const round = (db: number) => Math.round(db * 100) / 100

/** A dB value as shown: two decimals only where they are needed, a real minus sign, and a plus where `signed`. */
export function showDb(db: number | null, decimals = 1): string {
  if (db === null || db === -Infinity) return '−∞ dB'
  const places = Math.abs(db * 10 - Math.round(db * 10)) > 0.01 ? Math.max(decimals, 2) : decimals
  const text = Math.abs(db).toFixed(places)
  return `${Number(text) === 0 ? '' : db < 0 ? '−' : '+'}${text} dB`
}

/**
 * A typed level: "-6", "-6 dB", "+3", "50%", "x0.5", and "-inf" where silence is allowed (null). The result
 * is in dB, rounded to 0.01 dB; bad text gives a sentence that names the range.
 */
export function parseLevel(
  text: string,
  range: { min: number; max: number; silence?: boolean },
): Typed<number | null> {
  const t = plain(text)
  const words =
    `Type a level from ${showDb(range.min)} to ${showDb(range.max)}, such as −6, −6 dB, ` +
    `50% or x0.5${range.silence ? ', or −inf for silence' : ''}.`
  if (range.silence && /^(-? ?inf(inity)?|-∞|silence|off)( ?db)?$/.test(t)) return good(null)
  let db = number(t.replace(/ ?db$/, ''))
  const percent = /^([\d.]+) ?%$/.exec(t)
  const factor = /^[x×*] ?([\d.]+)$/.exec(t) ?? /^([\d.]+) ?[x×]$/.exec(t)
  if (percent) db = gainToDb(number(percent[1]!) / 100)
  if (factor) db = gainToDb(number(factor[1]!))
  if (range.silence && db === -Infinity) return good(null)
  if (Number.isNaN(db)) return bad(words)
  if (db < range.min || db > range.max) return bad(`${text.trim()} is out of range. ${words}`)
  return good(round(db) + 0)
}

/** Units of what was measured. */
export type MeasuredUnit = 'LUFS' | 'dBFS' | 'dBTP'

/** A measured level as shown: "−23.0 LUFS", without a plus; -Infinity is silence. */
export const showMeasured = (level: number, unit: MeasuredUnit): string =>
  `${showDb(level).replace(' dB', '').replace('+', '')} ${unit}`

/** A typed level in a measured unit, with the unit or without: "-23", "-23 LUFS"; rounded to 0.01. */
export function parseMeasured(
  text: string,
  range: { min: number; max: number; unit: MeasuredUnit },
): Typed<number> {
  const level = number(plain(text).replace(new RegExp(` ?(db|${range.unit.toLowerCase()})$`), ''))
  if (level >= range.min && level <= range.max) return good(round(level) + 0)
  const out = Number.isNaN(level) ? '' : `${text.trim()} is out of range. `
  return bad(
    `${out}Type a level from ${showMeasured(range.min, range.unit)} to ` +
      `${showMeasured(range.max, range.unit)}, such as ` +
      `${showMeasured(Math.round((range.min + range.max) / 2), range.unit)}.`,
  )
}

/** How far down something goes, typed as a level with its minus or without: "-12", "12 dB", "25%"; in dB, 0 or more. */
export function parseDepth(text: string, mostDb: number): Typed<number> {
  const typed = parseLevel(text, { min: -mostDb, max: mostDb })
  return typed.ok
    ? good(Math.abs(typed.value!))
    : bad(`Type how far down, from 0.0 dB to ${showDb(-mostDb)}, such as −12, −12 dB or 25%.`)
}

/**
 * A typed percentage as a factor: "20%", "-35 %", "20"; `min` and `max` are factors. `what` is named when it
 * is refused.
 */
export function parsePercent(text: string, range: { min: number; max: number }, what: string): Typed<number> {
  const value = number(plain(text).replace(/ ?%$/, '')) / 100
  const shown = (x: number) => `${x < 0 ? '−' : ''}${Math.round(Math.abs(x) * 100)} %`
  return value >= range.min && value <= range.max
    ? good(value)
    : bad(`Type ${what} from ${shown(range.min)} to ${shown(range.max)}, such as 20 %.`)
}

/** A typed whole number of times, 1 to 999: "3", "3 times", "3x". */
export function parseCount(text: string): Typed<number> {
  const count = /^(\d+) ?(?:times|x|×)?$/.exec(plain(text))
  const times = count ? Number(count[1]) : NaN
  return times >= 1 && times <= 999 ? good(times) : bad('Type how many times, 1 to 999.')
}

/** A typed factor: "50%", "x0.5", "0.5", "200 %"; 0…10. */
export function parseFactor(text: string): Typed<number> {
  const t = plain(text)
  const percent = /^([\d.]+) ?%$/.exec(t)
  const factor = /^[x×*]? ?([\d.]+)$/.exec(t) ?? /^([\d.]+) ?[x×]$/.exec(t)
  const value = percent ? number(percent[1]!) / 100 : factor ? number(factor[1]!) : NaN
  return value >= 0 && value <= 10
    ? good(value)
    : bad('Type a factor from 0 % to 1000 %, such as 50%, x0.5 or 2.')
}

/** A typed pan: "L30", "R100", "C", "0", "-30" (left). The result is -1…1. */
export function parsePan(text: string): Typed<number> {
  const t = plain(text)
  const words = 'Type a pan from L100 over C to R100, such as L30, C or R55.'
  if (/^(c|center|centre|middle)$/.test(t)) return good(0)
  const side = /^(l|r|left|right) ?([\d.]+) ?%?$/.exec(t) ?? /^([\d.]+) ?%? ?(l|r|left|right)$/.exec(t)
  let value = number(t.replace(/ ?%$/, ''))
  if (side) {
    const word = /[lr]/.test(side[1]![0]!) ? side[1]! : side[2]!
    value = number(word === side[1] ? side[2]! : side[1]!) * (word.startsWith('l') ? -1 : 1)
  }
  if (Number.isNaN(value)) return bad(words)
  if (Math.abs(value) > 100) return bad(`${text.trim()} is out of range. ${words}`)
  return good(value / 100)
}

/** Pan -1…1 as shown: L30, C, R100. */
export function showPan(pan: number): string {
  const n = Math.round(Math.abs(pan) * 100)
  return n === 0 ? 'C' : `${pan < 0 ? 'L' : 'R'}${n}`
}

/** What a typed length or time is measured against. */
export interface TimeContext {
  sampleRate: number
  /** Quarter notes per minute at the place the time is for. */
  bpm: number
}

/**
 * A typed length: "1.5s", "1500 ms", "2 beats", "1/16", "0:01.5", "96000 frames"; a bare number is in
 * `bareUnit`. The result is in frames, rounded, within `min`…`max` frames.
 */
export function parseLength(
  text: string,
  context: TimeContext,
  range: { min: number; max: number },
  bareUnit: 'ms' | 's' = 'ms',
): Typed<number> {
  const t = plain(text)
  const words =
    `Type a length from ${showLength(range.min, context.sampleRate)} to ` +
    `${showLength(range.max, context.sampleRate)}, such as 120 ms, 1.5 s, 2 beats or ` +
    '1/16.'
  const rate = context.sampleRate
  const beat = (60 / context.bpm) * rate
  let frames = NaN
  const withUnit = /^([\d.]+) ?(ms|s|sec|seconds?|beats?|frames?|samples?)?$/.exec(t)
  const clock = /^(\d+):([0-5]?\d(?:\.\d+)?)$/.exec(t)
  const note = /^(\d+)\/(\d+)$/.exec(t)
  if (withUnit) {
    const n = number(withUnit[1]!)
    const unit = withUnit[2] ?? bareUnit
    frames =
      unit === 'ms'
        ? (n * rate) / 1000
        : unit.startsWith('beat')
          ? n * beat
          : /^(frame|sample)/.test(unit)
            ? n
            : n * rate
  } else if (clock) frames = (Number(clock[1]) * 60 + Number(clock[2])) * rate
  else if (note && Number(note[2]) > 0) frames = (Number(note[1]) / Number(note[2])) * 4 * beat
  if (Number.isNaN(frames)) return bad(words)
  frames = Math.round(frames)
  if (frames < range.min || frames > range.max) return bad(`${text.trim()} is out of range. ${words}`)
  return good(frames)
}

/** A length in frames as shown: ms below a second, seconds above. */
export function showLength(frames: number, sampleRate: number): string {
  const ms = (frames / sampleRate) * 1000
  if (ms < 1000) return `${ms < 10 && ms > 0 ? Number(ms.toFixed(2)) : Number(ms.toFixed(1))} ms`
  return `${Number((ms / 1000).toFixed(3))} s`
}

/** A position as shown: minutes:seconds with `decimals` of a second. */
export function showTime(frames: number, sampleRate: number, decimals = 3): string {
  const unit = 10 ** decimals
  const total = Math.round((frames / sampleRate) * unit)
  const minutes = Math.floor(total / (60 * unit))
  const seconds = (total - minutes * 60 * unit) / unit
  return `${minutes}:${seconds.toFixed(decimals).padStart(decimals ? 3 + decimals : 2, '0')}`
}

/** A place in the bars: bar and beat count from 1, and what of the beat has passed, 0…1. */
export interface BarPlace {
  bar: number
  beat: number
  fraction: number
}

/**
 * A typed position in the session, in frames: a time as for lengths ("1.5 s", "0:01.5", "3 beats"), or a bar and beat
 * ("5|3", "5 | 3.5", "bar 5"), which `toFrame` places. A bare number is in `bareUnit`.
 */
export function parsePosition(
  text: string,
  context: TimeContext,
  range: { min: number; max: number },
  bareUnit: 's' | 'bar',
  toFrame: (place: BarPlace) => number,
): Typed<number> {
  const t = plain(text)
  const bar =
    /^(?:bar )?(\d+)(?: ?\| ?(\d+)(\.\d+)?)?$/.exec(t) ??
    (bareUnit === 'bar' ? /^(\d+)(?:[ .](\d+))?$/.exec(t) : null)
  const words = `Type a position such as 0:12.5, 12.5 s or 5|3 for bar 5, beat 3, up to ${showTime(range.max, context.sampleRate)}.`
  if (bar && (bareUnit === 'bar' || /[|b]/.test(t))) {
    const frame = toFrame({
      bar: Number(bar[1]),
      beat: Number(bar[2] ?? 1),
      fraction: Number(bar[3] ?? 0),
    })
    return Number(bar[1]) >= 1 && Number(bar[2] ?? 1) >= 1 && frame >= range.min && frame <= range.max
      ? good(frame)
      : bad(`${text.trim()} is out of range. ${words}`)
  }
  const typed = parseLength(text, context, range, 's')
  return typed.ok ? typed : bad(words)
}

/** A typed length that may go back: "-250 ms" is earlier; from `-max.back` to `max.on` frames. */
export function parseShift(
  text: string,
  context: TimeContext,
  max: { back: number; on: number },
  bareUnit: 'ms' | 's' = 'ms',
): Typed<number> {
  const back = /^\s*[-−]/.test(text)
  const range = { min: 0, max: back ? max.back : max.on }
  const typed = parseLength(text.replace(/^\s*[-−+]/, ''), context, range, bareUnit)
  return back && 'value' in typed ? { ...typed, value: typed.value === 0 ? 0 : -typed.value } : typed
}
