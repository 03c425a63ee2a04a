import { valueToY, type ThreadPlace } from '../../drawing/thread-place'

/** Room for a value axis on the left of a picture in the bench, and about the picture elsewhere, in pixels. */
export const AXIS = 44
export const PAD = 10

/** Marks for the values of a thread, with lines across a picture of so many pixels. */
export function ThreadAxis({
  place,
  width,
  height,
  inside = false,
}: {
  place: Pick<ThreadPlace, 'box' | 'kind'>
  width: number
  height: number
  /** Whether the texts stand in the picture itself, which then has its full width. */
  inside?: boolean
}) {
  const { marks, defaultValue } = place.kind
  let lastY = -Infinity
  return (
    <svg className="pointer-events-none absolute inset-0" width={width} height={height} aria-hidden>
      {marks.map(([value, text]) => {
        const y = valueToY(place, value)
        const room = y - lastY > 11
        if (room) lastY = y
        const neutral = Math.abs(value - defaultValue) < 1e-9
        return (
          <g key={text}>
            <line
              x1={inside ? 0 : AXIS}
              x2={width}
              y1={y}
              y2={y}
              stroke={neutral ? 'var(--color-oak)' : 'var(--color-seam)'}
              strokeWidth={neutral ? 1.5 : 1}
            />
            {room && (
              <text
                x={inside ? 5 : AXIS - 6}
                y={y}
                dominantBaseline="middle"
                textAnchor={inside ? 'start' : 'end'}
                className="fill-soft font-mono text-[10.5px]"
                stroke="var(--color-linen)"
                strokeWidth={inside ? 4 : 0}
                paintOrder="stroke"
              >
                {text}
              </text>
            )}
          </g>
        )
      })}
    </svg>
  )
}
