import { useDrag } from '@use-gesture/react'
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type MouseEvent } from 'react'
import { insertKnot } from '../../../core/curve/knots'
import { shapeThread } from '../../../core/edit'
import { regionEnd, sessionLength } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import { commit } from '../../../store/edits'
import { getPlayer } from '../../../store/playback'
import { regionRows } from '../../../store/selectors'
import { knotsSelected, rangeSet, selected, viewChanged, type View } from '../../../store/view-slice'
import { preparedContext, useAppDispatch, useAppSelector, useFrame, useSize } from '../../parts/hooks'
import { setPointed } from '../pointed'
import { usePictures } from '../pictures'
import { RegionMenu } from '../region-menu'
import { drawTimeline } from './draw-timeline'
import { boundedView, frameToX, regionAt, regionBox, rowAt, soundBox, wholeFramesPerPixel, xToFrame, zoomedAbout, type Box } from './geometry'
import { fadeGesture, gainGesture, moveGesture, rangeGesture, sweepGesture, trimGesture, type Gesture } from './gestures'
import { Overlay } from './overlay'
import { RowTiles } from './row-tiles'
import { Ruler } from './ruler'
import { snapTargets, type Snapped } from './snap'
import { sessionToSource, stretchAt, yToHeight } from './thread-geometry'
import { knotGesture, plateauGesture, stretchGesture, type ThreadPlace } from './thread-gestures'
import { knotsOf, ThreadOverlay } from './thread-overlay'

/** A gesture in progress and the region it would single out if the pointer never moved. */
interface Drag {
  gesture: Gesture | null
  clicked: string | null
  cancelled: boolean
}

