import {
  Fragment,
  memo,
  useCallback,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type MouseEvent,
} from 'react'
import { parameterOf } from '../../../core/model/parameters'
import { sessionLength } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import { isTrackBead, lanesAt, type Bead } from '../../../store/beads'
import { getPlayer } from '../../../store/playback'
import { MANY, regionRows, shownSession } from '../../../store/selectors'
import {
  beadPicked,
  benchShown,
  rangeSet,
  selected,
  viewChanged,
  type OpenLane,
  type View,
} from '../../../store/view-slice'
import {
  preparedContext,
  useAppDispatch,
  useAppFields,
  useAppSelector,
  useAppStore,
  useObservable,
  useSize,
} from '../../parts/hooks'
import { setPointed, underPointer } from '../hands/pointed'
import { MixLanes } from './mix-lanes'
import { runIdleTasks } from '../../parts/idle-tasks'
import { usePictures } from '../parts/use-pictures'
import { useCorrelations } from '../parts/use-relations'
import { RegionMenu } from './region-menu'
import { useSeams } from '../parts/seam-watch'
import { useSounding } from '../parts/use-sounding'
import { addKnotAt } from '../hands/add-knot'
import { beginDrag } from '../hands/begin-drag'
import { type TimelineContext } from '../hands/gesture-context'
import { lanesBelow } from '../drawing/open-lanes'
import { drawAhead, drawTimeline } from '../drawing/draw-timeline'
import {
  frameToX,
  overLanes,
  regionAt,
  ROW_HEIGHT,
  rowAt,
  rowTop,
  SHEET_STEP,
  visibleRegions,
  visibleRows,
  xToFrame,
  type Box,
} from '../drawing/geometry'
import { Joins } from './joins'
import { Overlay } from './overlay'
import { OverloadFlags } from './overload-flags'
import { Playhead } from './playhead'
import { ReadoutShown, say } from './gesture-readout'
import { RowTiles } from '../drawing/row-tiles'
import { Rows } from '../parts/rows'
import { Ruler } from './ruler'
import { Sheet, useSheet } from '../parts/sheet'
import type { Snapped } from '../hands/snap'
import { lanePlace, regionPlace, type ThreadPlace } from '../drawing/thread-place'
import { LaneTags } from './lane-tags'
import { ThreadOverlay } from '../parts/thread-overlay'
import { gainTrial } from '../drawing/gain-trial'
import { useDrags } from '../parts/use-drags'
import { useFocusSeen, useShownWhole, useWheel } from '../parts/use-view'

/** The threads of a row: those that the picked bead shows over its regions, and the lanes that are opened below. */
function threadPlaces(
  session: Session,
  regions: readonly Region[],
  row: number,
  view: View,
  bead: Bead,
  openLanes: readonly OpenLane[],
): ThreadPlace[] {
  const places: ThreadPlace[] = []
  const trackId = session.trackIds[row]!
  const top = rowTop(view, row)
  const opened = lanesBelow(session, trackId, openLanes)
  let y = top + ROW_HEIGHT
  for (const { lane, height } of opened) {
    places.push(lanePlace(session, view, trackId, lane, y, height, true))
    y += height
  }
  if (bead === 'gain-thread') {
    const seen = visibleRegions(regions, view)
    for (const region of regions.slice(seen.first, seen.last))
      if (region.length / view.framesPerPixel >= 4) places.push(regionPlace(session, view, region, row))
  } else
    for (const lane of lanesAt(session, trackId, bead))
      if (!opened.some((o) => o.lane === lane)) places.push(lanePlace(session, view, trackId, lane, top))
  return places
}

/** The same of all rows from one to before another. */
const threadPlacesOf = (
  session: Session,
  rows: readonly (readonly Region[])[],
  { first, last }: { first: number; last: number },
  view: View,
  bead: Bead,
  openLanes: readonly OpenLane[],
) =>
  rows
    .slice(first, last)
    .flatMap((regions, i) => threadPlaces(session, regions, first + i, view, bead, openLanes))

/** The picture below the handles, redrawn whenever the view, the session or the waveform data changes. */
const Picture = memo(function Picture() {
  const session = useSounding()
  const rows = useMemo(() => regionRows(session), [session])
  const { pictures, version } = usePictures()
  const { view, selection, range, trackId, timeScale } = useAppFields(
    ({ view: { view, selection, range, trackId, timeScale } }) => ({
      view,
      selection,
      range,
      trackId,
      timeScale,
    }),
  )
  const selectedIds = useMemo(() => new Set(selection), [selection])
  const correlations = useCorrelations(session)
  const { clicks } = useSeams()
  const trial = useObservable(gainTrial)
  const canvas = useRef<HTMLCanvasElement>(null)
  const [tiles] = useState(() => new RowTiles())
  const [went] = useState({ top: 0, down: true })
  useLayoutEffect(() => {
    if (!canvas.current || view.width === 0) return
    const ctx = preparedContext(canvas.current, view.width, view.height)
    if (!ctx) return
    const picture = {
      session,
      rows,
      view,
      selection: selectedIds,
      range,
      pickedTrack: trackId,
      timeScale,
      correlations,
      clicks,
      trial,
    }
    drawTimeline(ctx, tiles, pictures, version, picture)
    if (view.top !== went.top) Object.assign(went, { top: view.top, down: view.top > went.top })
    return runIdleTasks((all) => drawAhead(tiles, pictures, version, picture, went.down, all))
  }, [
    session,
    rows,
    view,
    selectedIds,
    range,
    tiles,
    pictures,
    version,
    trackId,
    timeScale,
    correlations,
    clicks,
    trial,
    went,
  ])
  return (
    <canvas
      ref={canvas}
      className="absolute inset-0 block will-change-transform"
      style={{ width: view.width, height: view.height }}
      aria-hidden
    />
  )
})

