import { takesArrows, type ArrowKey, type ArrowMove } from './one-stop'

const horizontal = (key: ArrowKey) => key === 'ArrowLeft' || key === 'ArrowRight'

/**
 * Arrow keys over things that lie on a plane: to the nearest one in that direction; along a row before any other. A thing
 * that is selected keeps the arrow keys for itself, unless it was merely walked to: they change it.
 */
export const overPlane: ArrowMove = (from, key, stops, walking) => {
  if (takesArrows(from, walking) || (!walking && from.closest('[data-selected]'))) return 'own'
  const at = from.getBoundingClientRect()
  const middle = { x: (at.left + at.right) / 2, y: (at.top + at.bottom) / 2 }
  let best: HTMLElement | null = null
  let least = Infinity
  for (const stop of stops()) {
    if (stop === from || from.contains(stop)) continue
    const box = stop.getBoundingClientRect()
    // What lies in the same row overlaps in height.
    const inRow = box.top < at.bottom - 4 && box.bottom > at.top + 4
    const [dx, dy] = [box.left - at.left, (box.top + box.bottom) / 2 - middle.y]
    const ahead = { ArrowLeft: -dx, ArrowRight: dx, ArrowUp: -dy, ArrowDown: dy }[key]
    if (ahead <= 1 || inRow !== horizontal(key)) continue
    const aside = horizontal(key) ? 0 : Math.max(0, box.left - middle.x, middle.x - box.right)
    const distance = ahead + aside * 2
    if (distance < least) [best, least] = [stop, distance]
  }
  return best
}

/**
 * Arrow keys in the rail: up and down from head to head, or from a control to the same one of the next head; left and
 * right along the controls of a head. A head that is selected keeps up and down, unless it was merely walked to: they change
 * its value.
 */
export const alongHeads: ArrowMove = (from, key, stops, walking) => {
  if (takesArrows(from, walking)) return 'own'
  const head = from.closest<HTMLElement>('[data-head]')
  const all = stops()
  if (!head) {
    if (horizontal(key)) return all[all.indexOf(from) + (key === 'ArrowRight' ? 1 : -1)] ?? null
    return key === 'ArrowDown' ? (all.find((s) => s.dataset.head !== undefined) ?? null) : null
  }
  const inside = (of: HTMLElement) => [of, ...all.filter((s) => s !== of && of.contains(s))]
  const own = inside(head)
  if (horizontal(key)) return own[own.indexOf(from) + (key === 'ArrowRight' ? 1 : -1)] ?? null
  if (!walking && from === head && head.getAttribute('aria-current') === 'true') return 'own'
  const heads = all.filter((s) => s.dataset.head !== undefined)
  const next = heads[heads.indexOf(head) + (key === 'ArrowDown' ? 1 : -1)]
  if (!next) return null
  const label = (of: HTMLElement, owner: HTMLElement) =>
    (of.getAttribute('aria-label') ?? '').replace(owner.getAttribute('aria-label') ?? '', '')
  return inside(next).find((s) => s !== next && label(s, next) === label(from, head) && from !== head) ?? next
}
