/** Seconds that something sounds on after the last region, at most. */
export const MOST_TAIL_SECONDS = 60
