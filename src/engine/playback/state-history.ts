import { AUDIO_QUANTUM } from './ring'
import { newGraphState, type GraphState, type KeptRender, type Renderer } from '../../core/render'

/** How far back from where rendering goes on something remembered is taken up, in frames. */
const REACH = 16_384

interface Mark {
  /** Stream frame of the beginning of a block. */
  at: number
  state: GraphState
  /** By how many frames what is remembered was rendered ahead of what came out. */
  ahead: number
}

/** A place of the stream from which on the session goes on elsewhere: after a seek, or a turn of the loop. */
interface Turn {
  at: number
  /** What was taken up there; null where a mark lies there. */
  kept: KeptRender | null
  /** The frames that this had been rendered ahead. */
  ahead: number
}

/**
 * What a renderer remembered at the blocks of the ring, so that rendering can go on from any of them: the ring is rewritten
 * after an edit, from shortly after what is heard.
 */
export class StateHistory {
  private marks: Mark[] = []
  private turns: Turn[] = []
  private readonly spare: GraphState[] = []

  /** Forgets all. */
  clear(): void {
    this.spare.push(...this.marks.map((mark) => mark.state))
    this.marks = []
    this.turns = []
  }

  /** Notes what is remembered where the block at a stream frame begins; what lies after it is about to be rewritten. */
  mark(at: number, renderer: Renderer): void {
    this.cut(at)
    const state = this.spare.pop() ?? newGraphState()
    renderer.save(state)
    this.marks.push({ at, state, ahead: renderer.plan.memory.aheadFrames })
  }

  /** Notes that the session goes on elsewhere from a stream frame on, from what was kept with so many frames rendered ahead. */
  turn(at: number, kept: KeptRender | null, ahead: number): void {
    this.turns.push({ at, kept, ahead })
  }

  /** Drops what comes after a stream frame, that of a block that is rewritten, and what is long past. */
  private cut(at: number): void {
    while (this.marks.length && this.marks.at(-1)!.at >= at) this.spare.push(this.marks.pop()!.state)
    while (this.turns.length && this.turns.at(-1)!.at > at) this.turns.pop()
    while (this.marks.length > 96) this.spare.push(this.marks.shift()!.state)
    while (this.turns.length > 1 && this.turns[1]!.at < (this.marks[0]?.at ?? at)) this.turns.shift()
  }

  /**
   * Makes a session frame the next one of the renderer, as it is reached at a stream frame: from the latest of what is
   * remembered since the session went on from elsewhere. What has been rendered ahead was rendered as things were before: where
   * nothing of that time lies so far back, as in a loop that is shorter than a block, it goes on from where the loop begins, best from
   * `fresh`, which was kept there under the plan of now. Returns whether it goes on from what lies before.
   */
  resume(renderer: Renderer, at: number, frame: number, fresh: KeptRender | null): boolean {
    const { turn, marks } = this.known(at, frame)
    const reaches = marks.some(({ state, ahead }) => frame - state.cursor >= ahead + AUDIO_QUANTUM)
    const within = (kept: KeptRender) => frame >= kept.frame && frame - kept.frame <= REACH
    if (!reaches && turn?.kept) {
      const kept = fresh?.frame === turn.kept.frame ? fresh : turn.kept
      const isOld = kept !== fresh && frame - kept.frame < turn.ahead + AUDIO_QUANTUM
      if (within(kept) && (!isOld || marks.length === 0)) {
        renderer.applySnapshot(kept, frame)
        return false
      }
    }
    renderer.resume(
      marks.map(({ state }) => state),
      frame,
    )
    return true
  }

  /** What is remembered since the session went on from elsewhere, up to a stream frame. */
  private known(at: number, frame: number): { turn: Turn | undefined; marks: readonly Mark[] } {
    let turn: Turn | undefined
    for (const known of this.turns) if (known.at <= at) turn = known
    const since = turn?.at ?? -Infinity
    const marks = this.marks.filter(
      (mark) => mark.at >= since && mark.at <= at && frame - mark.state.cursor <= REACH,
    )
    return { turn, marks }
  }
}

/** Frames before a session frame from which sound may be read to go on there. */
export const reachBack = (remembers: boolean): number => (remembers ? REACH : 0)