/** The middle of the editor: ruler, regions, playhead, and the gestures on them. */
export function Timeline({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const { pictures, version } = usePictures()
  const { view, selection, range, hand, trackId, bead, knots: chosenKnots, shoulderMs } = useAppSelector((s) => s.view)
  const [readout, setReadout] = useState<{ x: number; y: number; text: string } | null>(null)
  const playing = useAppSelector((s) => s.transport.playing)
  const rows = useMemo(() => regionRows(session), [session])
  const selectedIds = useMemo(() => new Set(selection), [selection])
  const area = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const [tiles] = useState(() => new RowTiles())
  const [swept, setSwept] = useState<Box | null>(null)
  const [snapped, setSnapped] = useState<Snapped | null>(null)
  const size = useSize(area)
  const length = sessionLength(session)

  useShownWhole(session.id, size, length, session.trackIds.length)
  useWheel(area, length, session.trackIds.length)

  useLayoutEffect(() => {
    if (!canvas.current || view.width === 0) return
    const ctx = preparedContext(canvas.current, view.width, view.height)
    if (ctx) drawTimeline(ctx, tiles, pictures, version, { session, rows, view, selection: selectedIds, range, pickedTrack: trackId })
  }, [session, rows, view, selectedIds, range, tiles, pictures, version, trackId])

  const current = useRef<Drag | null>(null)
  useEffect(() => {
    const onEscape = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !current.current?.gesture) return
      current.current.gesture.cancel()
      current.current.cancelled = true
      event.stopImmediatePropagation()
    }
    window.addEventListener('keydown', onEscape, true)
    return () => window.removeEventListener('keydown', onEscape, true)
  }, [])

  /** Shaping a region's gain thread, begun at a place; null where there is no region. */
  const threadGestureAt = (region: Region, handle: HTMLElement | null, x: number, y: number): Gesture => {
    const place: ThreadPlace = {
      region, knots: knotsOf(session, region), box: soundBox(regionBox(view, region, session.trackIds.indexOf(region.trackId))), framesPerPixel: view.framesPerPixel, sampleRate: session.sampleRate,
      say: (text) => setReadout(text === null ? null : { x, y, text }),
    }
    const frame = xToFrame(view, x)
    if (handle?.dataset.handle === 'knot') {
      const index = Number(handle.dataset.knot)
      const indices = chosenKnots?.regionId === region.id && chosenKnots.indices.includes(index) ? chosenKnots.indices : [index]
      dispatch(knotsSelected({ regionId: region.id, indices: [...indices] }))
      return knotGesture(dispatch, place, [index, ...indices.filter((i) => i !== index)].sort((a, b) => a - b))
    }
    if (handle?.dataset.handle === 'stretch') return stretchGesture(dispatch, place, stretchAt(place.knots, sessionToSource(region, frame)), frame)
    return plateauGesture(dispatch, place, frame, Math.round((shoulderMs / 1000) * session.sampleRate))
  }

  /** What a drag of a region, or of one of its handles, does. */
  const gestureOf = (kind: string | undefined, region: Region, moved: readonly string[], y: number): Gesture => {
    if (kind === 'gain') return gainGesture(dispatch, moved)
    if (kind === 'fade-in' || kind === 'fade-out') return fadeGesture(dispatch, moved, kind === 'fade-in' ? 'in' : 'out', view.framesPerPixel)
    const targets = snapTargets(session, new Set(moved), getPlayer()?.position() ?? 0, range)
    const place = { session, framesPerPixel: view.framesPerPixel, targets, show: setSnapped }
    if (kind === 'trim-start') return trimGesture(dispatch, place, moved, 'start', region.start)
    if (kind === 'trim-end') return trimGesture(dispatch, place, moved, 'end', regionEnd(region))
    return moveGesture(dispatch, place, moved, (dy) => rowAt(view, y + dy) - rowAt(view, y))
  }

  const begin = (event: PointerEvent): Drag => {
    const bounds = area.current!.getBoundingClientRect()
    const x = event.clientX - bounds.left
    const y = event.clientY - bounds.top
    const handle = (event.target as Element).closest<HTMLElement>('[data-handle]')
    const row = rowAt(view, y)
    const track = session.trackIds[row]
    if (hand === 'range') return { gesture: rangeGesture(dispatch, view, x, range), clicked: null, cancelled: false }
    const region = handle ? session.regions[handle.dataset.region!]! : row < rows.length && row >= 0 ? regionAt(rows[row]!, xToFrame(view, x)) : null
    if (!region) {
      const kept = event.shiftKey ? selection : []
      if (!event.shiftKey) dispatch(selected({ regionIds: [], ...(track ? { trackId: track } : {}) }))
      return { gesture: sweepGesture(dispatch, { view, rows, start: { x, y }, kept, show: setSwept }), clicked: null, cancelled: false }
    }
    const isSelected = selection.includes(region.id)
    const onThread = handle?.dataset.handle === 'knot' || handle?.dataset.handle === 'stretch'
    if (hand === 'plateau' || onThread) {
      if (!isSelected) dispatch(selected({ regionIds: [region.id], trackId: region.trackId }))
      return { gesture: threadGestureAt(region, hand === 'plateau' ? null : handle, x, y), clicked: null, cancelled: false }
    }
    if (event.shiftKey && !handle) {
      dispatch(selected({ regionIds: isSelected ? selection.filter((id) => id !== region.id) : [...selection, region.id] }))
      return { gesture: null, clicked: null, cancelled: false }
    }
    if (!isSelected) dispatch(selected({ regionIds: [region.id], trackId: region.trackId }))
    const moved = isSelected ? selection : [region.id]
    const kind = handle?.dataset.handle
    if (kind === 'alone') return { gesture: null, clicked: null, cancelled: false }
    return { gesture: gestureOf(kind, region, moved, y), clicked: kind ? null : region.id, cancelled: false }
  }

  const bind = useDrag<PointerEvent>(({ first, last, movement: [dx, dy], event, canceled, memo }) => {
    if (first) return (current.current = begin(event))
    const drag = memo as Drag
    if (!drag.gesture || drag.cancelled) return drag
    if (canceled) drag.gesture.cancel()
    else if (last) {
      if (Math.hypot(dx, dy) >= 2) drag.gesture.end()
      else if (drag.clicked) {
        drag.gesture.cancel()
        dispatch(selected({ regionIds: [drag.clicked], trackId: session.regions[drag.clicked]!.trackId }))
      } else if (hand === 'range') dispatch(rangeSet(null))
    } else if (Math.hypot(dx, dy) >= 2) drag.gesture.move({ dx, dy, x: 0, fine: event.altKey, shift: event.shiftKey })
    if (last || canceled) current.current = null
    return drag
  }, { pointer: { keys: false, buttons: 1 } })

  /** The menu is about what is under the pointer, unless that is selected already. */
  const selectForMenu = (event: MouseEvent<HTMLDivElement>) => {
    const bounds = area.current!.getBoundingClientRect()
    const row = rowAt(view, event.clientY - bounds.top)
    const region = rows[row] && regionAt(rows[row], xToFrame(view, event.clientX - bounds.left))
    if (!region) dispatch(selected({ regionIds: [], ...(session.trackIds[row] ? { trackId: session.trackIds[row] } : {}) }))
    else if (!selection.includes(region.id)) dispatch(selected({ regionIds: [region.id], trackId: region.trackId }))
  }

  const seek = useCallback((frame: number) => {
    getPlayer()?.seek(Math.min(Math.max(0, frame), length))
  }, [length])

  return (
    <div
      className="flex min-h-0 min-w-0 flex-1 flex-col"
      onPointerMove={(event) => {
        const x = event.clientX - area.current!.getBoundingClientRect().left
        const handle = (event.target as Element).closest<HTMLElement>('[data-handle],[data-region]')
        setPointed({ frame: Math.max(0, xToFrame(view, x)), over: handle?.dataset.handle ?? (handle ? 'region' : 'empty'), regionId: handle?.dataset.region ?? null })
      }}
      onPointerLeave={() => setPointed(null)}
    >
      <Ruler session={session} view={view} onSeek={seek} />
      <RegionMenu>
        <div
          {...bind()} ref={area} data-testid="timeline" className={`relative min-h-0 flex-1 touch-none overflow-hidden select-none ${hand !== 'point' ? 'cursor-crosshair' : ''}`}
          onContextMenu={selectForMenu}
          onDoubleClick={(event) => {
            if (bead !== 'gain-thread' || (event.target as Element).closest('[data-handle="knot"]')) return
            const bounds = area.current!.getBoundingClientRect()
            const [x, y] = [event.clientX - bounds.left, event.clientY - bounds.top]
            const row = rowAt(view, y)
            const region = rows[row] && regionAt(rows[row], xToFrame(view, x))
            if (!region) return
            const box = soundBox(regionBox(view, region, row))
            const onLine = (event.target as Element).closest('[data-handle="stretch"]') !== null
            const { knots, index } = insertKnot(knotsOf(session, region), Math.round(sessionToSource(region, xToFrame(view, x))), onLine ? undefined : yToHeight(box, y))
            if (dispatch(commit(shapeThread, { regionId: region.id, knots, what: 'Add knot in gain thread' }))) dispatch(knotsSelected({ regionId: region.id, indices: [index] }))
          }}
        >
          <canvas ref={canvas} className="absolute inset-0 block" style={{ width: view.width, height: view.height }} aria-hidden />
          <Overlay session={session} rows={rows} view={view} selection={selectedIds} />
          {bead === 'gain-thread' && <ThreadOverlay session={session} rows={rows} view={view} />}
          {readout && <span className="pointer-events-none absolute z-10 -translate-y-8 rounded bg-ink px-1.5 py-0.5 font-mono text-2xs whitespace-nowrap text-white" style={{ left: Math.min(readout.x, view.width - 150), top: Math.max(30, readout.y) }}>{readout.text}</span>}
          {snapped && (
            <div className="pointer-events-none absolute inset-y-0 w-px bg-madder" style={{ left: frameToX(view, snapped.frame) }}>
              <span className="absolute top-1 left-1.5 max-w-52 truncate rounded bg-madder px-1.5 py-0.5 text-2xs whitespace-nowrap text-white">{snapped.what}</span>
            </div>
          )}
          {swept && <div className="pointer-events-none absolute border border-ink bg-oak/10" style={{ left: swept.x, top: swept.y, width: swept.width, height: swept.height }} />}
        </div>
      </RegionMenu>
      <Playhead view={view} playing={playing} length={length} />
    </div>
  )
}

