import { clamp } from '../../units/clamp'
import type { ThreadReader } from '../../curve/thread'

/**
 * The value of one parameter over time, in its unit: one that stays, or a lane on the parameter's scale, from whose places
 * `toValue` leads to values.
 */
export class ParameterReader {
  private readonly one = new Float64Array(1)
  private ends: { min: number; max: number } | null = null

  constructor(
    /** What holds while no lane moves it. */
    readonly still: number,
    readonly lane: ThreadReader | null = null,
    private readonly toValue: ((place: number) => number) | null = null,
  ) {}

  /** The value where it is the same over all of `count` frames from `from`; null where it changes. */
  constant(from: number, count: number): number | null {
    if (!this.lane) return this.still
    const place = this.lane.constant(from, count)
    return place === null ? null : this.valueOf(place)
  }

  /** The value at a frame. */
  at(frame: number): number {
    if (!this.lane) return this.still
    this.lane.fill(frame, 1, this.one)
    return this.within(this.valueOf(this.one[0]!))
  }

  /**
   * A value kept within those that the lane's knots have: a step that is taken in a few milliseconds is added to what the lane does
   * after it, and would lead beyond them where that moves at once. Processors hold room for the values of `range` and no more.
   */
  private within(value: number): number {
    const { min, max } = this.range()
    return clamp(value, min, max)
  }

  /** Writes the values at the frames `from`, `from + 1`, … into `out[0…count-1]`. */
  fill(from: number, count: number, out: Float64Array): void {
    if (!this.lane) {
      out.fill(this.still, 0, count)
      return
    }
    this.lane.fill(from, count, out)
    const { min, max } = this.range()
    for (let i = 0; i < count; i++) out[i] = clamp(this.valueOf(out[i]!), min, max)
  }

  /** The least and the greatest value that it ever has. */
  range(): { min: number; max: number } {
    return (this.ends ??= this.findRange())
  }

  private findRange(): { min: number; max: number } {
    if (!this.lane) return { min: this.still, max: this.still }
    let [min, max] = [Infinity, -Infinity]
    for (const { value: place } of this.lane.knots) {
      const value = this.valueOf(place)
      min = Math.min(min, value)
      max = Math.max(max, value)
    }
    return { min, max }
  }

  /** Whether it is ever anything but a value. */
  everOther(value: number): boolean {
    const { min, max } = this.range()
    return min !== value || max !== value
  }

  private valueOf(place: number): number {
    return this.toValue ? this.toValue(place) : place
  }
}
