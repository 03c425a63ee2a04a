import { METER_FRAMES, METER_NUMBERS } from '../../../engine/playback'

/** Seconds over which the mean of squares is taken. */
const RMS_SECONDS = 0.3
/** How fast a peak falls, in dB per second, and how long its highest place is held, in seconds. */
const FALL_DB = 24
const HOLD_SECONDS = 1.5

/** What a meter shows of one side, as linear levels. */
export interface Shown {
  rms: number
  peak: number
  hold: number
}

/**
 * How a meter moves: the peak rises at once and falls evenly, its highest place stands for a while; RMS is the mean over
 * 300 ms (exponentially weighted). The clip light stays on until it is put out.
 */
export class Ballistics {
  readonly left: Shown = { rms: 0, peak: 0, hold: 0 }
  readonly right: Shown = { rms: 0, peak: 0, hold: 0 }
  clipped = false
  private readonly squares = [0, 0]
  private readonly heldFor = [0, 0]

  /**
   * Goes on by so many seconds. `numbers` are those of the ring's meters, `at` where the strip's begin; null while
   * nothing plays.
   */
  step(numbers: ArrayLike<number> | null, at: number, seconds: number): void {
    this.side(this.left, 0, numbers?.[at] ?? 0, numbers?.[at + 2] ?? 0, seconds)
    this.side(this.right, 1, numbers?.[at + 1] ?? 0, numbers?.[at + 3] ?? 0, seconds)
  }

  private side(shown: Shown, c: 0 | 1, peak: number, energy: number, seconds: number): void {
    if (peak > 1) this.clipped = true
    const fallen = shown.peak * 10 ** ((-FALL_DB * seconds) / 20)
    shown.peak = Math.max(peak, fallen < 1e-5 ? 0 : fallen)
    const square = energy / METER_FRAMES
    const next = this.squares[c]! + (square - this.squares[c]!) * (1 - Math.exp(-seconds / RMS_SECONDS))
    this.squares[c] = next < 1e-10 ? 0 : next
    shown.rms = Math.sqrt(this.squares[c])
    this.heldFor[c] = this.heldFor[c]! + seconds
    if (shown.peak >= shown.hold || this.heldFor[c] > HOLD_SECONDS) {
      shown.hold = shown.peak
      this.heldFor[c] = 0
    }
  }

  /** Puts the clip light out. */
  putOut(): void {
    this.clipped = false
  }
}

/** Where the numbers of a strip begin: row 0 is the mix, n the track in row n - 1. */
export const slotOf = (row: number) => row * METER_NUMBERS
