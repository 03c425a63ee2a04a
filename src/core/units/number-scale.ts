import { clamp } from './clamp'
import type { Scale } from './scale'
import { exp2, log2 } from './exact'
import type { Typed } from './typed'

/** Units in which a number of a processor is given. */
export type NumberUnit = 'dB' | 'dBTP' | 'ms' | 'Hz' | 's' | '%' | ':1' | ''

/** What a number may be, and how it is read and shown. */
export interface NumberRange {
  readonly unit: NumberUnit
  readonly min: number
  readonly max: number
  /** What holds where nothing is said. */
  readonly defaultValue: number
  /** What the value of `min` is called where it means something of its own: "off". */
  readonly minWord?: string
  readonly maxWord?: string
}

const rounded = (x: number, decimals: number) => Math.round(x * 10 ** decimals) / 10 ** decimals

/** Decimals with which a number of a size is shown: three digits in all, and no more than two decimals. */
const decimalsOf = (value: number) => (Math.abs(value) >= 100 ? 0 : Math.abs(value) >= 10 ? 1 : 2)

/** A number with its unit as shown: "350 ms", "1.2 kHz", "−6.5 dB", "25 %", "off". */
export function showNumber(value: number, range: NumberRange): string {
  if (range.minWord && value <= range.min) return range.minWord
  if (range.maxWord && value >= range.max) return range.maxWord
  const sign = value < 0 ? '−' : ''
  const size = Math.abs(value)
  switch (range.unit) {
    case 'dB':
    case 'dBTP': {
      const text = size.toFixed(Math.abs(size * 10 - Math.round(size * 10)) > 0.01 ? 2 : 1)
      const plus = range.unit === 'dB' && range.min < 0 && value > 0 ? '+' : ''
      return `${Number(text) === 0 ? '' : sign + plus}${text} ${range.unit}`
    }
    case 'Hz':
      return size >= 1000 ? `${rounded(size / 1000, 2)} kHz` : `${rounded(size, 1)} Hz`
    case 's':
      return `${sign}${rounded(size, decimalsOf(size))} s`
    case '%':
      return `${sign}${rounded(size * 100, 1)} %`
    case 'ms':
      return size >= 1000 ? `${rounded(size / 1000, 3)} s` : `${rounded(size, decimalsOf(size))} ms`
    case ':1':
      return `${sign}${rounded(size, 2)} : 1`
    case '':
      return `${sign}${rounded(size, 2)}`
  }
}

const EXAMPLES: Record<NumberUnit, string> = {
  dB: '−6 or −6 dB',
  dBTP: '−1 or −1 dBTP',
  ms: '350, 350 ms or 0.35 s',
  Hz: '800, 800 Hz or 2.5 kHz',
  s: '1.5, 1.5 s or 800 ms',
  '%': '25 or 25 %',
  ':1': '4 or 4:1',
  '': '4',
}

const FACTORS: Record<string, number> = { s: 1000, sec: 1000, khz: 1000, k: 1000 }

/** A typed number in its unit, rounded to a thousandth; bad text gives a sentence that names the range. */
export function parseNumber(text: string, range: NumberRange): Typed<number> {
  const written = text
    .trim()
    .toLowerCase()
    .replace(/[−–]/g, '-')
    .replace(/(\d),(\d)/g, '$1.$2')
  if (range.minWord && written === range.minWord) return { ok: true, value: range.min }
  if (range.maxWord && written === range.maxWord) return { ok: true, value: range.max }
  const words = `Type a number from ${showNumber(range.min, { ...range, minWord: '' })} to ${showNumber(range.max, { ...range, maxWord: '' })}, such as ${EXAMPLES[range.unit]}.`
  const typed = /^([+-]?(?:\d+(?:\.\d*)?|\.\d+)) ?(db|dbtp|ms|s|sec|hz|khz|k|%| ?: ?1)?$/.exec(written)
  if (!typed) return { ok: false, message: words }
  const unit = (typed[2] ?? '').replace(/ /g, '')
  const fits =
    unit === '' ||
    {
      dB: ['db'],
      dBTP: ['db', 'dbtp'],
      ms: ['ms', 's', 'sec'],
      Hz: ['hz', 'khz', 'k'],
      s: ['s', 'sec', 'ms'],
      '%': ['%'],
      ':1': [':1'],
      '': [] as string[],
    }[range.unit].includes(unit)
  if (!fits) return { ok: false, message: words }
  const factor = range.unit === 's' ? (unit === 'ms' ? 0.001 : 1) : (FACTORS[unit] ?? 1)
  const value = rounded(Number(typed[1]) * factor * (range.unit === '%' ? 0.01 : 1), 6)
  return value >= range.min && value <= range.max
    ? { ok: true, value: value + 0 }
    : { ok: false, message: `${text.trim()} is out of range. ${words}` }
}

