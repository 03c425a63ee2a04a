import { CANCELS } from '../measure/against'
import { groupOf } from '../model/groups'
import type { Session } from '../model/session'
import { stageId, type Probe } from '../render'
import { dbToGain } from '../units/decibel'

/** A stretch in which two tracks cancel each other in the mix, in session frames `from` ≤ n < `to`. */
export interface CancellingTracks {
  from: number
  to: number
  trackIds: readonly [string, string]
  /** Their correlation there, after volume and pan. */
  correlation: number
  /** By how many dB their sum is softer than two tracks that have nothing in common would be. */
  lostDb: number
}

/** Every so many frames one is looked at: a prime, so that no common tone fits it. */
const STRIDE = 13
const WINDOW_SECONDS = 0.1
/** Where a track is softer than this (RMS) in a window, nothing is said of it. */
const LEAST_RMS = dbToGain(-60)
/** Tracks of one group are mostly microphones at one source: what the panel on balance calls cancelling is told. */
const LEAST_WINDOWS_OF_GROUP = 3
/** Others play the same notes now and then: they have to lose half of their power for half a second. */
const LEAST_LOST_DB = 3
const LEAST_WINDOWS = 5
/** More stretches are not kept. */
const MOST_FOUND = 1000
const PAN = stageId('pan')

interface Window {
  samples: Float32Array
  energy: number
}

/** Sums of squares of two tracks, and of their products. */
interface Sums {
  xx: number
  yy: number
  xy: number
}

/** A stretch that may go on in the next window. */
interface Run extends Sums {
  trackIds: readonly [string, string]
  from: number
  to: number
  windows: number
}

/**
 * Finds tracks that cancel each other, as a probe of a mix that is rendered in order, from session frame 0 on. All pairs are compared, at
 * each thirteenth sample; tracks that are not heard are not noted, and so not compared.
 */
export class CancellingTracksMeter implements Probe {
  readonly onlyPan = true
  private readonly windowFrames: number
  private readonly windowSamples: number
  /** What each track has in the windows that are not compared yet. */
  private readonly open = new Map<number, Map<string, Window>>()
  private readonly runs = new Map<string, Run>()
  private readonly found: CancellingTracks[] = []
  private next = 0

  constructor(private readonly session: Session) {
    this.windowSamples = Math.round((WINDOW_SECONDS * session.sampleRate) / STRIDE)
    this.windowFrames = this.windowSamples * STRIDE
  }

  /** What inserts put out is not looked at. */
  watches(): boolean {
    return false
  }

  watchesStages(stripId: string | null): boolean {
    return stripId !== null && stripId in this.session.tracks
  }

  note(
    stripId: string | null,
    insertId: string | null,
    sound: readonly [Float64Array, Float64Array],
    _channels: 1 | 2,
    count: number,
    _processor: unknown,
    frame: number,
  ): void {
    if (stripId === null || insertId !== PAN) return
    const first = Math.max(0, Math.ceil(frame / STRIDE)) * STRIDE
    for (let n = first; n < frame + count; n += STRIDE) {
      const index = Math.floor(n / this.windowFrames)
      const window = this.windowOf(index, stripId)
      const at = 2 * ((n - index * this.windowFrames) / STRIDE)
      const [left, right] = [sound[0][n - frame]!, sound[1][n - frame]!]
      window.samples[at] = left
      window.samples[at + 1] = right
      window.energy += left * left + right * right
    }
  }

  private windowOf(index: number, trackId: string): Window {
    let window = this.open.get(index)
    if (!window) this.open.set(index, (window = new Map()))
    let own = window.get(trackId)
    if (!own) window.set(trackId, (own = { samples: new Float32Array(2 * this.windowSamples), energy: 0 }))
    return own
  }

  /** The mix was rendered up to a session frame: windows before it are compared, and let go of. */
  passed(frame: number): void {
    for (; (this.next + 1) * this.windowFrames <= frame; this.next++) this.compare(this.next)
  }

  private compare(index: number): void {
    const least = LEAST_RMS * LEAST_RMS * this.windowSamples
    // In one order in all windows, whichever is heard first in each.
    const heard = [...(this.open.get(index) ?? [])]
      .filter(([, { energy }]) => energy >= least)
      .sort(([x], [y]) => (x < y ? -1 : 1))
    this.open.delete(index)
    for (const [n, [x, a]] of heard.entries())
      for (const [y, b] of heard.slice(n + 1)) {
        let xy = 0
        for (let i = 0; i < a.samples.length; i++) xy += a.samples[i]! * b.samples[i]!
        const sums = { xx: a.energy, yy: b.energy, xy }
        if (this.cancels([x, y], sums)) this.take(index * this.windowFrames, [x, y], sums)
      }
    for (const [key, run] of this.runs) if (run.to <= index * this.windowFrames) this.end(key, run)
  }

  private cancels(trackIds: readonly [string, string], sums: Sums): boolean {
    return this.grouped(trackIds) ? correlation(sums) < CANCELS : lostDb(sums) >= LEAST_LOST_DB
  }

  private grouped([x, y]: readonly [string, string]): boolean {
    const group = groupOf(this.session, x)
    return group !== undefined && group === groupOf(this.session, y)
  }

  private take(from: number, trackIds: readonly [string, string], sums: Sums): void {
    const key = trackIds.join(' ')
    const run = this.runs.get(key) ?? { trackIds, from, to: from, windows: 0, xx: 0, yy: 0, xy: 0 }
    run.to = from + this.windowFrames
    run.windows++
    for (const sum of ['xx', 'yy', 'xy'] as const) run[sum] += sums[sum]
    this.runs.set(key, run)
  }

  private end(key: string, run: Run): void {
    this.runs.delete(key)
    const { trackIds, from, to, windows } = run
    const least = this.grouped(trackIds) ? LEAST_WINDOWS_OF_GROUP : LEAST_WINDOWS
    if (windows < least || this.found.length >= MOST_FOUND) return
    this.found.push({ from, to, trackIds, correlation: correlation(run), lostDb: lostDb(run) })
  }

  /** The stretches by where they begin, when all was rendered. */
  finish(): CancellingTracks[] {
    for (const index of [...this.open.keys()].sort((a, b) => a - b)) this.compare(index)
    for (const [key, run] of this.runs) this.end(key, run)
    return this.found.sort((a, b) => a.from - b.from)
  }
}

const correlation = ({ xx, yy, xy }: Sums) => xy / Math.sqrt(xx * yy)
/** At most 100 dB, of two that cancel wholly. */
const lostDb = ({ xx, yy, xy }: Sums) =>
  Math.min(100, -10 * Math.log10(Math.max(0, xx + yy + 2 * xy) / (xx + yy)))
