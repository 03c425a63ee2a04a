import { useRef, useState, type KeyboardEvent } from 'react'
import { showDb } from '../../../core/units/typed'
import { drag } from '../hands/gesture'
import { useDrags } from '../parts/threads/use-drags'
import {
  afterDrag,
  GIVE_WAY_LIMITS,
  handlesOf,
  PICTURE,
  pictureScale,
  type GiveWayShape,
  type HandleName,
  type PictureScale,
} from './give-way-shape'

const WORDS: Record<HandleName, string> = {
  begins: 'Corner where it begins to go down',
  down: 'Corner where it is down',
  up: 'Corner where it begins to come back',
  back: 'Corner where it is back',
}

/** Step of the arrow keys: times in ms, depth in dB; a tenth with Alt. */
const KEY = { ms: { coarse: 50, fine: 5 }, db: { coarse: 1, fine: 0.1 } }

const WAYS: Record<string, { across: number; down: number }> = {
  ArrowRight: { across: 1, down: 0 },
  ArrowLeft: { across: -1, down: 0 },
  ArrowUp: { across: 0, down: -1 },
  ArrowDown: { across: 0, down: 1 },
}

/** The level around a sound of the others: its corners are dragged, or moved by the arrow keys. */
export function GiveWayPicture({
  shape,
  onShape,
}: {
  shape: GiveWayShape
  onShape(shape: GiveWayShape): void
}) {
  const svg = useRef<SVGSVGElement>(null)
  // While a corner is dragged the picture keeps its scale, so that the corner stays under the pointer.
  const [held, setHeld] = useState<PictureScale | null>(null)
  const scale = held ?? pictureScale(shape)
  const { begins, down, up, back } = handlesOf(shape, scale)
  const bind = useDrags((event) => {
    const name = (event.target as Element).getAttribute('data-corner') as HandleName | null
    if (!name) return drag(null)
    const [start, fixed] = [shape, pictureScale(shape)]
    const wide = svg.current!.getBoundingClientRect().width / PICTURE.width
    setHeld(fixed)
    const over = () => setHeld(null)
    return drag({
      move: ({ dx, dy, fine }) =>
        onShape(afterDrag(start, name, dx / wide / fixed.pixelsPerMs, dy / wide / fixed.pixelsPerDb, fine)),
      end: over,
      cancel: () => {
        onShape(start)
        over()
      },
    })
  })
  const onKeyDown = (event: KeyboardEvent) => {
    const name = (event.target as Element).getAttribute('data-corner') as HandleName | null
    const way = WAYS[event.key]
    if (!name || !way) return
    event.preventDefault()
    event.stopPropagation()
    const step = event.altKey ? 'fine' : 'coarse'
    onShape(afterDrag(shape, name, way.across * KEY.ms[step], way.down * KEY.db[step], true))
  }
  return (
    <svg
      ref={svg}
      {...bind()}
      onKeyDown={onKeyDown}
      viewBox={`0 0 ${PICTURE.width} ${PICTURE.height}`}
      className="mt-3 w-full touch-none rounded-lg bg-cloth select-none"
      role="group"
      aria-label="The level around a sound of the others"
    >
      <rect
        x={scale.begin}
        width={scale.end - scale.begin}
        y={4}
        height={PICTURE.height - 8}
        rx={3}
        fill="var(--color-fold)"
      />
      <text
        x={(scale.begin + scale.end) / 2}
        y={PICTURE.height - 9}
        textAnchor="middle"
        fontSize={11}
        fill="var(--color-soft)"
      >
        others
      </text>
      <path
        d={`M0 ${begins.y}H${begins.x}L${down.x} ${down.y}H${up.x}L${back.x} ${back.y}H${PICTURE.width}`}
        fill="none"
        stroke="var(--color-madder)"
        strokeWidth={2}
        strokeLinejoin="round"
      />
      {Object.entries({ begins, down, up, back }).map(([name, { x, y, ms }]) => {
        const inner = name === 'down' || name === 'up'
        return (
          <circle
            key={name}
            data-corner={name}
            cx={x}
            cy={y}
            r={5.5}
            role="slider"
            tabIndex={0}
            aria-label={WORDS[name as HandleName]}
            aria-valuenow={ms}
            aria-valuemin={0}
            aria-valuemax={GIVE_WAY_LIMITS[name as HandleName]}
            aria-valuetext={inner ? `${ms} ms, ${showDb(-shape.depthDb)}` : `${ms} ms`}
            fill="var(--color-linen)"
            stroke="var(--color-madder)"
            strokeWidth={2}
            className={inner ? 'cursor-move' : 'cursor-ew-resize'}
          >
            <title>{`${ms} ms${inner ? ` · up and down: depth, ${showDb(-shape.depthDb)}` : ''}`}</title>
          </circle>
        )
      })}
    </svg>
  )
}
