import type { InsertKindName } from '../../model/inserts/insert-kinds'
import { Graph } from '../graph/graph'
import { insertKindOf } from '../../model/inserts/insert-kinds'
import { STRIP_WORK } from '../plan/work'
import { renderedStrips, type Input } from '../graph/graph-strips'
import { soundingEnd } from '../state/memory'
import { writeOutput } from '../graph/write-output'
import { RENDER_BLOCK } from '../render-block'
import type { RenderPlan } from '../plan/render-plan'
import { spansNeeded, type SourceSpan } from '../plan/spans'
import type { SourceReader } from '../region/source-reader'
import type { Stage } from '../stage'

/** Frames that a part of a relay renders before it hands them on. */
export const RELAY_SLICE = 8192
const BLOCKS = RELAY_SLICE / RENDER_BLOCK

/**
 * The strips of a plan, in the order in which they are rendered, divided into at most so many parts of about equal work: the places
 * where each begins, and the end of the last.
 */
export function relayParts(plan: RenderPlan, most: number): number[] {
  const work = (inserts: readonly { kind: InsertKindName }[]) =>
    inserts.reduce((sum, { kind }) => sum + insertKindOf(kind).work, 0)
  const strips = renderedStrips(plan).map((index) => STRIP_WORK + work(plan.tracks[index]!.inserts))
  const whole = strips.reduce((sum, w) => sum + w, 0) + work(plan.mix.inserts) + work(plan.mix.lastInserts)
  const places = [0]
  let before = 0
  strips.forEach((w, n) => {
    // A part ends before a strip of which more than half would be beyond its share.
    if (n > 0 && places.length < most && before + w / 2 > (whole * places.length) / most) places.push(n)
    before += w
  })
  return [...places, strips.length]
}

/** How many places a graph of a plan adds to, at most: the mix, buses, and what steers inserts. */
const inputsOf = (plan: RenderPlan): number => {
  const keyed = (inserts: RenderPlan['mix']['inserts']) => inserts.filter(({ setup }) => setup.keyed).length
  const strips = renderedStrips(plan).map((index) => plan.tracks[index]!)
  return strips.reduce(
    (sum, { isBus, inserts }) => sum + (isBus ? 1 : 0) + keyed(inserts),
    1 + keyed(plan.mix.inserts) + keyed(plan.mix.lastInserts),
  )
}

/**
 * What one part of a relay hands to the next: all that its strips and those before it have added, slice by slice, in memory that
 * both see.
 */
export class RelayLink {
  readonly buffer: SharedArrayBuffer
  private readonly sums: Float64Array
  private readonly touched: Int32Array
  private readonly inputs: number

  /** `slots` slices are kept; `buffer` is that of the same link in another thread. */
  constructor(
    plan: RenderPlan,
    private readonly slots: number,
    buffer?: SharedArrayBuffer,
  ) {
    this.inputs = inputsOf(plan)
    const frames = slots * this.inputs * 2 * RELAY_SLICE
    const blocks = slots * this.inputs * BLOCKS
    this.buffer = buffer ?? new SharedArrayBuffer(frames * 8 + blocks * 4)
    this.sums = new Float64Array(this.buffer, 0, frames)
    this.touched = new Int32Array(this.buffer, frames * 8, blocks)
  }

  /** Puts a block that begins so many frames after the first of all. */
  put(inputs: readonly Input[], place: number, count: number): void {
    inputs.forEach((input, n) => {
      this.touched[this.blockAt(n, place)] = input.touched ? 1 : 0
      if (!input.touched) return
      for (const side of [0, 1] as const)
        this.sums.set(input.kernel.mix[side].subarray(0, count), this.frameAt(n, side, place))
    })
  }

  /** Takes it into what is added to. */
  take(inputs: readonly Input[], place: number, count: number): void {
    inputs.forEach((input, n) => {
      input.touched = this.touched[this.blockAt(n, place)] === 1
      for (const side of [0, 1] as const) {
        const mix = input.kernel.mix[side]
        const at = this.frameAt(n, side, place)
        if (input.touched) mix.set(this.sums.subarray(at, at + count))
        else mix.fill(0, 0, count)
      }
    })
  }

  private slotAt(input: number, place: number): number {
    return (Math.floor(place / RELAY_SLICE) % this.slots) * this.inputs + input
  }

  private blockAt(input: number, place: number): number {
    return this.slotAt(input, place) * BLOCKS + (place % RELAY_SLICE) / RENDER_BLOCK
  }

  private frameAt(input: number, side: 0 | 1, place: number): number {
    return (this.slotAt(input, place) * 2 + side) * RELAY_SLICE + (place % RELAY_SLICE)
  }
}

/** One part of a relay: which strips, and the links to those before and after it; null at the ends. */
export interface RelayPart {
  from: number
  to: number
  before: RelayLink | null
  after: RelayLink | null
}

/**
 * Renders some strips of a plan, slice by slice, between others that render those before and after them: each takes over what has been
 * added so far, adds its own in the order of the whole, and hands that on. So what comes out has the bits of a render in one
 * place. The last part renders the mix.
 */
export class RelayRender {
  private readonly graph: Graph
  private readonly block = [new Float64Array(RENDER_BLOCK), new Float64Array(RENDER_BLOCK)] as const
  private readonly others: { has(trackId: string): boolean }
  private readonly fadeFrom: number | null
  /** The session frame with which the first slice begins: where something looks ahead, before `start`. */
  readonly first: number

  /** Begins empty at session frame `start`, a multiple of a quantum. */
  constructor(
    private readonly plan: RenderPlan,
    stage: Exclude<Stage, 'clip'>,
    start: number,
    { from, to, before, after }: RelayPart,
    reader: SourceReader,
    onFault?: (insertId: string) => void,
  ) {
    const place = (frame: number) => frame - this.first
    const part = {
      from,
      to,
      takeOver:
        before &&
        ((inputs: readonly Input[], frame: number, count: number) =>
          before.take(inputs, place(frame), count)),
      handOn:
        after &&
        ((inputs: readonly Input[], frame: number, count: number) => after.put(inputs, place(frame), count)),
    }
    this.graph = new Graph(plan, stage, reader, { onFault, part })
    this.graph.jump(start)
    this.first = this.graph.cursor
    this.fadeFrom = soundingEnd(plan).fadeFrom
    const own = new Set(
      renderedStrips(plan)
        .slice(from, to)
        .map((index) => plan.tracks[index]!.id),
    )
    this.others = { has: (id) => !own.has(id) }
  }

  /** The sources that the next slice reads, or `frames` after it. */
  spans(after = 0, frames = RELAY_SLICE): SourceSpan[] {
    return spansNeeded(this.plan, this.graph.cursor + after, frames, this.others)
  }

  /** Renders the next slice. The last part writes its session frames from `at` on as far as they have room. */
  next(at = 0, left = NOTHING, right = NOTHING): void {
    const { graph, block } = this
    for (let done = 0; done < RELAY_SLICE; done += RENDER_BLOCK) {
      const from = graph.cursor
      graph.render(RENDER_BLOCK, block[0], block[1], undefined)
      const first = Math.max(from, at)
      const count = Math.min(from + RENDER_BLOCK, at + left.length) - first
      if (count > 0)
        writeOutput(this.plan, this.fadeFrom, block, first - from, first, count, left, right, first - at)
    }
  }
}

const NOTHING = new Float32Array(0)
