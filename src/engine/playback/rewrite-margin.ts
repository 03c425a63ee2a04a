/**
 * Frames ahead of the playing position at which a rewrite begins, at least. More where rendering takes longer, and where the
 * position is known only by message.
 */
const MARGIN = { shared: 640, message: 4096 }
const MOST_MARGIN = 16384
/**
 * Frames ahead of the playing position that are not written any more, because they may already be playing: devices take a few
 * quanta at a time.
 */
const LEAD = { shared: 512, message: 2048 }
/** By how much a rewrite may take longer than the ones before it. */
const SPARE = 1.25
/** The middle of so many decides: what took long once may have been held up. */
const REMEMBERED_TIMES = 3
/** How many blocks' time a rewrite takes, as long as there were few: what lies between the last state and it, it, and a blend. */
const BLOCKS_OF_REWRITE = 1.75

/** The one in the middle of some numbers; of two the smaller one. */
const middleOf = (numbers: readonly number[]): number | undefined =>
  numbers.toSorted((a, b) => a - b)[(numbers.length - 1) >> 1]

function remember(times: number[], time: number): void {
  times.push(time)
  if (times.length > REMEMBERED_TIMES) times.shift()
}

/** How far ahead of what plays the ring is rewritten, by how long rendering took: all in frames that play meanwhile. */
export class RewriteMargin {
  private readonly rewritesTook: number[] = []
  private readonly blocksTook: number[] = []
  /** How often playback overtook a seek, minus how often it did not. */
  private late = 0

  /** Whether the playing position is read from shared memory, or known by message. */
  constructor(private readonly reading: 'shared' | 'message') {}

  noteRewrite(took: number): void {
    remember(this.rewritesTook, took)
  }

  noteBlock(took: number): void {
    remember(this.blocksTook, took)
  }

  noteSeek(late: boolean): void {
    this.late = Math.max(0, this.late + (late ? 1 : -1))
  }

  /** Frames ahead of the playing position that are not written any more. */
  get lead(): number {
    return LEAD[this.reading]
  }

  /** How long a block takes. */
  get block(): number {
    return middleOf(this.blocksTook) ?? 0
  }

  /**
   * How far ahead a rewrite begins: as long as one takes, and further after two seeks were overtaken; once may be a coincidence.
   */
  get frames(): number {
    const { rewritesTook } = this
    const guess = BLOCKS_OF_REWRITE * this.block
    const takes = middleOf(rewritesTook.length < REMEMBERED_TIMES ? [guess, ...rewritesTook] : rewritesTook)!
    const least = Math.max(MARGIN[this.reading], SPARE * takes + this.lead)
    return Math.min(MOST_MARGIN, Math.round(least * 1.5 ** Math.max(0, this.late - 1)))
  }
}
