import { useDrag } from '@use-gesture/react'

/** A key's step, in pixels. */
const STEP = 12

/**
 * The edge by which a part's height is changed: by dragging or with the arrow keys. At the top edge, up is
 * taller.
 */
export function HeightHandle({
  label,
  height,
  limits,
  edge,
  shown = () => height,
  onHeight,
}: {
  /** What it is called; without a name it is for the pointer alone. */
  label?: string
  height: number
  limits: { min: number; max: number }
  edge: 'top' | 'bottom'
  /** How tall it is at present, where it may have less room than its height. */
  shown?: () => number
  onHeight(height: number): void
}) {
  const down = edge === 'bottom' ? 1 : -1
  const bind = useDrag<PointerEvent>(
    ({ first, movement: [, dy], memo }) => {
      const start = first ? shown() : (memo as number)
      onHeight(start + down * dy)
      return start
    },
    { pointer: { keys: false } },
  )
  return (
    <div
      {...bind()}
      {...(label === undefined
        ? { 'aria-hidden': true }
        : {
            role: 'separator',
            'aria-orientation': 'horizontal',
            tabIndex: 0,
            'aria-label': label,
            'aria-valuenow': height,
            'aria-valuemin': limits.min,
            'aria-valuemax': limits.max,
          })}
      title="Drag up or down: height"
      className={`absolute inset-x-0 z-[1] h-2 cursor-row-resize touch-none hover:bg-oak/40 focus-visible:bg-oak/40 ${edge === 'top' ? '-top-0.5' : '-bottom-0.5'}`}
      onKeyDown={(e) => {
        const by = { ArrowDown: STEP * down, ArrowUp: -STEP * down }[e.key]
        if (!by) return
        e.preventDefault()
        e.stopPropagation()
        onHeight(shown() + by)
      }}
    />
  )
}
