/** How often signs are asked for while it plays, in milliseconds, and how late they may come where nothing is left to play, or something is. */
export const ASK_MS = 150
const LATE_MS = { dry: 450, filled: 5000 }

/** What is watched while it plays. */
interface Watched {
  /** Asks the render worker for a sign of life; `answered` is called with it. */
  ask(): void
  /** Whether nothing is left to be played. */
  runsDry(): boolean
  /** A number that changes with whatever the worker has put out: that is a sign, too. */
  progress(): number
  /** The state of the audio context; null while nothing is to be heard yet. */
  audio(): AudioContextState | 'interrupted' | null
  /** How often sound was missing so far. */
  gaps(): number
  onLost(what: 'worker' | 'audio'): void
  /** Sound is missing again and again: rendering cannot keep up. Told once each time that playing begins. */
  onGaps(): void
}

/** So many gaps within so many looks are told; those of the first looks are not: everything begins then. */
const GAPS = 3
const GAPS_LOOKS = 14
const FIRST_LOOKS = 7

/**
 * Notices within a second that a render worker has died, or that the browser has stopped the sound, while it plays: neither tells
 * by itself. What is only late because this page was busy is waited for.
 */
export class SignsOfLife {
  private timer: ReturnType<typeof setInterval> | undefined
  /** When the first question was asked that has no answer yet; null where all have. */
  private askedAt: number | null = null
  /** Looks in a row at which something was wrong. */
  private late = 0
  private stopped = 0
  private ran = false
  private progress = NaN
  /** How many gaps there were at each of the last looks. */
  private gaps: number[] = []
  private looks = 0
  private gapsTold = false

  constructor(
    private readonly watched: Watched,
    private readonly now: () => number = () => performance.now(),
  ) {}

  begin(): void {
    this.end()
    this.timer = setInterval(() => this.look(), ASK_MS)
  }

  end(): void {
    clearInterval(this.timer)
    this.askedAt = null
    this.late = this.stopped = this.looks = 0
    this.ran = this.gapsTold = false
    this.gaps = []
  }

  /** The worker has answered. */
  answered(): void {
    this.askedAt = null
    this.late = 0
  }

  private look(): void {
    const { watched } = this
    const progress = watched.progress()
    if (progress !== this.progress) this.answered()
    this.progress = progress
    const most = watched.runsDry() ? LATE_MS.dry : LATE_MS.filled
    // An answer that waits behind this look, since the page was busy, comes before the next one.
    this.late = this.askedAt !== null && this.now() - this.askedAt >= most ? this.late + 1 : 0
    const audio = watched.audio()
    this.ran ||= audio === 'running'
    this.stopped = this.ran && audio !== null && audio !== 'running' ? this.stopped + 1 : 0
    this.countGaps()
    if (this.late > 1) return this.lost('worker')
    if (this.stopped > 1) return this.lost('audio')
    this.askedAt ??= this.now()
    watched.ask()
  }

  private countGaps(): void {
    if (++this.looks <= FIRST_LOOKS || this.gapsTold) return
    this.gaps = [...this.gaps.slice(1 - GAPS_LOOKS), this.watched.gaps()]
    if (this.gaps.at(-1)! - this.gaps[0]! < GAPS) return
    this.gapsTold = true
    this.watched.onGaps()
  }

  private lost(what: 'worker' | 'audio'): void {
    this.end()
    this.watched.onLost(what)
  }
}
