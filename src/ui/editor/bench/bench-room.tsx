import { useRef } from 'react'
import { BENCH_HEIGHT, benchHeightSet } from '../../../store/view'
import { HeightHandle } from '../../parts/height-handle'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { Bench } from './bench'

/** How much of the editor the bench takes at most, with its edge. */
const MOST_PART = 0.6
/** Height of its edge, in pixels. */
const EDGE = 6

/** The bench below the tracks, and the edge by which its height is changed. */
export function BenchRoom({ readOnly }: { readOnly: boolean }) {
  const dispatch = useAppDispatch()
  const height = useAppSelector((s) => s.preferences.benchHeight)
  const room = useRef<HTMLDivElement>(null)
  const most = () => Math.floor((room.current?.parentElement?.clientHeight ?? Infinity) * MOST_PART) - EDGE
  return (
    <div
      ref={room}
      className="flex min-h-0 shrink-0 flex-col"
      style={{ height: height + EDGE, maxHeight: `${MOST_PART * 100}%` }}
    >
      <div className="relative h-1.5 shrink-0 border-y border-seam bg-fold">
        <HeightHandle
          label="Height of the bench"
          height={height}
          limits={BENCH_HEIGHT}
          edge="top"
          shown={() => (room.current ? room.current.clientHeight - EDGE : height)}
          onHeight={(to) => dispatch(benchHeightSet(Math.min(to, most())))}
        />
      </div>
      <div data-testid="bench" className="min-h-0 flex-1">
        <fieldset disabled={readOnly} className="contents">
          <Bench />
        </fieldset>
      </div>
    </div>
  )
}
