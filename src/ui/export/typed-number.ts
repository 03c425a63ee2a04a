import type { Typed } from '../../core/units/typed'

/** Reads a number of a unit within a range as it is typed: "-16", "−16,5 LUFS". */
export const typedNumber =
  (unit: string, { min, max }: { min: number; max: number }) =>
  (text: string): Typed<number> => {
    const [, number] =
      /^\s*([+-]?\d+(?:\.\d+)?)\s*(?:lufs|dbtp|db)?\s*$/i.exec(text.replaceAll('−', '-').replace(',', '.')) ??
      []
    const value = Number(number)
    return number !== undefined && value >= min && value <= max
      ? { ok: true, value }
      : {
          ok: false,
          message: `Type ${unit} from ${min} to ${max}, such as ${(min + max) / 2}.`.replaceAll('-', '−'),
        }
  }
