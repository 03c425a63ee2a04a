import type { Processor, Sides } from '../../core/dsp/processors'
import { kWeighting, weightedSquares } from '../../core/measure/loudness'
import { isStageId, type Probe } from '../../core/render'
import {
  METER_FRAMES,
  METER_ROW,
  PROBES,
  PROBE_NUMBERS,
  PROBE_SLOTS,
  SOUND_AFTER,
  SOUND_BEFORE,
  SCOPE_LEFT,
  SCOPE_RIGHT,
} from './ring'

/** A place of the Path whose level is watched: what leaves an insert, or with null what comes to the first. */
export interface Watched {
  /** A track or bus, or with null the mix. */
  stripId: string | null
  /** An insert, or a stage around the inserts (`stageId`). */
  insertId: string | null
}

/** What is watched: levels in the order of the slots, and the insert whose sound before and after it is kept. */
export interface Watch {
  slots: readonly Watched[]
  sound: Watched | null
  /** The place whose sound of both sides is kept, for measuring it. */
  scope: Watched | null
}

export const NOTHING_WATCHED: Watch = { slots: [], sound: null, scope: null }

/** Most reductions of an insert. */
const BANDS = 4

/** What is known of a slot while its row is written. */
interface Slot {
  at: number
  filters: ReturnType<typeof kWeighting>
  delays: readonly [Float64Array, Float64Array]
}

/**
 * Writes what passes the watched places into the row of meters that is being rendered: largest samples, K-weighted squares,
 * reductions, and for one insert the sound before and after it, both sides averaged.
 */
export class RingProbe implements Probe {
  private slots = new Map<string | null, Map<string | null, Slot>>()
  private watch: Watch = NOTHING_WATCHED
  private row = 0
  /** Whether what is rendered is what the row shows; else it is rendered for something else. */
  active = false
  /** Frames of the row that the place after, and the place before the kept sound has had. */
  private soundAt = { before: 0, after: 0, scope: 0 }
  /** What left the place before, until it is known whether the watched insert comes next. */
  private readonly last = {
    stripId: undefined as string | null | undefined,
    mono: new Float32Array(METER_FRAMES),
  }

  constructor(
    private readonly meters: Float32Array<ArrayBufferLike>,
    private readonly sampleRate: number,
  ) {}

  setWatch(watch: Watch): void {
    this.watch = watch
    this.slots = new Map()
    watch.slots.slice(0, PROBE_SLOTS).forEach(({ stripId, insertId }, n) => {
      const ofStrip = this.slots.get(stripId) ?? new Map<string | null, Slot>()
      this.slots.set(stripId, ofStrip)
      ofStrip.set(insertId, {
        at: PROBES + n * PROBE_NUMBERS,
        filters: kWeighting(this.sampleRate),
        delays: [new Float64Array(4), new Float64Array(4)],
      })
    })
  }

  /** What is rendered next belongs to a row of meters, from some of its frames on. */
  begin(row: number, from: number): void {
    this.active = true
    this.row = row
    this.soundAt.before = this.soundAt.after = this.soundAt.scope = from
    if (from === 0) this.meters.fill(0, row + PROBES, row + METER_ROW)
    else {
      for (const at of [SOUND_BEFORE, SOUND_AFTER, SCOPE_LEFT, SCOPE_RIGHT])
        this.meters.fill(0, row + at + from, row + at + METER_FRAMES)
      // Of what is written anew from the middle of a row on, the energy of before no longer counts.
      for (const ofStrip of this.slots.values())
        for (const { at } of ofStrip.values())
          this.meters[row + at + 2] = (this.meters[row + at + 2]! * from) / METER_FRAMES
    }
  }

  now(): number {
    return performance.now()
  }

  watches(stripId: string | null): boolean {
    return (
      this.active &&
      (this.slots.has(stripId) || this.watch.sound?.stripId === stripId || this.scopes(stripId))
    )
  }

  watchesStages(stripId: string | null): boolean {
    return this.active && (this.slots.has(stripId) || this.scopes(stripId))
  }

  private scopes(stripId: string | null): boolean {
    return this.watch.scope !== null && this.watch.scope.stripId === stripId
  }

  note(
    stripId: string | null,
    insertId: string | null,
    sound: Sides,
    channels: 1 | 2,
    count: number,
    processor: Processor | null,
    _frame: number,
    took: number,
  ): void {
    const slot = this.slots.get(stripId)?.get(insertId)
    if (slot) {
      this.noteLevel(slot, sound, channels, count, processor)
      const at = this.row + slot.at + PROBE_NUMBERS - 1
      this.meters[at] = this.meters[at]! + took
    }
    const { sound: kept, scope } = this.watch
    if (scope?.stripId === stripId && scope.insertId === insertId) this.keepScope(sound, channels, count)
    // The stages around the inserts lie between no insert and what comes to it.
    if (kept?.stripId !== stripId || isStageId(insertId)) return
    if (insertId === kept.insertId && this.last.stripId === stripId) {
      this.keepSound('before', this.last.mono, count)
      mono(sound, channels, count, this.last.mono)
      this.keepSound('after', this.last.mono, count)
    } else mono(sound, channels, count, this.last.mono)
    this.last.stripId = stripId
  }

  private noteLevel(
    { at, filters, delays }: Slot,
    sound: Sides,
    channels: 1 | 2,
    count: number,
    processor: Processor | null,
  ): void {
    const { meters } = this
    const first = this.row + at
    for (let c = 0; c < 2; c++) {
      const side = sound[Math.min(c, channels - 1)]!
      let peak = meters[first + c]!
      for (let i = 0; i < count; i++) {
        const size = Math.abs(side[i]!)
        if (size > peak) peak = size
      }
      meters[first + c] = peak
      if (c < channels)
        meters[first + 2] = meters[first + 2]! + weightedSquares(filters, side, 0, count, delays[c]!)
    }
    if (processor?.reductionDb)
      for (let b = 0; b < BANDS; b++) meters[first + 3 + b] = processor.reductionDb(b)
  }

  private keepScope(sound: Sides, channels: 1 | 2, count: number): void {
    const from = this.soundAt.scope
    const take = Math.min(count, METER_FRAMES - from)
    if (take <= 0) return
    for (const [c, base] of [SCOPE_LEFT, SCOPE_RIGHT].entries())
      this.meters.set(sound[Math.min(c, channels - 1)]!.subarray(0, take), this.row + base + from)
    this.soundAt.scope = from + take
  }

  private keepSound(which: 'before' | 'after', samples: Float32Array, count: number): void {
    const from = this.soundAt[which]
    const take = Math.min(count, METER_FRAMES - from)
    if (take <= 0) return
    const base = this.row + (which === 'before' ? SOUND_BEFORE : SOUND_AFTER)
    this.meters.set(samples.subarray(0, take), base + from)
    this.soundAt[which] = from + take
  }
}

/** Both sides averaged. */
function mono(sound: Sides, channels: 1 | 2, count: number, into: Float32Array): void {
  const [left, right] = sound
  for (let i = 0; i < count; i++) into[i] = channels === 1 ? left[i]! : (left[i]! + right[i]!) / 2
}
