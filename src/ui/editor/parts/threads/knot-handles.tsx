import { memo } from 'react'
import { least, most } from '../../../../core/units/extremes'
import type { View } from '../../../../store/view'
import { frameToX, seenAcross } from '../../drawing/geometry'
import { knotOutline, type ThreadPlace, valueToY } from '../../drawing/thread-place'

/** Room between selected knots and the box about them, in pixels. */
const BOX_PAD = 9

/** The box about several selected knots: its inside moves them, its top scales them, its sides stretch them in time. */
export function RangeBox({
  place,
  view,
  chosen,
  threadKey,
}: {
  place: ThreadPlace
  view: View
  chosen: readonly number[]
  threadKey: string
}) {
  const known = chosen.flatMap((i) => place.knots[i] ?? [])
  if (known.length < 2) return null
  const xs = [known[0]!, known.at(-1)!].map((k) => frameToX(view, place.toSession(k.frame)))
  const ys = known.map((k) => valueToY(place, k.value))
  const seen = seenAcross(view)
  const [left, right] = [
    Math.max(seen.from - 20, Math.min(...xs) - BOX_PAD),
    Math.min(seen.to + 20, Math.max(...xs) + BOX_PAD),
  ]
  const [top, bottom] = [least(ys, Number) - BOX_PAD, most(ys, Number) + BOX_PAD]
  if (right - left < 2) return null
  const part = (name: string) => ({
    'data-handle': 'knots',
    'data-part': name,
    'data-ref': threadKey,
    fill: 'transparent',
  })
  return (
    <g>
      <rect
        x={left}
        y={top}
        width={right - left}
        height={bottom - top}
        rx={3}
        {...part('move')}
        fill="var(--color-oak)"
        fillOpacity={0.07}
        stroke="var(--color-walnut)"
        strokeDasharray="3 3"
        className="pointer-events-auto cursor-ns-resize"
      />
      <rect
        x={left}
        y={top - 4}
        width={right - left}
        height={8}
        {...part('top')}
        className="pointer-events-auto cursor-row-resize"
      />
      <rect x={(left + right) / 2 - 8} y={top - 2} width={16} height={4} rx={2} fill="var(--color-walnut)" />
      {(['left', 'right'] as const).map((side) => (
        <g key={side}>
          <rect
            x={(side === 'left' ? left : right) - 4}
            y={top}
            width={8}
            height={bottom - top}
            {...part(side)}
            className="pointer-events-auto cursor-ew-resize"
          />
          <rect
            x={(side === 'left' ? left : right) - 2}
            y={(top + bottom) / 2 - 7}
            width={4}
            height={14}
            rx={2}
            fill="var(--color-walnut)"
          />
        </g>
      ))}
    </g>
  )
}

/**
 * The interactive part of a knot; it is visible only while selected. Keys and focus are handled by its
 * thread, so that only changed knots re-render.
 */
export const Knot = memo(function Knot({
  shape,
  index,
  x,
  y,
  dye,
  chosen,
  threadKey,
  label,
  value,
  min,
  max,
  text,
}: {
  shape: 'square' | 'filled' | 'round'
  index: number
  x: number
  y: number
  dye: string
  chosen: boolean
  threadKey: string
  label: string
  value: number
  min: number
  max: number
  text: string
}) {
  return (
    <path
      d={knotOutline(x, y, shape === 'round')}
      data-handle="knot"
      data-ref={threadKey}
      data-knot={index}
      tabIndex={0}
      role="slider"
      aria-label={label}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuenow={value}
      aria-valuetext={text}
      className="cursor-move [pointer-events:all]"
      fill={!chosen ? 'none' : shape === 'filled' ? 'var(--color-ink)' : dye}
      stroke={chosen ? dye : 'none'}
      strokeWidth={2}
    />
  )
})