/** The middle of the editor: ruler, regions, threads, playhead, and the gestures on them. */
export const Timeline = memo(function Timeline({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const { selection, hand, bead, openLanes } = useAppFields(
    ({ view: { selection, hand, bead, openLanes } }) => ({ selection, hand, bead, openLanes }),
  )
  const playing = useAppSelector((s) => s.transport.playing)
  const rows = useMemo(() => regionRows(session), [session])
  const selectedIds = useMemo(() => new Set(selection), [selection])
  const area = useRef<HTMLDivElement>(null)
  const [swept, setSwept] = useState<Box | null>(null)
  const [snapped, setSnapped] = useState<Snapped | null>(null)
  const caught = useRef<Snapped | null>(null)
  const showSnapped = (next: Snapped | null) => {
    // Nothing is caught for most of a drag: then the timeline need not be asked again.
    if (next !== caught.current) setSnapped((caught.current = next))
  }
  const size = useSize(area)
  const length = sessionLength(session)

  const below = useMemo(
    () =>
      session.trackIds.map((id) => lanesBelow(session, id, openLanes).reduce((sum, o) => sum + o.height, 0)),
    [session, openLanes],
  )
  useLayoutEffect(() => {
    const known = store.getState().view.view.below ?? []
    const wanted = below.some((height) => height > 0) ? below : []
    if (wanted.length !== known.length || wanted.some((height, i) => height !== known[i]))
      dispatch(viewChanged({ below: wanted }))
  }, [below, dispatch, store])

  useShownWhole(session.id, size, length, session.trackIds.length)
  useWheel(area, length, session.trackIds.length)
  const onFocus = useFocusSeen(area, length, session.trackIds.length)

  /** What gestures work on, as it is when one begins. */
  const context = (): TimelineContext => {
    const root = store.getState()
    const state = root.view
    const session = shownSession(root)!
    return {
      dispatch,
      session,
      rows,
      state,
      view: state.view,
      places: threadPlacesOf(
        session,
        rows,
        visibleRows(state.view, rows.length),
        state.view,
        bead,
        openLanes,
      ),
      showSwept: setSwept,
      showSnapped,
      say,
    }
  }
  const at = (event: { clientX: number; clientY: number }): [number, number] => {
    const bounds = area.current!.getBoundingClientRect()
    return [event.clientX - bounds.left, event.clientY - bounds.top]
  }

  const bind = useDrags(
    (event) => beginDrag(context(), event, ...at(event)),
    () => hand === 'range' && dispatch(rangeSet(null)),
  )

  /** Selects what is under the pointer for the menu, unless it is selected already. */
  const selectForMenu = (event: MouseEvent<HTMLDivElement>) => {
    const [x, y] = at(event)
    const { view } = store.getState().view
    const row = rowAt(view, y)
    const region = rows[row] && !overLanes(view, y) ? regionAt(rows[row], xToFrame(view, x)) : null
    if (!region)
      dispatch(
        selected({ regionIds: [], ...(session.trackIds[row] ? { trackId: session.trackIds[row] } : {}) }),
      )
    else if (!selection.includes(region.id))
      dispatch(selected({ regionIds: [region.id], trackId: region.trackId }))
  }

  const seek = useCallback(
    (frame: number) => {
      getPlayer()?.seek(Math.min(Math.max(0, frame), length))
    },
    [length],
  )

  return (
    <div
      className="apart flex min-h-0 min-w-0 flex-1 flex-col"
      onPointerMove={(event) => {
        const [x, y] = at(event)
        const { view } = store.getState().view
        // While a hand drags, what it began on stays what it is about.
        if (event.buttons !== 0) {
          const pointed = underPointer.get()
          if (pointed && selection.length <= MANY)
            setPointed({ ...pointed, frame: Math.max(0, xToFrame(view, x)) })
          return
        }
        const handle = (event.target as Element).closest<HTMLElement>('[data-handle],[data-region]')
        const row = rowAt(view, y)
        const regionId =
          handle?.dataset.region ??
          (rows[row] && y >= 0 && !overLanes(view, y)
            ? regionAt(rows[row], xToFrame(view, x))?.id
            : undefined) ??
          null
        setPointed({
          frame: Math.max(0, xToFrame(view, x)),
          over: handle?.dataset.handle ?? (handle ? 'region' : 'empty'),
          regionId,
        })
      }}
      onPointerLeave={() => setPointed(null)}
    >
      <Ruler session={session} onSeek={seek} />
      <RegionMenu>
        <div
          {...bind()}
          ref={area}
          data-testid="timeline"
          className={`apart relative min-h-0 flex-1 touch-none overflow-clip select-none ${hand !== 'point' ? 'cursor-crosshair' : ''}`}
          onFocus={onFocus}
          onContextMenu={selectForMenu}
          onDoubleClick={(event) => {
            if (addKnotAt(context(), event.target as Element, ...at(event))) return
            if (
              (event.target as Element).closest('[data-region]') &&
              !(event.target as Element).closest('[data-handle]')
            ) {
              // A region is opened in the bench, with its gain thread to be shaped.
              dispatch(benchShown(true))
              dispatch(beadPicked('gain-thread'))
            }
          }}
        >
          <Picture />
          <RegionsOnSheet session={session} rows={rows} selection={selectedIds} />
          <Threads rows={rows} />
          <OverloadFlags session={session} />
          <ReadoutShown width={size.width} height={size.height} />
          {snapped && <SnapLine snapped={snapped} />}
          {swept && (
            <div
              className="pointer-events-none absolute border border-ink bg-oak/10"
              style={{ left: swept.x, top: swept.y, width: swept.width, height: swept.height }}
            />
          )}
        </div>
      </RegionMenu>
      {session.trackIds.length > 0 && <MixLanes session={session} />}
      <Playhead playing={playing} length={length} />
    </div>
  )
})

/**
 * Rows of threads rendered beyond the visible ones: each thread is a layer, and many layers slow everything
 * down.
 */
const THREADS_AHEAD = 9

/** How the threads over the tracks are called; null where a bead shows none. */
const threadsLabel = (bead: Bead): string | null =>
  bead === 'gain-thread' ? 'Gain threads' : isTrackBead(bead) ? `${parameterOf(bead).name} lanes` : null

/** The handles of regions, laid out on a sheet. */
const RegionsOnSheet = memo(function RegionsOnSheet({
  session,
  rows,
  selection,
}: {
  session: Session
  rows: readonly (readonly Region[])[]
  selection: ReadonlySet<string>
}) {
  const sheet = useSheet(undefined, SHEET_STEP / 2)
  const layOut = useCallback(
    (row: number) => (
      <Fragment key={session.trackIds[row]}>
        <Overlay session={session} regions={rows[row]!} row={row} view={sheet} selection={selection} />
        <Joins session={session} regions={rows[row]!} row={row} view={sheet} />
      </Fragment>
    ),
    [session, rows, sheet, selection],
  )
  return (
    <Sheet sheet={sheet}>
      <Rows trackIds={session.trackIds} beyond={ROW_HEIGHT / 3} layOut={layOut} />
    </Sheet>
  )
})

/** The threads, on their own sheet; only they depend on the knots of lanes. */
const Threads = memo(function Threads({ rows }: { rows: readonly (readonly Region[])[] }) {
  const sheet = useSheet()
  const session = useAppSelector(shownSession)!
  const { bead, openLanes } = useAppFields(({ view: { bead, openLanes } }) => ({ bead, openLanes }))
  const seen = useAppFields(({ view: { view } }) => visibleRows(view, rows.length))
  const layOut = useCallback(
    (row: number, inSight: boolean) => (
      <ThreadOverlay
        key={session.trackIds[row]}
        inSight={inSight}
        places={threadPlaces(session, rows[row]!, row, sheet, bead, openLanes)}
        view={sheet}
        sampleRate={session.sampleRate}
      />
    ),
    [session, rows, sheet, bead, openLanes],
  )
  const tagged = useMemo(
    () =>
      bead === 'gain-thread' && openLanes.length === 0
        ? []
        : threadPlacesOf(session, rows, seen, sheet, bead, openLanes).filter((p) => p.tag),
    [session, rows, seen, sheet, bead, openLanes],
  )
  const label = threadsLabel(bead)
  if (label === null && openLanes.length === 0) return null
  return (
    <>
      <Sheet sheet={sheet}>
        <div role="group" aria-label={label ?? 'Opened lanes'}>
          <Rows
            trackIds={session.trackIds}
            beyond={(ROW_HEIGHT * 2) / 3}
            ahead={THREADS_AHEAD}
            layOut={layOut}
          />
        </div>
      </Sheet>
      {tagged.length > 0 && <LaneTags places={tagged} sheet={sheet} />}
    </>
  )
})

/** The line at what a dragged thing snaps to. */
function SnapLine({ snapped }: { snapped: Snapped }) {
  const view = useAppSelector((s) => s.view.view)
  return (
    <div
      className="pointer-events-none absolute inset-y-0 w-px bg-madder"
      style={{ left: frameToX(view, snapped.frame) }}
    >
      <span className="absolute top-1 left-1.5 max-w-52 truncate rounded bg-madder px-1.5 py-0.5 text-2xs whitespace-nowrap text-white">
        {snapped.what}
      </span>
    </div>
  )
}