/** Shows the whole session when it is opened, and keeps the view's size up to date. */
function useShownWhole(id: string, size: { width: number; height: number }, length: number, rows: number): void {
  const dispatch = useAppDispatch()
  const view = useAppSelector((s) => s.view.view)
  const shown = useRef<string | null>(null)
  useLayoutEffect(() => {
    if (size.width === 0) return
    const sized: View = { ...view, ...size }
    const first = shown.current !== id || (view.framesPerPixel === 1024 && length > 0 && view.width !== size.width && view.left === 0)
    shown.current = id
    dispatch(viewChanged(boundedView(first && length > 0 ? { ...sized, left: 0, framesPerPixel: wholeFramesPerPixel(length, size.width) } : sized, length, rows)))
    // Only when the place or the session changes; scrolling has its own way.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id, size.width, size.height, rows, length > 0])
}

/** Wheel and trackpad: scroll, with Shift sideways, with Ctrl (or a pinch) zoom about the pointer. */
function useWheel(area: React.RefObject<HTMLDivElement | null>, length: number, rows: number): void {
  const dispatch = useAppDispatch()
  const view = useAppSelector((s) => s.view.view)
  const latest = useRef({ view, length, rows })
  useEffect(() => void (latest.current = { view, length, rows }))
  useEffect(() => {
    const element = area.current
    if (!element) return
    let wanted: View | null = null
    let frame = 0
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      const state = latest.current
      const from = wanted ?? state.view
      const unit = event.deltaMode === 1 ? 24 : 1
      const [dx, dy] = [event.deltaX * unit, event.deltaY * unit]
      if (event.ctrlKey || event.metaKey) {
        wanted = zoomedAbout(from, event.clientX - element.getBoundingClientRect().left, Math.exp(Math.max(-120, Math.min(120, dy)) * 0.004), state.length, state.rows)
      } else {
        const sideways = event.shiftKey ? dx + dy : dx
        wanted = boundedView({ ...from, left: from.left + sideways * from.framesPerPixel, top: from.top + (event.shiftKey ? 0 : dy) }, state.length, state.rows)
      }
      frame ||= requestAnimationFrame(() => {
        frame = 0
        if (wanted) dispatch(viewChanged(wanted))
        wanted = null
      })
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => {
      element.removeEventListener('wheel', onWheel)
      cancelAnimationFrame(frame)
    }
  }, [area, dispatch])
}

/** The playhead over ruler and regions; it follows the sound and, if wished, turns the page. */
function Playhead({ view, playing, length }: { view: View; playing: boolean; length: number }) {
  const line = useRef<HTMLDivElement>(null)
  const dispatch = useAppDispatch()
  const follow = useAppSelector((s) => s.view.follow)
  const rows = useAppSelector((s) => s.session.session?.trackIds.length ?? 0)
  useFrame(() => {
    const frame = getPlayer()?.position() ?? 0
    const x = frameToX(view, frame)
    if (line.current) {
      line.current.style.transform = `translateX(${Math.round(x)}px)`
      line.current.style.visibility = x >= 0 && x <= view.width ? 'visible' : 'hidden'
    }
    if (playing && follow && (x > view.width * 0.94 || x < 0)) dispatch(viewChanged(boundedView({ ...view, left: frame - view.width * 0.08 * view.framesPerPixel }, length, rows)))
  })
  return (
    <div className="pointer-events-none relative h-0" aria-hidden>
      <div ref={line} className="absolute bottom-0 left-0 w-px bg-ink" style={{ height: view.height + 12 }}>
        <span className="absolute -top-1 left-1/2 block -translate-x-1/2 border-x-6 border-t-8 border-x-transparent border-t-ink" />
      </div>
    </div>
  )
}
