import { useDrag } from '@use-gesture/react'
import { useMemo, type KeyboardEvent } from 'react'
import { stripWords, type LaneRef } from '../../../../core/edit'
import { stripOf } from '../../../../core/model/strips'
import { parameterOf } from '../../../../core/model/parameters'
import type { Session } from '../../../../core/model/session'
import { beadOf } from '../../../../store/beads'
import { letGo, rideBy } from '../../../../store/actions/riding'
import { beadPicked, trackPicked } from '../../../../store/view'
import { sayWhyNot } from '../../../../store/why-not'
import { threadBorder } from '../../../look/colours'
import { useAppDispatch } from '../../../parts/hooks'
import { useLiveValue } from './use-live-value'

const LANE_MOVES =
  'A lane moves this value. While nothing plays its fader or the arrow keys shift the whole lane; to write it while it plays, choose touch or latch under “ride”.'

/** How long a key counts as held for riding after it was pressed, in milliseconds. */
export const KEY_HELD_MS = 350

/**
 * The value of an automated lane at the playhead, of a track or (null) the mix. Pressing it picks the lane;
 * dragging it, or the arrow keys, ride it.
 */
export function LiveField({
  session,
  trackId,
  lane,
  className,
}: {
  session: Session
  trackId: string | null
  lane: string
  className: string
}) {
  const dispatch = useAppDispatch()
  const ref = useMemo((): LaneRef => ({ kind: 'lane', trackId, lane }), [trackId, lane])
  const value = useLiveValue(useMemo(() => [ref], [ref]))
  const strip = stripOf(session, trackId)!
  const { scale, dye, shownAt } = parameterOf(strip, lane)
  const bind = useDrag<PointerEvent>(
    ({ delta: [dx, dy], last, tap }) => {
      if (tap) return
      const { axis, unitsPerPixel } = scale.dragged
      if (last) dispatch(letGo(ref))
      else if (!dispatch(rideBy(ref, (axis === 'x' ? dx : dy) * unitsPerPixel, Infinity)))
        sayWhyNot(LANE_MOVES)
    },
    { pointer: { keys: false }, filterTaps: true },
  )
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowUp: 1, ArrowDown: -1, ArrowRight: 1, ArrowLeft: -1 }[event.key]
    if (!step || !dispatch(rideBy(ref, step * (event.altKey ? 0.1 : 1) * scale.step, KEY_HELD_MS))) return
    event.preventDefault()
    event.stopPropagation()
  }
  const pick = () => {
    if (trackId !== null) dispatch(trackPicked(trackId))
    dispatch(beadPicked(beadOf(trackId, lane)))
  }
  return (
    <button
      type="button"
      {...bind()}
      onKeyDown={onKeyDown}
      title="Automated: the value at the playhead. Press to see its lane"
      aria-label={`Automated ${parameterOf(strip, shownAt).words} of ${stripWords(session, trackId).replace(/[“”]/g, '')}`}
      onClick={pick}
      className={`${className} h-6 touch-none rounded-md border border-dashed px-0.5 text-right font-mono text-xs whitespace-nowrap ${threadBorder[dye]}`}
    >
      <span ref={value} />
    </button>
  )
}
