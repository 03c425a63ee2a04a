/** How far an element can be moved to either side, in pixels. A power of two, so that places are exact. */
const REACH = 32768

const moves = new WeakMap<Element, { animation: Animation; x: number }>()

/**
 * Puts an element so many pixels to the right of where it is laid out. It is held there by an animation that stands still: a changed style would have
 * the browser put together the layers of the whole page anew, on every frame.
 */
export function moveTo(element: HTMLElement, x: number): void {
  const to = Math.max(-REACH, Math.min(REACH, x))
  let move = moves.get(element)
  if (!move) {
    const animation = element.animate([{ transform: `translateX(${-REACH}px)` }, { transform: `translateX(${REACH}px)` }], { duration: 2 * REACH, fill: 'both' })
    animation.pause()
    moves.set(element, (move = { animation, x: NaN }))
  }
  if (move.x === to) return
  move.x = to
  // A millisecond of it is a pixel.
  move.animation.currentTime = to + REACH
}

/** Puts an upright line at so many pixels from the left, or hides it. */
export function placeLine(line: HTMLElement | null, x: number, seen: boolean): void {
  if (!line) return
  if (seen) moveTo(line, Math.round(x))
  const visibility = seen ? 'visible' : 'hidden'
  if (line.style.visibility !== visibility) line.style.visibility = visibility
}