const marksOf = (values: readonly number[], toPlace: (value: number) => number, range: NumberRange) =>
  [...new Set(values)]
    .filter((v) => v >= range.min && v <= range.max)
    .sort((a, b) => b - a)
    .map((v) => [toPlace(v), showNumber(v, range)] as const)

/** What both kinds of scale share; `toPlace` and `toValue` lead from values in their unit to places and back. */
function scaleOf(
  range: NumberRange,
  name: string,
  label: string,
  toPlace: (value: number) => number,
  toValue: (place: number) => number,
  marks: readonly number[],
  step: { unit: string; size: number },
): Scale {
  const [min, max, defaultValue] = [toPlace(range.min), toPlace(range.max), toPlace(range.defaultValue)]
  const inRange = (place: number) => clamp(place, min, max)
  const valueOf = (place: number) => clamp(toValue(place), range.min, range.max)
  const signed = (by: number) => `${by < 0 ? '−' : '+'}${rounded(Math.abs(by), 2)} ${step.unit}`.trim()
  return {
    name,
    min,
    max,
    defaultValue,
    upwards: true,
    step: step.size,
    fineStep: step.size / 10,
    dragged: { unitsPerPixel: (min - max) / 150, axis: 'y' },
    plateauPerPixel: null,
    catchesPlain: false,
    thinningUnit: step.unit,
    label,
    marks: marksOf(marks, toPlace, range),
    shift: (place, by) => inRange(place + by),
    above: (place, base) => place - base,
    change: (place, before) => place - before,
    scaled: (place, factor) => inRange(defaultValue + (place - defaultValue) * factor),
    deviation: (drawn, thread) => Math.abs(drawn - thread),
    units: (place) => rounded(valueOf(place), 2),
    unitRange: { min: range.min, max: range.max },
    exact: valueOf,
    fromUnits: (units) => inRange(toPlace(clamp(units, range.min, range.max))),
    show: (place) => showNumber(valueOf(place), range),
    parse(text) {
      const typed = parseNumber(text, range)
      return typed.ok ? { ok: true, value: toPlace(typed.value) } : typed
    },
    showChange: signed,
    changeWords: (by) => (rounded(by, 2) === 0 ? null : `${signed(by)} against what it was`),
    parseChange(text) {
      const number = Number(
        text
          .trim()
          .replace(/[−–]/g, '-')
          .replace(/ ?[a-z%]+$/i, ''),
      )
      return Number.isFinite(number) && text.trim() !== ''
        ? { ok: true, value: number }
        : { ok: false, message: `Type by how much, such as ${signed(step.size)}.` }
    },
    changeExample: signed(step.size),
    changeVerb: 'Shift',
    scaleLabel: `Scale about ${showNumber(range.defaultValue, range)}`,
    ...(toPlace === same ? {} : { toPlace, toValue: valueOf }),
  }
}

const same = (x: number) => x

/** A scale on which values lie evenly. */
export const linearScale = (range: NumberRange, label: string, name: string): Scale =>
  scaleOf(
    range,
    name,
    label,
    same,
    same,
    [range.min, (range.min + range.max) / 2, range.defaultValue, range.max],
    {
      unit: range.unit === '%' ? '' : range.unit,
      size: range.unit === '%' ? 0.05 : range.unit.startsWith('dB') ? 1 : (range.max - range.min) / 100,
    },
  )

/** A scale on which octaves lie evenly; its places are logarithms to base 2. `min` is over 0. */
export const octaveScale = (range: NumberRange, label: string, name: string): Scale =>
  scaleOf(
    range,
    name,
    label,
    (value) => log2(Math.max(value, range.min)),
    exp2,
    [range.min, 10, 100, 1000, 10_000, range.defaultValue, range.max],
    { unit: 'oct', size: 0.25 },
  )

/** The scale of a switch: 0 is off and 1 on. */
export const switchScale = (label: string): Scale => ({
  ...linearScale({ unit: '', min: 0, max: 1, defaultValue: 0 }, label, 'switch'),
  step: 1,
  fineStep: 1,
  marks: [
    [1, 'on'],
    [0, 'off'],
  ],
  show: (place) => (place >= 0.5 ? 'on' : 'off'),
  parse(text) {
    const t = text.trim().toLowerCase()
    if (/^(on|yes|1)$/.test(t)) return { ok: true, value: 1 }
    if (/^(off|no|0)$/.test(t)) return { ok: true, value: 0 }
    return { ok: false, message: 'Type on or off.' }
  },
})
