import { rowIds } from '../../../core/model/strips'
import { ChevronLeft, ChevronRight } from 'lucide-react'
import { sessionLength } from '../../../core/model/queries'
import { getPlayer } from '../../../store/playback/playback'
import { shownSession } from '../../../store/selectors'
import { MIX_FLAGS_HEIGHT, viewChanged } from '../../../store/view'
import { useAppDispatch, useAppSelector, useAppStore } from '../../parts/hooks'
import { boundedView, frameToX } from '../drawing/geometry'
import { overloadBeside } from '../drawing/merged-overloads'
import { lowerOverloads, useLookedAt, useOverloads } from '../parts/watch/overload-watch'

/** Beside the flags of the mix: how many there are, the way to the one before and after, and lowering all. */
export function MixFlagsHead() {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const flagged = useAppSelector((s) => s.navigation.mixFlagged)
  const own = useOverloads().filter((o) => o.trackId === null)
  const looked = useLookedAt()
  if (!flagged) return null
  const go = (direction: 1 | -1) => {
    const next = overloadBeside(own, getPlayer()?.position() ?? 0, direction)
    if (!next) return
    getPlayer()?.seek(next.from)
    const state = store.getState()
    const { view } = state.navigation
    const session = shownSession(state)!
    const x = frameToX(view, next.from)
    if (x < 0 || x > view.width - 90)
      dispatch(
        viewChanged(
          boundedView(
            { ...view, left: next.from - view.width * 0.3 * view.framesPerPixel },
            sessionLength(session),
            rowIds(session).length,
          ),
        ),
      )
  }
  const button = 'flex h-4.5 items-center justify-center rounded border border-seam bg-linen hover:bg-white'
  return (
    <div
      className="flex items-center gap-1 border-b border-fold bg-cloth pr-2 pl-4 text-2xs"
      style={{ height: MIX_FLAGS_HEIGHT }}
    >
      <span className="min-w-0 flex-1 truncate font-semibold text-fault">
        {own.length} {own.length === 1 ? 'overload' : 'overloads'}
        {looked < 1 && (
          <span className="font-normal text-soft">, {Math.floor(looked * 100)} % looked at</span>
        )}
      </span>
      <button
        type="button"
        aria-label="Overload of the mix before the playhead"
        title="The overload before the playhead"
        onClick={() => go(-1)}
        className={`${button} w-5`}
      >
        <ChevronLeft size={12} />
      </button>
      <button
        type="button"
        aria-label="Overload of the mix after the playhead"
        title="The overload after the playhead"
        onClick={() => go(1)}
        className={`${button} w-5`}
      >
        <ChevronRight size={12} />
      </button>
      <button
        type="button"
        title="Lowers every one of them in the volume lane of the mix, in one step"
        onClick={() => dispatch(lowerOverloads(own))}
        className={`${button} px-1.5`}
      >
        Lower all
      </button>
    </div>
  )
}
