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
  onLost(what: 'worker' | 'audio'): void
}

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
    this.late = this.stopped = 0
    this.ran = false
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
    if (this.late > 1) return this.lost('worker')
    if (this.stopped > 1) return this.lost('audio')
    this.askedAt ??= this.now()
    watched.ask()
  }

  private lost(what: 'worker' | 'audio'): void {
    this.end()
    this.watched.onLost(what)
  }
}
