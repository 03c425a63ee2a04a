const ago = new Intl.RelativeTimeFormat('en-GB', { numeric: 'auto' })

const UNITS: readonly [unit: Intl.RelativeTimeFormatUnit, ms: number][] = [
  ['year', 365 * 86_400_000],
  ['month', 30 * 86_400_000],
  ['day', 86_400_000],
  ['hour', 3_600_000],
  ['minute', 60_000],
]

/** How long ago a time is, in the largest unit that fits: "3 days ago". */
export function agoWords(at: number, now: number): string {
  const [unit, ms] = UNITS.find(([, length]) => now - at >= length) ?? ['minute', 60_000]
  return now - at < 60_000 ? 'a moment ago' : ago.format(-Math.floor((now - at) / ms), unit)
}

/** What is said of the last copy of a session. All times are in milliseconds since 1970. */
export function copyWords(changedAt: number, copiedAt: number | null, now: number): string {
  if (copiedAt === null) return 'no copy saved yet'
  const when = agoWords(copiedAt, now)
  return changedAt > copiedAt ? `changed since the copy of ${when}` : `copy saved ${when}`
}
