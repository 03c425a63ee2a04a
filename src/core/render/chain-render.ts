import { processingKernel } from '../dsp/kernels/processing'
import { Chain } from './chain'
import { scaleSide } from './graph'
import { RegionSum } from './region-sum'
import { RENDER_BLOCK } from './render-block'
import type { TrackPlan } from './render-plan'
import type { SourceReader } from './source-reader'

/** What comes out of the inserts of a track: `count` frames from session frame `from` on; no sides are silence. */
export interface ChainSlice {
  from: number
  count: number
  sides: Float64Array<ArrayBuffer>[]
}

/**
 * Renders what comes out of the inserts of one track, from a frame on: the part of a render that several threads can share,
 * since it depends on no other strip. The same bits as within the whole.
 */
export class ChainRender {
  private readonly chain: Chain
  private readonly regions: RegionSum
  private readonly sound = processingKernel().sound

  /** Begins empty at session frame `start`, a multiple of a quantum. */
  constructor(
    private readonly plan: TrackPlan,
    start: number,
    reader: SourceReader,
    onFault?: (insertId: string) => void,
  ) {
    this.regions = new RegionSum(reader)
    this.chain = new Chain(onFault)
    this.chain.update(plan.inserts)
    this.chain.pos = start
  }

  /** Takes in the next `count` frames, whole quanta. */
  next(count: number): ChainSlice {
    const { plan, chain, sound } = this
    const from = chain.pos - chain.latency
    const sides: Float64Array<ArrayBuffer>[] = []
    for (let done = 0; done < count;) {
      const take = Math.min(RENDER_BLOCK, count - done)
      const silent = !this.regions.sum(plan, plan.inputChannels, chain.pos, take, sound)
      if (!silent) for (let c = 0; c < plan.inputChannels; c++) scaleSide(sound[c]!, plan.input, take)
      if (chain.run(sound, plan.inputChannels, take, silent)) {
        while (sides.length < plan.channels) sides.push(new Float64Array(count))
        for (let c = 0; c < plan.channels; c++) sides[c]!.set(sound[c]!.subarray(0, take), done)
      }
      done += take
    }
    return { from, count, sides }
  }
}

/** What came out of the inserts of tracks that other threads render, for the graph to take from there on. */
export class ProvidedChains {
  private readonly slices = new Map<string, ChainSlice[]>()

  constructor(trackIds: readonly string[]) {
    for (const id of trackIds) this.slices.set(id, [])
  }

  has(trackId: string): boolean {
    return this.slices.has(trackId)
  }

  /** Adds the next slice of a track. */
  add(trackId: string, slice: ChainSlice): void {
    this.slices.get(trackId)!.push(slice)
  }

  /**
   * Copies frames from session frame `from` on; what lies before them is let go. Returns whether anything sounds. Throws a
   * RangeError for frames that are not there.
   */
  take(trackId: string, from: number, count: number, into: readonly [Float64Array, Float64Array]): boolean {
    const slices = this.slices.get(trackId)!
    while (slices.length && slices[0]!.from + slices[0]!.count <= from) slices.shift()
    let heard = false
    for (let done = 0; done < count;) {
      const frame = from + done
      const slice = slices.find((s) => s.from <= frame && s.from + s.count > frame)
      if (!slice) throw new RangeError(`frame ${frame} of track ${trackId} has not been rendered`)
      const take = Math.min(count - done, slice.from + slice.count - frame)
      for (let c = 0; c < 2; c++) {
        const side = slice.sides[c]
        if (side) into[c]!.set(side.subarray(frame - slice.from, frame - slice.from + take), done)
        else into[c]!.fill(0, done, done + take)
      }
      heard ||= slice.sides.length > 0
      done += take
    }
    return heard
  }
}
