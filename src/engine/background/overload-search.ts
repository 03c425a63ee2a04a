import { clamp } from '../../core/units/clamp'
import { soundChanges, type Span } from '../../core/edit'
import { isAudible } from '../../core/model/queries'
import type { Session } from '../../core/model/session'
import { rowIds, rowOf } from '../../core/model/strips'
import {
  planSession,
  RENDER_BLOCK,
  soundingEnd,
  spansNeeded,
  type Correlations,
  type RenderPlan,
} from '../../core/render'
import { dbToGain, gainToDb } from '../../core/units/decibel'
import { heightToGain } from '../../core/units/taper'
import type { SoundCache } from '../storage'
import type { BackgroundRenderer } from './background-renderer'
import type { FrameRange } from '../playback'

/**
 * A stretch in which a track after its fader (or with null the mix) passes full scale: session frames, and
 * its peak, linear.
 */
export interface Overload {
  trackId: string | null
  from: number
  to: number
  peak: number
}

/** Overloads closer than this, in seconds, are one. */
const JOINED_SECONDS = 0.25
/** Number of blocks examined per step, and where something remembers and has to be brought up to it first. */
const RUN = 16
const REMEMBERING_RUN = 64

/**
 * A peak is stored as one byte, so that hours of many tracks fit: 0 is unknown, 1 is silence, then half a
 * decibel per step from -90 dB up. Peaks are rounded up, so what fits by this value really fits.
 */
const UNKNOWN = 0
const LOWEST_DB = -90

function codeOf(peak: number): number {
  if (peak === 0) return 1
  return clamp(2 + Math.ceil((gainToDb(peak) - LOWEST_DB) * 2 + 1e-9), 2, 255)
}

const LEVELS = Float64Array.from({ length: 256 }, (_, code) =>
  code <= 1 ? 0 : code === 255 ? Infinity : dbToGain(LOWEST_DB + (code - 2) / 2),
)

/**
 * Finds where tracks and the mix exceed full scale. Results are kept: after an edit only the tracks and
 * stretches it touched are examined again, and the mix only where its tracks together could exceed full
 * scale. The search proceeds outward from what is on the screen, a little per step.
 */
export class OverloadSearch {
  private session: Session | null = null
  private plan: RenderPlan | null = null
  private blocks = 0
  /** What is known about every block: peaks by track id, and whether the mix was examined. */
  private tracks = new Map<string, Uint8Array>()
  private mix = new Uint8Array(0)
  /** The peaks over full scale, by block; null is the mix. */
  private over = new Map<string | null, Map<number, number>>()
  private focus = 0
  /** The next blocks to examine below and above the focus. */
  private below = -1
  private above = 0
  private readonly left = new Float32Array(RENDER_BLOCK)
  private readonly right = new Float32Array(RENDER_BLOCK)
  private readonly heights = new Float64Array(RENDER_BLOCK)

  constructor(
    private readonly cache: SoundCache,
    private readonly renderer: BackgroundRenderer,
  ) {}

  /**
   * Sets the session, or a new version of it. The cache must know its sources. `view` is what is on the
   * screen.
   */
  setSession(session: Session, correlations: Correlations, view: FrameRange | null): void {
    const changes = this.session ? soundChanges(this.session, session) : null
    this.session = session
    this.plan = planSession(session, { correlations })
    this.resize(Math.ceil(soundingEnd(this.plan).end / RENDER_BLOCK))
    if (!changes) {
      this.tracks.clear()
      this.over.clear()
      this.mix.fill(UNKNOWN)
      return this.look(view ?? { from: 0, to: 0 })
    }
    for (const id of this.tracks.keys())
      if (!rowOf(session, id)) {
        this.tracks.delete(id)
        this.over.delete(id)
      }
    for (const [id, spans] of changes.tracks)
      for (const span of spans)
        for (const changed of [id, ...session.busIds]) this.forget(this.heardOf(span), changed)
    for (const span of changes.mix) this.forget(this.heardOf(span), null)
    this.look(placeToLook([...changes.tracks.values()].flat(), changes.mix, view))
  }

  /** Samples that delays of the session hold, all together. */
  get heldSamples(): number {
    return this.plan?.memory.heldSamples ?? 0
  }

  /** Continues the search around another place. */
  look({ from, to }: FrameRange): void {
    this.focus = clamp(Math.floor((from + to) / 2 / RENDER_BLOCK), 0, this.blocks - 1)
    this.below = this.focus - 1
    this.above = this.focus
  }

