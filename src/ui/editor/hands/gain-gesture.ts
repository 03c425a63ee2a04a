import { clamp } from '../../../core/units/clamp'
import { changeClipGain, clipGainRoom } from '../../../core/edit'
import type { Session } from '../../../core/model/session'
import { showDb } from '../../../core/units/typed'
import { commit, dropPreview, preview } from '../../../store/edits'
import { getPlayer } from '../../../store/playback/playback'
import { MANY } from '../../../store/selectors'
import type { Dispatch } from '../../../store/store'
import { gainTrial } from '../drawing/gain-trial'
import type { Gesture } from './gesture'

/** Milliseconds between two times that very many regions are changed in the session while a hand moves them. */
const TOLD_EVERY = { playing: 80, silent: 250 }

/**
 * Shows a clip gain on very many regions while it is dragged: their pictures follow at once, the session a
 * little later and at most so often (while it plays, so that it is heard; else once the hand rests).
 */
function manyShown(dispatch: Dispatch, regionIds: readonly string[]): { by(db: number): void; end(): void } {
  const ids = new Set(regionIds)
  let [told, wanted, timer] = [0, 0, 0]
  const tell = () => {
    timer = 0
    told = wanted
    dispatch(preview(changeClipGain, { regionIds, byDb: told }))
    gainTrial.set(null)
  }
  return {
    by(db) {
      wanted = db
      gainTrial.set({ regionIds: ids, byDb: db - told })
      const playing = getPlayer()?.playing ?? false
      if (!playing) window.clearTimeout(timer)
      if (!playing || timer === 0)
        timer = window.setTimeout(tell, playing ? TOLD_EVERY.playing : TOLD_EVERY.silent)
    },
    end() {
      window.clearTimeout(timer)
      gainTrial.set(null)
    },
  }
}

/** Decibels per pixel, plain and fine. */
const GAIN_STEP = { plain: 0.1, fine: 0.01 }

/** Dragging on the hem: up is louder; all selected regions move together. */
export function gainGesture(
  dispatch: Dispatch,
  session: Session,
  regionIds: readonly string[],
  say: (text: string | null) => void,
): Gesture {
  const room = clipGainRoom(session, regionIds)
  let byDb = 0
  let last = 0
  const show =
    regionIds.length > MANY
      ? manyShown(dispatch, regionIds)
      : {
          by: (db: number) => void dispatch(preview(changeClipGain, { regionIds, byDb: db })),
          end: () => undefined,
        }
  return {
    move({ dy, fine }) {
      // Summed by movement, so that pressing Alt on the way does not make a jump.
      byDb -= (dy - last) * (fine ? GAIN_STEP.fine : GAIN_STEP.plain)
      last = dy
      const by = clamp(Math.round(byDb * 100) / 100, room.down, room.up)
      say(
        regionIds.length > 1
          ? `${showDb(by)}, ${regionIds.length} regions`
          : showDb(Math.round((session.regions[regionIds[0]!]!.clipGainDb + by) * 100) / 100),
      )
      show.by(by)
    },
    end() {
      show.end()
      say(null)
      dispatch(commit(changeClipGain, { regionIds, byDb: Math.round(byDb * 100) / 100 }))
    },
    cancel() {
      show.end()
      say(null)
      dispatch(dropPreview())
    },
  }
}
