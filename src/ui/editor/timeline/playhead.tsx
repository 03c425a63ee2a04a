import { mixRoom } from '../../../store/selectors'
import { rowIds } from '../../../core/model/strips'
import { useRef } from 'react'
import { getPlayer } from '../../../store/playback/playback'
import { viewChanged } from '../../../store/view'
import { useAppDispatch, useAppSelector, useAppStore, useFrame } from '../../parts/hooks'
import { placeLine } from '../../parts/rendering/element-offset'
import { boundedView, frameToX } from '../drawing/geometry'

/** The playhead over ruler and regions; it follows the sound and, if wished, turns the page. */
export function Playhead({ playing, length }: { playing: boolean; length: number }) {
  const line = useRef<HTMLDivElement>(null)
  const dispatch = useAppDispatch()
  const follow = useAppSelector((s) => s.preferences.follow)
  const rows = useAppSelector((s) => (s.session.session ? rowIds(s.session.session).length : 0))
  const store = useAppStore()
  const height = useAppSelector(
    (s) =>
      s.navigation.view.height + (s.session.session && rowIds(s.session.session).length ? mixRoom(s) : 0),
  )
  useFrame(() => {
    const { view } = store.getState().navigation
    const frame = getPlayer()?.position() ?? 0
    const x = frameToX(view, frame)
    placeLine(line.current, x, x >= 0 && x <= view.width)
    if (playing && follow && (x > view.width * 0.94 || x < 0))
      dispatch(
        viewChanged(
          boundedView({ ...view, left: frame - view.width * 0.08 * view.framesPerPixel }, length, rows),
        ),
      )
  })
  return (
    <div className="pointer-events-none relative h-0" aria-hidden>
      <div
        ref={line}
        className="absolute bottom-0 left-0 w-px bg-ink will-change-transform"
        style={{ height: height + 12 }}
      >
        <span className="absolute -top-1 left-1/2 block -translate-x-1/2 border-x-6 border-t-8 border-x-transparent border-t-ink" />
      </div>
    </div>
  )
}