  private resize(blocks: number): void {
    const resized = (list: Uint8Array) => {
      const longer = new Uint8Array(blocks)
      longer.set(list.subarray(0, blocks))
      return longer
    }
    if (blocks === this.blocks) return
    this.blocks = blocks
    this.mix = resized(this.mix)
    for (const [id, list] of this.tracks) this.tracks.set(id, resized(list))
    for (const found of this.over.values()) for (const b of found.keys()) if (b >= blocks) found.delete(b)
  }

  /** Where a change is heard: before it, where something looks ahead, and for as long as something remembers it. */
  private heardOf({ from, to }: Span): Span {
    const { aheadFrames, tailFrames } = this.plan!.memory
    return { from: from - aheadFrames, to: to + tailFrames }
  }

  private forget(span: Span, trackId: string | null): void {
    const from = Math.max(0, Math.floor(span.from / RENDER_BLOCK))
    const to = Math.min(this.blocks, Math.ceil(span.to / RENDER_BLOCK))
    if (to <= from) return
    this.mix.fill(UNKNOWN, from, to)
    if (trackId !== null) this.tracks.get(trackId)?.fill(UNKNOWN, from, to)
  }

  private peaksOf(trackId: string): Uint8Array {
    const known = this.tracks.get(trackId)
    if (known) return known
    const made = new Uint8Array(this.blocks)
    this.tracks.set(trackId, made)
    return made
  }

  /** The unknown blocks nearest to the focus; null when everything is known. */
  private nextRun(): { from: number; to: number } | null {
    const { mix, blocks } = this
    while (this.above < blocks && mix[this.above] !== UNKNOWN) this.above++
    while (this.below >= 0 && mix[this.below] !== UNKNOWN) this.below--
    if (this.above >= blocks && this.below < 0) return null
    const upwards =
      this.below < 0 || (this.above < blocks && this.above - this.focus <= this.focus - this.below)
    const most = this.plan!.memory.remembers ? REMEMBERING_RUN : RUN
    let [from, to] = upwards ? [this.above, this.above] : [this.below + 1, this.below + 1]
    if (upwards) while (to < blocks && to - from < most && mix[to] === UNKNOWN) to++
    else while (from > 0 && to - from < most && mix[from - 1] === UNKNOWN) from--
    return { from, to }
  }

  /** Examines some blocks. Resolves to whether any were left; rejects when sound cannot be read. */
  async step(): Promise<boolean> {
    const run = this.plan && this.nextRun()
    if (!run) return false
    // The plan tells whether the session was set meanwhile.
    const plan = this.plan!
    const heard = plan.tracks.filter((t) => t.audible)
    const unknown = heard.filter((t) => this.peaksOf(t.id).subarray(run.from, run.to).includes(UNKNOWN))
    // Buses need all that feeds them.
    const few = !plan.memory.remembers && unknown.length * 2 <= heard.length && !unknown.some((t) => t.isBus)
    const ids = heard.filter((t) => t.feeds.some((feed) => feed.to === null)).map((t) => t.id)
    if (unknown.length && few) {
      const wanted = new Set(unknown.map((t) => t.id))
      const only = {
        ...plan,
        tracks: plan.tracks.map((t) => (wanted.has(t.id) ? t : { ...t, audible: false, feeds: [] })),
      }
      await this.render(only, run, false)
      // A newer session came meanwhile: what was found may not be true any more.
      if (plan !== this.plan) return true
    }
    for (let b = run.from; b < run.to; b++) {
      if (unknown.length && !few) break
      if (this.mayExceed(ids, b)) continue
      this.mix[b] = 1
      this.over.get(null)?.delete(b)
    }
    for (let b = run.from; b < run.to;) {
      if (this.mix[b] !== UNKNOWN) {
        b++
        continue
      }
      let to = b + 1
      while (to < run.to && this.mix[to] === UNKNOWN) to++
      await this.render(plan, { from: b, to }, true)
      if (plan !== this.plan) return true
      b = to
    }
    return true
  }

  /** Takes what was found elsewhere of a block of the session that is set: the peaks of its audible tracks, by id, and of the mix. */
  found(block: number, peaks: ReadonlyMap<string, number>, mix: number): void {
    if (block >= this.blocks) return
    for (const [id, peak] of peaks) this.note(id, block, peak)
    this.mix[block] = 1
    this.noteOver(null, block, mix)
  }

