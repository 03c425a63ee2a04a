import { clamp } from '../../core/units/clamp'
import { soundChanges } from '../../core/edit'
import { kWeighting, weightedSquares } from '../../core/measure/loudness'
import type { Session } from '../../core/model/session'
import {
  CHUNK_FRAMES,
  planSession,
  RENDER_BLOCK,
  soundingEnd,
  spansNeeded,
  type Correlations,
  type RenderPlan,
  type TrackMeter,
} from '../../core/render'
import type { SoundCache } from '../storage'
import type { BackgroundRenderer } from './background-renderer'

/** How long a step of the course is, in seconds: that of loudness meters. */
export const COURSE_STEP_SECONDS = 0.1
/** Steps that are worked out in one go, at most, and how long that should take, in milliseconds. */
const MOST_RUN = 12
const RUN_MS = 16
/** More tracks than this are many. */
const MANY_TRACKS = 32
/** The filters of the weighting are brought up to a place over so many seconds. */
const SETTLING_SECONDS = 0.2

/**
 * The K-weighted power of the mix over all of a session, step by step, kept over edits: only what they touch is worked out anew. It begins
 * where something was changed and goes on from there.
 */
export class LoudnessCourse {
  /** The power of every step, both sides added; NaN where it is not known yet. */
  powers = new Float32Array(0)
  private session: Session | null = null
  private plan: RenderPlan | null = null
  private stepFrames = 4800
  private focus = 0
  private run = 1
  /** The session frame that the filters have come to; -1 for none. */
  private at = -1
  private filters = kWeighting(48_000)
  private readonly delays = [new Float64Array(4), new Float64Array(4)] as const
  private readonly sides = [new Float32Array(RENDER_BLOCK), new Float32Array(RENDER_BLOCK)] as const

  /** The peaks of a block, as far as it has been rendered, where it was from its beginning. */
  private inBlock = false
  private readonly peaks = new Map<string, number>()
  private mixPeak = 0

  constructor(
    private readonly cache: SoundCache,
    private readonly renderer: BackgroundRenderer,
    /** Hears the peaks of every block of `RENDER_BLOCK` frames that comes by: of the audible tracks after their faders, and of the mix. */
    private readonly onBlock: (block: number, peaks: ReadonlyMap<string, number>, mix: number) => void = () =>
      undefined,
  ) {}

  /** Sets the session, or a new version of it. The cache must know its sources. */
  setSession(session: Session, correlations: Correlations): void {
    const changes = this.session ? soundChanges(this.session, session) : null
    this.session = session
    this.plan = planSession(session, { correlations })
    this.at = -1
    this.inBlock = false
    this.peaks.clear()
    this.stepFrames = Math.round(session.sampleRate * COURSE_STEP_SECONDS)
    this.filters = kWeighting(session.sampleRate)
    const steps = Math.ceil(soundingEnd(this.plan).end / this.stepFrames)
    const before = this.powers
    this.powers = new Float32Array(steps).fill(NaN)
    if (!changes) {
      this.focus = 0
      return
    }
    this.powers.set(before.subarray(0, steps))
    const { aheadFrames, tailFrames } = this.plan.memory
    this.focus = steps
    for (const span of [...[...changes.tracks.values()].flat(), ...changes.mix]) {
      const from = Math.max(0, Math.floor((span.from - aheadFrames) / this.stepFrames))
      const to = Math.min(steps, Math.ceil((span.to + tailFrames) / this.stepFrames) + 1)
      if (to > from) this.powers.fill(NaN, from, to)
      this.focus = Math.min(this.focus, from)
    }
  }

  /** The first steps that are not known, from where something was changed on; null when all are. */
  private next(): { from: number; to: number } | null {
    const { powers, focus } = this
    let from = focus
    while (from < powers.length && !Number.isNaN(powers[from])) from++
    if (from >= powers.length) {
      from = powers.findIndex(Number.isNaN)
      if (from < 0) return null
    }
    this.focus = from
    let to = from
    while (to < powers.length && to - from < this.run && Number.isNaN(powers[to])) to++
    return { from, to }
  }

