import type { KeyboardEvent } from 'react'
import { noteValues, type Weave } from '../../../../core/curve/weave'
import { type LaneRef, sameRef } from '../../../../core/edit'
import type { LaneWeave } from '../../../../core/model/session'
import type { View } from '../../../../store/view'
import { lanePicked, weavePicked } from '../../../../store/view'
import { useAppDispatch, useAppSelector } from '../../../parts/hooks'
import { seenAcross } from '../../drawing/geometry'
import { type ThreadPlace, weaveFrames } from '../../drawing/thread-place'

/** Room between a weave's line and its frame, in pixels. */
const PAD = 5

/** Names of the shapes of weaves. */
export const weaveNames: Record<Weave['shape'], string> = {
  square: 'Square',
  triangle: 'Triangle',
  sine: 'Sine',
  'ramp-up': 'Ramp up',
  'ramp-down': 'Ramp down',
  random: 'Random',
}

/** The length of a weave's cycle in words: "1/8 dotted", "250 ms". */
export const periodWords = ({ period }: Pick<Weave, 'period'>): string =>
  'ms' in period
    ? `${period.ms} ms`
    : (noteValues.find((n) => Math.abs(n.beats - period.beats) < 1e-9)?.name ?? `${period.beats} beats`)

/** A weave in words: "Sine 1/8". */
const weaveWords = (weave: LaneWeave) => `${weaveNames[weave.shape]} ${periodWords(weave)}`

/**
 * The frames about the weaves of a lane: pressed, a weave is picked; its inside moves it, its edges are its limits, its
 * start and its end.
 */
export function WeaveFrames({
  place,
  view,
  threadKey,
}: {
  place: ThreadPlace
  view: View
  threadKey: string
}) {
  const dispatch = useAppDispatch()
  const picked = useAppSelector((s) => s.selection.pickedWeave)
  const ref = place.ref as LaneRef
  const seen = seenAcross(view)
  return weaveFrames(view, place).map(({ weave, x, y, width, height }) => {
    const chosen = picked !== null && picked.from === weave.from && sameRef(picked.ref, ref)
    const handle = (part: string, cursor: string) => ({
      'data-handle': 'weave',
      'data-ref': threadKey,
      'data-from': weave.from,
      'data-part': part,
      fill: 'transparent',
      className: `pointer-events-auto ${cursor}`,
    })
    const [left, right] = [Math.max(x, seen.from - 20), Math.min(x + width, seen.to + 20)]
    const [top, bottom] = [y - PAD, y + height + PAD]
    const box = { x: left, y: top, width: Math.max(1, right - left), height: bottom - top }
    const grip = Math.min(8, box.width / 4)
    return (
      <g key={weave.from}>
        <rect
          {...box}
          rx={4}
          {...handle('move', 'cursor-move')}
          fill={`var(--color-${place.look.dye})`}
          fillOpacity={chosen ? 0.14 : 0.05}
          stroke={`var(--color-${place.look.dye})`}
          strokeOpacity={chosen ? 1 : 0.55}
          strokeWidth={chosen ? 1.5 : 1}
          role="button"
          aria-pressed={chosen}
          tabIndex={0}
          aria-label={`Weave of ${place.name}: ${weaveWords(weave)}, ${place.kind.show(weave.low)} to ${place.kind.show(weave.high)}`}
          onKeyDown={(event: KeyboardEvent) => {
            if (event.key !== 'Enter') return
            event.preventDefault()
            dispatch(lanePicked(ref))
            dispatch(weavePicked({ ref, from: weave.from }))
          }}
        >
          <title>{`${weaveWords(weave)} – press it to change its values on the bench`}</title>
        </rect>
        <rect {...box} y={top - 3} height={6} {...handle('top', 'cursor-row-resize')} />
        <rect {...box} y={bottom - 3} height={6} {...handle('bottom', 'cursor-row-resize')} />
        <rect {...box} x={left - 2} width={grip} {...handle('left', 'cursor-ew-resize')} />
        <rect {...box} x={right - grip + 2} width={grip} {...handle('right', 'cursor-ew-resize')} />
        {box.width > 90 && (
          <text
            x={left + 6}
            y={top - 3 < place.box.y + 8 ? bottom + 9 : top - 4}
            className="fill-soft text-[10px] select-none"
          >
            {weaveWords(weave)}
          </text>
        )}
      </g>
    )
  })
}
