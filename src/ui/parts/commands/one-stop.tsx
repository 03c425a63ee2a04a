import { useRef, type FocusEvent, type HTMLAttributes, type KeyboardEvent, type ReactNode } from 'react'

/** What Tab finds. */
const STOPS =
  'button:not(:disabled), a[href], input:not(:disabled), select:not(:disabled), textarea:not(:disabled), [tabindex]'

const isStop = (element: HTMLElement) =>
  element.tabIndex >= 0 && element.dataset.guard === undefined && element.getClientRects().length > 0

/** All that Tab would find in an element, in order. */
export const stopsIn = (root: ParentNode): HTMLElement[] =>
  [...root.querySelectorAll<HTMLElement>(STOPS)].filter(isStop)

/**
 * Where arrow keys lead from a stop: another one, null where there is none further that way, or "own" where the key is the
 * stop's own or the editor's. `walking` says that arrow keys led to the stop, and nothing was done there since.
 */
export type ArrowMove = (
  from: HTMLElement,
  key: ArrowKey,
  stops: () => HTMLElement[],
  walking: boolean,
) => HTMLElement | 'own' | null

export type ArrowKey = 'ArrowLeft' | 'ArrowRight' | 'ArrowUp' | 'ArrowDown'

/** Whether arrow keys are a stop's own; those of a value that was merely walked to are not, so that a walk changes nothing. */
export const takesArrows = (stop: HTMLElement, walking: boolean): boolean =>
  stop.matches('[data-keeps-arrows], [data-typed]') ||
  (!walking && stop.matches('input, select, textarea, [role="slider"], [role="separator"]'))

/** Arrow keys of a bar: to the stop before or after; up and down are the editor's. */
export const alongBar: ArrowMove = (from, key, stops, walking) => {
  if (takesArrows(from, walking)) return 'own'
  if (key === 'ArrowUp' || key === 'ArrowDown') return walking && takesArrows(from, false) ? null : 'own'
  const all = stops()
  return all[all.indexOf(from) + (key === 'ArrowRight' ? 1 : -1)] ?? null
}

const isPlainArrow = (event: KeyboardEvent) =>
  event.key.startsWith('Arrow') && !event.ctrlKey && !event.metaKey && !event.altKey && !event.shiftKey

/**
 * An area of the screen that is one stop for Tab: arrow keys move inside (see `alongBar`), Tab leaves it, and coming
 * back finds the place that was left. A walk by arrow keys changes nothing: a fader, a field or a knot that it came to is
 * taken hold of with Enter, then arrow keys change it. `within` names the things inside that have stops of their own (such as the handles
 * of a selected region), which Tab goes through before it leaves. F6 goes from area to area.
 */
export function OneStop({
  area,
  arrows = alongBar,
  within,
  children,
  ...rest
}: {
  area: string
  arrows?: ArrowMove
  within?: string
  children: ReactNode
} & HTMLAttributes<HTMLDivElement>) {
  const root = useRef<HTMLDivElement>(null)
  const last = useRef<HTMLElement | null>(null)
  const guards = useRef<[HTMLSpanElement | null, HTMLSpanElement | null]>([null, null])
  /** The stop to which arrow keys led, until something is done there. */
  const walkedTo = useRef<HTMLElement | null>(null)
  const walk = (event: KeyboardEvent, from: HTMLElement) => {
    const to = arrows(from, event.key as ArrowKey, () => stopsIn(root.current!), walkedTo.current === from)
    if (to === 'own') return
    event.preventDefault()
    event.stopPropagation()
    if (!to) return
    to.focus()
    walkedTo.current = to
  }
  const onKeyDownCapture = (event: KeyboardEvent) => {
    const from = event.target as HTMLElement
    if (walkedTo.current !== from) return
    if (isPlainArrow(event)) return walk(event, from)
    if (event.key !== 'Enter' && event.key !== ' ') return
    walkedTo.current = null
    if (event.key === ' ' || !takesArrows(from, false)) return
    event.preventDefault()
    event.stopPropagation()
  }
  const onKeyDown = (event: KeyboardEvent) => {
    rest.onKeyDown?.(event as KeyboardEvent<HTMLDivElement>)
    const from = event.target as HTMLElement
    // What is opened from here (menus, dialogs) lies elsewhere in the page, yet its keys are told here, too.
    if (event.defaultPrevented || !root.current?.contains(from)) return
    if (event.key === 'Tab') {
      const item = within === undefined ? null : from.closest<HTMLElement>(within)
      if (item) {
        const own = [...(isStop(item) ? [item] : []), ...stopsIn(item)]
        const next = own[own.indexOf(from) + (event.shiftKey ? -1 : 1)]
        if (next) {
          event.preventDefault()
          return next.focus()
        }
      }
      // The browser goes on from the edge of the area.
      guards.current[event.shiftKey ? 0 : 1]?.focus({ preventScroll: true })
      return
    }
    if (isPlainArrow(event)) walk(event, from)
  }
  const onFocus = (event: FocusEvent) => {
    rest.onFocus?.(event as FocusEvent<HTMLDivElement>)
    const to = event.target as HTMLElement
    if (!root.current?.contains(to) || to.dataset.guard !== undefined) return
    const from = event.relatedTarget as HTMLElement | null
    const back = last.current
    last.current = to
    walkedTo.current = null
    const entered = from !== null && !root.current.contains(from)
    if (
      entered &&
      back &&
      back !== to &&
      to.matches(':focus-visible') &&
      root.current.contains(back) &&
      isStop(back)
    )
      back.focus()
  }
  return (
    <div
      {...rest}
      ref={root}
      data-area={area}
      onKeyDownCapture={onKeyDownCapture}
      onKeyDown={onKeyDown}
      onPointerDownCapture={() => void (walkedTo.current = null)}
      onFocus={onFocus}
    >
      <span
        ref={(e) => void (guards.current[0] = e)}
        tabIndex={-1}
        data-guard=""
        className="absolute outline-none"
      />
      {children}
      <span
        ref={(e) => void (guards.current[1] = e)}
        tabIndex={-1}
        data-guard=""
        className="absolute outline-none"
      />
    </div>
  )
}

/** The areas of the screen, in the order of the page. */
const areas = () =>
  [...document.querySelectorAll<HTMLElement>('[data-area]')].filter((a) => a.getClientRects().length > 0)

/** Moves the focus to the next area of the screen, or to the one before. */
export function toNextArea(direction: 1 | -1): void {
  const all = areas()
  const now = document.activeElement?.closest<HTMLElement>('[data-area]')
  const at = now ? all.indexOf(now) : direction === 1 ? -1 : 0
  for (let step = 1; step <= all.length; step++) {
    const area = all[(at + direction * step + all.length * 2) % all.length]!
    // What leads in the area, else what is most of it, else its first stop.
    const stop = ['[aria-current="true"][tabindex="0"]', '[data-lead]']
      .map((what) => area.querySelector<HTMLElement>(what))
      .find((found) => found && isStop(found))
    const first = stop ?? stopsIn(area)[0]
    if (!first) continue
    first.focus()
    return
  }
}
