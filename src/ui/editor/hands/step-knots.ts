import { threadOf, type ThreadRef } from '../../../core/edit'
import { nudgeKnots, shiftKnots } from '../../../store/actions/thread-actions'
import type { Thunk } from '../../../store/store'
import { sourceToSession } from '../drawing/thread-place'
import { nearestGrid, toNextGrid } from './snap'

/** A step of the arrow keys: to the right or the left, up or down on the screen. */
export interface KnotStep {
  time?: 1 | -1
  level?: 1 | -1
  fine: boolean
}

/**
 * Moves knots by a key: in time by the grid of a zoom, finely by a millisecond (or a frame, where single
 * frames are seen); in level by 1 dB or 5 hundredths of pan, finely by a tenth of it. Left and right, up and
 * down are those of the screen: a reversed region runs backwards, pan has left at the top.
 */
export const stepKnots =
  (
    ref: ThreadRef,
    indices: readonly number[],
    { time, level, fine }: KnotStep,
    framesPerPixel: number,
  ): Thunk =>
  (dispatch, getState) => {
    const {
      session: { session },
      preferences: { timeScale },
    } = getState()
    const thread = session && threadOf(session, ref)
    if (!thread) return
    if (time) {
      const backwards = ref.kind === 'region' && session.regions[ref.regionId]!.reversed
      const small = framesPerPixel < 1 ? (fine ? 1 : 8) : fine ? Math.round(session.sampleRate * 0.001) : null
      if (small !== null) return void dispatch(nudgeKnots(ref, indices, (backwards ? -time : time) * small))
      // The first of them, as it stands on the screen, comes onto the grid; where one lies on it already, as between the shoulders of
      // a plateau, that one goes on to the next line.
      const frame = (i: number) => {
        const own = thread.knots[i]!.frame
        return ref.kind === 'region' ? sourceToSession(session.regions[ref.regionId]!, own) : own
      }
      const frames = indices.map(frame).sort((a, b) => a - b)
      const onGrid = (at: number) => Math.abs(nearestGrid(session, at, framesPerPixel, timeScale) - at) <= 0.5
      const leads = frames.find(onGrid) ?? frames[0]!
      const by = toNextGrid(session, leads, time, framesPerPixel, timeScale)
      dispatch(nudgeKnots(ref, indices, backwards ? -by : by))
    }
    if (level)
      dispatch(
        shiftKnots(
          ref,
          indices,
          level * (fine ? 0.1 : 1) * thread.kind.step * (thread.kind.upwards ? 1 : -1),
        ),
      )
  }
