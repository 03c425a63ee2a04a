import { clamp } from '../../../core/units/clamp'

/**
 * How far an element can be offset to either side, and up or down (as far as thousands of rows reach), in
 * pixels. Powers of two, so that offsets are exact: browsers use 32-bit numbers, which leaves 1/8 of a pixel
 * at the farther end.
 */
const REACH = { along: 2 ** 15, down: 2 ** 20 }

/** The two animations that hold an element's offset. */
interface Move {
  animation: Animation
  at: number
}

const along = new WeakMap<Element, Move>()
const down = new WeakMap<Element, Move>()

/** Sets an animation's time; one millisecond is one pixel. */
function put(
  moves: WeakMap<Element, Move>,
  element: HTMLElement,
  to: number,
  reach: number,
  frames: (reach: number) => Keyframe[],
): void {
  const at = clamp(to, -reach, reach)
  let move = moves.get(element)
  if (!move) {
    const animation = element.animate(frames(reach), { duration: 2 * reach, fill: 'both' })
    animation.pause()
    moves.set(element, (move = { animation, at: NaN }))
  }
  if (move.at === at) return
  move.at = at
  move.animation.currentTime = at + reach
}

/**
 * Offsets an element to the right of its layout position. A paused animation holds it there: changing a style
 * would make the browser recompute the layers of the whole page on every frame.
 */
export const setOffsetX = (element: HTMLElement, x: number): void =>
  put(along, element, x, REACH.along, (reach) => [
    { transform: `translateX(${-reach}px)` },
    { transform: `translateX(${reach}px)` },
  ])

/** Offsets an element downwards; both offsets can be combined. */
export const setOffsetY = (element: HTMLElement, y: number): void =>
  put(down, element, y, REACH.down, (reach) => [
    { translate: `0 ${-reach}px` },
    { translate: `0 ${reach}px` },
  ])

/** Puts an upright line at so many pixels from the left of a clipped area, or out of sight. */
export function placeLine(line: HTMLElement | null, x: number, seen: boolean): void {
  if (line) setOffsetX(line, seen ? Math.round(x) : -REACH.along)
}
