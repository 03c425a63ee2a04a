import { shapeThreads, type ThreadRef } from '../../../core/edit'
import type { Knot } from '../../../core/model/session'
import { commit, dropPreview, preview } from '../../../store/edits'
import type { Dispatch } from '../../../store/store'
import type { ThreadPlace } from '../drawing/thread-place'
import type { Gesture, Move } from './gesture'

/** What something dragged catches on: places and the grid, those within two pixels only, or the grid alone. */
export type CatchesOn = 'places' | 'near' | 'grid'

/** What a thread gesture needs besides the thread: how to show a value, and what frames snap to. */
export interface ThreadTools {
  dispatch: Dispatch
  sampleRate: number
  /** Shows a text beside the pointer; null removes it. */
  say(text: string | null): void
  /**
   * The session frame at which something dragged is caught; the nearest whole one when nothing is near or `free` is
   * set. With `others` the knots of other lanes catch, too.
   */
  catchFrame(frame: number, free: boolean, others?: boolean, on?: CatchesOn): number
  /** The same for where the gesture began, by the keys that were held then. */
  start(frame: number, on?: CatchesOn): number
}

/** A knot dragged further than this outside its thread's box is removed, in pixels. */
export const LET_GO = 44

/** What a movement makes of a thread, and of others that are shaped along with it. */
interface Shaped {
  knots: readonly Knot[]
  text: string
  also?: { ref: ThreadRef; knots: readonly Knot[] }[]
}

export function gesture(
  { dispatch, say }: ThreadTools,
  place: ThreadPlace,
  what: string,
  shape: (move: Move) => Shaped,
  done?: (knots: readonly Knot[]) => void,
): Gesture {
  let threads: { ref: ThreadRef; knots: readonly Knot[] }[] = []
  return {
    move(move) {
      const { knots, text, also = [] } = shape(move)
      threads = [{ ref: place.ref, knots }, ...also]
      say(text)
      dispatch(preview(shapeThreads, { threads, what }))
    },
    end() {
      say(null)
      if (threads.length) dispatch(commit(shapeThreads, { threads, what }))
      done?.(threads[0]?.knots ?? place.knots)
    },
    cancel() {
      say(null)
      dispatch(dropPreview())
    },
  }
}