  /** Works out some steps. Resolves to whether any were left; rejects when sound cannot be read. */
  async step(): Promise<boolean> {
    const run = this.plan && this.next()
    if (!run) return false
    const { stepFrames } = this
    // The plan tells whether the session was set meanwhile: that may be one that equals this one.
    const plan = this.plan!
    const [from, to] = [run.from * stepFrames, run.to * stepFrames]
    if (this.at !== from || !this.renderer.isAt(plan, from)) await this.bringTo(plan, from)
    if (plan !== this.plan) return true
    // Chunks are fetched so far ahead that they are there in time; of very many tracks less, since that takes room.
    const soon = spansNeeded(plan, to, (plan.tracks.length > MANY_TRACKS ? 1 : 2) * CHUNK_FRAMES)
    await this.cache.using(
      spansNeeded(plan, from, to - from),
      () => {
        if (plan !== this.plan || !this.renderer.isAt(plan, from)) return
        const begun = performance.now()
        for (let step = run.from; step < run.to; step++)
          this.powers[step] = this.squares(step * stepFrames) / stepFrames
        this.at = to
        const perStep = (performance.now() - begun) / (run.to - run.from)
        this.run = clamp(Math.round(RUN_MS / perStep), 1, MOST_RUN)
      },
      soon,
    )
    return true
  }

  /** Lets the renderer and the filters remember what they should at a frame. */
  private async bringTo(plan: RenderPlan, frame: number): Promise<void> {
    for (const delays of this.delays) delays.fill(0)
    this.inBlock = false
    this.at = -1
    const settling = Math.round(SETTLING_SECONDS * plan.sampleRate)
    const isWanted = () => plan === this.plan
    await this.renderer.bringTo(plan, frame, isWanted, settling, (...sides) =>
      sides.forEach((side, c) => weightedSquares(this.filters, side, 0, side.length, this.delays[c]!)),
    )
    if (isWanted()) this.at = frame
  }

  /** The K-weighted squares of one step. */
  private squares(from: number): number {
    let sum = 0
    for (let at = from; at < from + this.stepFrames;) {
      // Up to the end of the step, or of the block of which peaks are told.
      const count = Math.min(RENDER_BLOCK - (at % RENDER_BLOCK), from + this.stepFrames - at)
      const sides = this.sides.map((side) => (count === RENDER_BLOCK ? side : side.subarray(0, count)))
      if (at % RENDER_BLOCK === 0) this.beginBlock()
      this.renderer.render(at, sides[0]!, sides[1]!, this.meter)
      for (const c of [0, 1] as const)
        sum += weightedSquares(this.filters, sides[c]!, 0, count, this.delays[c])
      at += count
      if (!this.inBlock) continue
      for (const side of sides) this.mixPeak = largestSize(side, this.mixPeak)
      if (at % RENDER_BLOCK === 0) this.onBlock(at / RENDER_BLOCK - 1, this.peaks, this.mixPeak)
    }
    // After the sound the filters die away without an end.
    for (const delays of this.delays) if (delays.every((d) => Math.abs(d) < 1e-30)) delays.fill(0)
    return sum
  }

  private beginBlock(): void {
    this.inBlock = true
    this.mixPeak = 0
    for (const { id, audible } of this.plan!.tracks) if (audible) this.peaks.set(id, 0)
  }

  private readonly meter: TrackMeter = (index, left, right) => {
    const { id } = this.plan!.tracks[index]!
    this.peaks.set(id, Math.max(this.peaks.get(id) ?? 0, left, right))
  }
}

function largestSize(samples: Float32Array, before: number): number {
  let most = before
  for (let i = 0; i < samples.length; i++) most = Math.max(most, Math.abs(samples[i]!))
  return most
}