  /** Renders blocks and notes the peaks of all tracks that the plan lets sound, and of the mix where all of them do. */
  private async render(
    plan: RenderPlan,
    { from, to }: { from: number; to: number },
    whole: boolean,
  ): Promise<void> {
    const { left, right, renderer, plan: whose } = this
    const first = from * RENDER_BLOCK
    if (!renderer.isAt(plan, first)) await renderer.bringTo(plan, first, () => whose === this.plan)
    if (whose !== this.plan) return
    await this.cache.using(spansNeeded(plan, first, (to - from) * RENDER_BLOCK), () => {
      if (whose !== this.plan || !renderer.isAt(plan, first)) return
      for (let b = from; b < to; b++) {
        // Tracks without a region here are not metered: they are silent.
        for (const track of plan.tracks) if (track.audible) this.note(track.id, b, 0)
        renderer.render(b * RENDER_BLOCK, left, right, (index, l, r) =>
          this.note(plan.tracks[index]!.id, b, Math.max(l, r)),
        )
        if (!whole) continue
        let peak = 0
        for (let i = 0; i < RENDER_BLOCK; i++) peak = Math.max(peak, Math.abs(left[i]!), Math.abs(right[i]!))
        this.mix[b] = 1
        this.noteOver(null, b, peak)
      }
    })
  }

  private note(trackId: string, block: number, peak: number): void {
    this.peaksOf(trackId)[block] = codeOf(peak)
    this.noteOver(trackId, block, peak)
  }

  private noteOver(trackId: string | null, block: number, peak: number): void {
    let found = this.over.get(trackId)
    if (peak > 1) {
      if (!found) this.over.set(trackId, (found = new Map()))
      found.set(block, peak)
    } else found?.delete(block)
  }

  /** Whether tracks of these peaks could together pass full scale in a block, however they meet. */
  private mayExceed(heard: readonly string[], block: number): boolean {
    const { volumeLane, volume, input, inserts, lastInserts } = this.plan!.mix
    if (inserts.length + lastInserts.length) return true
    let sum = 0
    for (const id of heard) sum += LEVELS[this.peaksOf(id)[block]!]!
    if (sum === 0) return false
    let gain = volume
    if (volumeLane) {
      const { heights } = this
      volumeLane.fill(block * RENDER_BLOCK, RENDER_BLOCK, heights)
      gain = heightToGain(heights.reduce((a, b) => Math.max(a, b), 0))
    }
    return sum * gain * Math.abs(input) > 1
  }

  /** The overloads found so far: tracks in the session's order, the mix last. */
  overloads(): Overload[] {
    const { session } = this
    if (!session) return []
    const owners = [...rowIds(session).filter((id) => isAudible(session, id)), null]
    return owners.flatMap((id) => this.joined(id, session.sampleRate))
  }

  private joined(trackId: string | null, sampleRate: number): Overload[] {
    const found = this.over.get(trackId)
    if (!found?.size) return []
    const list: Overload[] = []
    for (const block of [...found.keys()].sort((a, b) => a - b)) {
      const [from, to, peak] = [block * RENDER_BLOCK, (block + 1) * RENDER_BLOCK, found.get(block)!]
      const last = list.at(-1)
      if (last && from - last.to < JOINED_SECONDS * sampleRate) {
        last.to = to
        last.peak = Math.max(last.peak, peak)
      } else list.push({ trackId, from, to, peak })
    }
    return list
  }

  /** How much of the session is known, 0…1. */
  progress(): number {
    if (this.blocks === 0) return 1
    let known = 0
    for (let b = 0; b < this.blocks; b++) if (this.mix[b] !== UNKNOWN) known++
    return known / this.blocks
  }
}

/** Where to search first after an edit: at a change that is on the screen, else at the first change. */
function placeToLook(tracks: readonly Span[], mix: readonly Span[], view: FrameRange | null): FrameRange {
  const spans = [...tracks, ...mix]
  const shown = view && spans.find((s) => s.from < view.to && s.to > view.from)
  if (view && (shown || spans.length === 0))
    return shown ? { from: Math.max(shown.from, view.from), to: Math.min(shown.to, view.to) } : view
  const first = spans[0]
  return first
    ? { from: first.from, to: Number.isFinite(first.to) ? first.to : first.from }
    : { from: 0, to: 0 }
}
