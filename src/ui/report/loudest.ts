/** Loudness at moments, in seconds and LUFS; null is silence. */
export type LoudnessCourse = readonly { seconds: number; lufs: number | null }[]

/** The loudest moments of a course, loudest first, at least so many seconds apart. */
export function loudestOf(
  course: LoudnessCourse,
  count: number,
  apart = 3,
): { seconds: number; lufs: number }[] {
  const found: { seconds: number; lufs: number }[] = []
  const sorted = course.flatMap(({ seconds, lufs }) => (lufs === null ? [] : [{ seconds, lufs }]))
  for (const point of sorted.sort((a, b) => b.lufs - a.lufs)) {
    if (found.length === count) break
    if (found.every(({ seconds }) => Math.abs(seconds - point.seconds) >= apart)) found.push(point)
  }
  return found
}
