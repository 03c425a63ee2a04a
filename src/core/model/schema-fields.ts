import * as z from 'zod/mini'

/** A whole number, of two bounds that are both taken. */
export const integer = (least: number, most: number) => z.int().check(z.minimum(least), z.maximum(most))
/** A finite number, of two bounds that are both taken. */
export const number = (least: number, most: number) => z.number().check(z.minimum(least), z.maximum(most))
/** A text of so many characters, at most. */
export const text = (most: number) => z.string().check(z.maxLength(most))
/** A list of so many items, at most, and at least. */
export const list = <T extends z.ZodMiniType>(item: T, most: number, least = 0) =>
  z.array(item).check(z.maxLength(most), ...(least > 0 ? [z.minLength(least)] : []))
