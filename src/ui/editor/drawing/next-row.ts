/**
 * The nearest row outside the visible ones that needs work, preferring the direction of scrolling; null when
 * there is none within `ahead`.
 */
export function nextRow(
  { first, last }: { first: number; last: number },
  count: number,
  down: boolean,
  ahead: number,
  isToDo: (row: number) => boolean,
): number | null {
  for (let n = 0; n < ahead; n++)
    for (const row of down ? [last + n, first - 1 - n] : [first - 1 - n, last + n])
      if (row >= 0 && row < count && isToDo(row)) return row
  return null
}
