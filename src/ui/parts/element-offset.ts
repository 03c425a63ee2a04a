/**
 * How far an element can be moved to either side, and up or down (as far as thousands of rows reach), in
 * pixels. Powers of two, so that places are exact: browsers count in 32 bits, which leaves parts of 1/8 of a
 * pixel of the farther one.
 */
const REACH = { along: 2 ** 15, down: 2 ** 20 }

/** What holds an element to the right of where it is laid out, and what below. */
interface Move {
  animation: Animation
  at: number
}

const along = new WeakMap<Element, Move>()
const down = new WeakMap<Element, Move>()

/** An animation's place: a millisecond of it is a pixel. */
function put(
  moves: WeakMap<Element, Move>,
  element: HTMLElement,
  to: number,
  reach: number,
  frames: (reach: number) => Keyframe[],
): void {
  const at = Math.max(-reach, Math.min(reach, to))
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
 * Puts an element so many pixels to the right of where it is laid out. It is held there by an animation that
 * stands still: a changed style would have the browser put together the layers of the whole page anew, on
 * every frame.
 */
export const moveTo = (element: HTMLElement, x: number): void =>
  put(along, element, x, REACH.along, (reach) => [
    { transform: `translateX(${-reach}px)` },
    { transform: `translateX(${reach}px)` },
  ])

/** The same downwards; an element may be moved both ways. */
export const moveDown = (element: HTMLElement, y: number): void =>
  put(down, element, y, REACH.down, (reach) => [
    { translate: `0 ${-reach}px` },
    { translate: `0 ${reach}px` },
  ])

/** Puts an upright line at so many pixels from the left of a clipped area, or out of sight. */
export function placeLine(line: HTMLElement | null, x: number, seen: boolean): void {
  if (line) moveTo(line, seen ? Math.round(x) : -REACH.along)
}
