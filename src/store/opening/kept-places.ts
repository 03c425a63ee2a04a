import * as z from 'zod/mini'
import { list } from '../../core/model/schema-fields'
import type { Store } from '../store'
import type { Place } from '../view'

const KEY = 'oaken-thread/places'

/** The places of so many sessions are kept, those used last. */
const MOST = 40

/** Milliseconds after the last movement at which a place is kept. */
const PAUSE = 400

const number = z.number().check(z.minimum(0))
const positive = z.number().check(z.positive())
const laneSchema = z.object({ trackId: z.nullable(z.string()), lane: z.string(), height: number })
const placeSchema = z.object({
  left: number,
  framesPerPixel: positive,
  top: number,
  openLanes: list(laneSchema, 1000),
  rowHeights: z._default(z.record(z.string(), number), {}),
  soundFactors: z._default(z.record(z.string(), positive), {}),
})

/** The places of sessions, by their ids; those that cannot be read are left out. */
function read(): Record<string, Place> {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Record<string, unknown>
    return Object.fromEntries(
      Object.entries(kept).flatMap(([id, place]) => {
        const parsed = placeSchema.safeParse(place)
        return parsed.success ? [[id, parsed.data]] : []
      }),
    )
  } catch {
    return {}
  }
}

/** Where a session was looked at last in this browser; null when that is not known. */
export const keptPlace = (id: string): Place | null => read()[id] ?? null

/** Keeps where the open session is looked at: zoom, scroll, and the opened lanes with their heights. */
export function startKeepingPlaces(store: Store): void {
  let timer: ReturnType<typeof setTimeout> | null = null
  const keep = () => {
    timer = null
    const {
      view: { left, framesPerPixel, top },
      openLanes,
      rowHeights,
      soundFactors,
      sessionId,
    } = store.getState().navigation
    if (sessionId === null) return
    const { [sessionId]: _, ...others } = read()
    const places = [
      ...Object.entries(others).slice(1 - MOST),
      [sessionId, { left, framesPerPixel, top, openLanes, rowHeights, soundFactors }],
    ]
    try {
      localStorage.setItem(KEY, JSON.stringify(Object.fromEntries(places)))
    } catch {
      // Storage is full or denied: places last as long as the page.
    }
  }
  let last = store.getState().navigation
  store.subscribe(() => {
    const { navigation } = store.getState()
    // The view of another session is set up, which is no movement of it.
    if (navigation.sessionId !== last.sessionId) {
      if (timer) clearTimeout(timer)
      timer = null
      last = navigation
      return
    }
    const moved =
      navigation.openLanes !== last.openLanes ||
      navigation.rowHeights !== last.rowHeights ||
      navigation.soundFactors !== last.soundFactors ||
      navigation.view.left !== last.view.left ||
      navigation.view.framesPerPixel !== last.view.framesPerPixel ||
      navigation.view.top !== last.view.top
    last = navigation
    if (!moved) return
    if (timer) clearTimeout(timer)
    timer = setTimeout(keep, PAUSE)
  })
  // What was moved a moment before the page goes is kept, too.
  globalThis.addEventListener?.('pagehide', () => {
    if (timer) clearTimeout(timer)
    if (timer) keep()
  })
}
