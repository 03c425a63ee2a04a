/** `a + b` in 32 bits, of numbers that are rounded to them first. */
export const sumOf = (a: number, b: number): number => Math.fround(Math.fround(a) + Math.fround(b))
/** `a·b` in 32 bits, of numbers that are rounded to them first. */
export const productOf = (a: number, b: number): number => Math.fround(Math.fround(a) * Math.fround(b))
