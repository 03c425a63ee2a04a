import { clamp } from '../../../core/units/clamp'
import clsx from 'clsx'
import type { KeyboardEvent } from 'react'
import { fadeGain, fadeProgress } from '../../../core/curve/fade'
import { type FadeEdge, setFade, trimRegions } from '../../../core/edit'
import type { Region } from '../../../core/model/session'
import { showLength, showTime } from '../../../core/units/typed'
import { useAppDispatch } from '../../parts/hooks'
import { commitToSelected } from '../../../store/actions/selected-regions'

/**
 * An edge of a region, which leaves the middle of a crossfade free: dragging hides or shows sound; arrow keys
 * move it by a beat, with Alt by a millisecond.
 */
export function TrimHandle({
  edge,
  hem,
  crossed,
  region,
  rate,
  shown,
  beat,
}: {
  /** Height of the hem below it. */
  hem: number
  edge: 'start' | 'end'
  crossed: number
  region: Region
  rate: number
  shown: boolean
  beat: number
}) {
  const dispatch = useAppDispatch()
  const at = edge === 'start' ? region.start : region.start + region.length
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    if (!step) return
    event.preventDefault()
    event.stopPropagation()
    dispatch(
      commitToSelected(region.id, trimRegions, {
        edge,
        byFrames: step * Math.round(event.altKey ? rate / 1000 : beat),
      }),
    )
  }
  return (
    <div
      role="slider"
      tabIndex={shown ? 0 : -1}
      data-handle={`trim-${edge}`}
      data-region={region.id}
      onKeyDown={onKeyDown}
      aria-label={`${edge === 'start' ? 'Start' : 'End'} of ${region.name}`}
      aria-valuemin={0}
      aria-valuemax={Math.round((at + region.length) / rate)}
      aria-valuenow={Math.round(at / rate)}
      aria-valuetext={showTime(at, rate)}
      className={clsx(
        'absolute z-[2] cursor-col-resize touch-none rounded-sm hover:bg-ink/25',
        edge === 'start' ? 'left-0' : 'right-0',
      )}
      style={{
        top: hem > 0 ? 16 : 0,
        bottom: hem,
        width: crossed ? clamp(crossed / 3, 3, 8) : 8,
      }}
    />
  )
}

/**
 * Visible only while the pointer or the focus is on its region. (Hidden and not transparent: thousands of
 * layers would be slow.)
 */
const ONLY_NEAR = 'invisible group-focus-within/region:visible group-hover/region:visible'

export function FadeHandle({
  edge,
  x,
  region,
  rate,
  shown,
  width,
}: {
  edge: FadeEdge
  x: number
  region: Region
  rate: number
  shown: boolean
  width: number
}) {
  const dispatch = useAppDispatch()
  const fade = edge === 'in' ? region.fadeIn : region.fadeOut
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    const inwards = edge === 'in' ? 1 : -1
    if (step)
      dispatch(
        commitToSelected(region.id, setFade, {
          edge,
          change: { byFrames: step * inwards * Math.round(rate * (event.altKey ? 0.001 : 0.02)) },
        }),
      )
    else if (event.key === 'Backspace' || event.key === 'Delete')
      dispatch(commitToSelected(region.id, setFade, { edge, change: { lengthFrames: 0 } }))
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  if (x < -12 || x > width + 12) return null
  const length = fade?.length ?? 0
  return (
    <div
      role="slider"
      tabIndex={shown ? 0 : -1}
      data-handle={`fade-${edge}`}
      data-region={region.id}
      onKeyDown={onKeyDown}
      aria-label={`Fade ${edge} of ${region.name}`}
      aria-valuemin={0}
      aria-valuemax={Math.round((region.length / rate) * 1000)}
      aria-valuenow={Math.round((length / rate) * 1000)}
      aria-valuetext={fade ? showLength(length, rate) : 'none'}
      className="absolute -top-1 -ml-3 flex h-6 w-6 cursor-ew-resize touch-none"
      style={{ left: Math.min(width - 7, Math.max(7, x)) }}
    >
      <span
        className={clsx(
          'absolute top-1.5 left-1.75 block h-2.5 w-2.5 rounded-full border-2 border-walnut bg-linen',
          !fade && !shown && ONLY_NEAR,
        )}
      />
    </div>
  )
}

/** The curve of a fade: dragging it bends it; the handle in its middle does so by arrow keys too. */
export function BendHandle({
  edge,
  region,
  shown,
  framesPerPixel,
  boxX,
  height,
  width,
}: {
  edge: FadeEdge
  region: Region
  shown: boolean
  framesPerPixel: number
  boxX: number
  height: number
  width: number
}) {
  const dispatch = useAppDispatch()
  const fade = edge === 'in' ? region.fadeIn : region.fadeOut
  if (!fade || fade.kind !== 'gain') return null
  const pixels = fade.length / framesPerPixel
  if (pixels < 14) return null
  const outer = edge === 'in' ? boxX : boxX + region.length / framesPerPixel
  const sign = edge === 'in' ? 1 : -1
  const point = (u: number): [number, number] => [
    outer + sign * pixels * u,
    height - fadeGain(fade, fadeProgress(fade, u * fade.length)) * height,
  ]
  const path = Array.from({ length: 25 }, (_, i) => point(i / 24))
    .map(([x, y], i) => `${i ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`)
    .join('')
  const [x, y] = point(0.5)
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowUp: -1, ArrowDown: 1 }[event.key]
    if (step)
      dispatch(
        commitToSelected(region.id, setFade, {
          edge,
          change: {
            bend: clamp(Math.round((fade.bend + step * (event.altKey ? 0.01 : 0.1)) * 100) / 100, -1, 1),
          },
        }),
      )
    else if (event.key === 'Backspace')
      dispatch(commitToSelected(region.id, setFade, { edge, change: { bend: 0 } }))
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <>
      <svg
        className="pointer-events-none absolute inset-0 overflow-hidden"
        width={width}
        height={height}
        aria-hidden
      >
        <path
          d={path}
          fill="none"
          stroke="transparent"
          strokeWidth={10}
          data-handle={`bend-${edge}`}
          data-region={region.id}
          className="pointer-events-auto cursor-ns-resize"
        />
      </svg>
      {x > 0 && x < width && (
        <div
          role="slider"
          tabIndex={shown ? 0 : -1}
          data-handle={`bend-${edge}`}
          data-region={region.id}
          onKeyDown={onKeyDown}
          aria-orientation="vertical"
          aria-label={`Bend of the fade ${edge} of ${region.name}`}
          aria-valuemin={-100}
          aria-valuemax={100}
          aria-valuenow={Math.round(fade.bend * 100)}
          aria-valuetext={`${Math.round(fade.bend * 100)} %`}
          className="absolute -mt-3 -ml-3 h-6 w-6 cursor-ns-resize touch-none"
          style={{ left: x, top: y }}
        >
          <span
            className={clsx(
              'absolute top-2 left-2 block h-2 w-2 rounded-sm border-2 border-walnut bg-linen',
              !shown && ONLY_NEAR,
            )}
          />
        </div>
      )}
    </>
  )
}
