import { rowIds } from '../../../core/model/strips'
import { memo, type MouseEvent, useCallback, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { sessionLength } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { hasThreads, parameterOfBead } from '../../../store/beads'
import { current } from '../../../store/current'
import { getPlayer } from '../../../store/playback/playback'
import { MANY, regionRows, shownSession } from '../../../store/selectors'
import { beadPicked, benchShown, rangeSet, ROW_HEIGHT, selected, viewChanged } from '../../../store/view'
import { useAppDispatch, useAppFields, useAppSelector, useAppStore, useSize } from '../../parts/hooks'
import { type Box, overLanes, regionAt, rowAt, visibleRows, xToFrame } from '../drawing/geometry'
import { lanesBelow } from '../drawing/open-lanes'
import { addKnotAt } from '../hands/add-knot'
import { beginDrag } from '../hands/begin-drag'
import type { TimelineContext } from '../hands/gesture-context'
import { setPointed, underPointer } from '../hands/pointed'
import type { Snapped } from '../hands/snap'
import { overPlane } from '../../parts/commands/arrow-moves'
import { OneStop } from '../../parts/commands/one-stop'
import { useDrags } from '../parts/threads/use-drags'
import { useFocusSeen, useShownWhole, useWheel } from '../parts/use-view'
import { ReadoutShown, say } from './gesture-readout'
import { MixLanes } from './mix-lanes'
import { MixFlags, OverloadFlags } from './overload-flags'
import { Playhead } from './playhead'
import { RegionsOnSheet } from './region-layer'
import { RegionMenu } from './region-menu'
import { threadPlacesOf } from './row-threads'
import { Ruler } from './ruler'
import { ChangedFlash } from './changed-flash'
import { LaneEdges } from './lane-edges'
import { SnapLine } from './snap-line'
import { Threads } from './thread-layer'
import { Picture } from './timeline-picture'

const sameNumbers = (a: readonly number[], b: readonly number[]) =>
  a.length === b.length && a.every((x, i) => x === b[i])

/** The middle of the editor: ruler, regions, threads, playhead, and the gestures on them. */
export const Timeline = memo(function Timeline({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const { selection, hand, bead, openLanes, rowHeight, rowHeights } = useAppFields(
    ({
      selection: { regionIds: selection, hand, bead },
      navigation: { openLanes, rowHeights },
      preferences: { rowHeight },
    }) => ({
      selection,
      hand,
      bead,
      openLanes,
      rowHeight,
      rowHeights,
    }),
  )
  const playing = useAppSelector((s) => s.transport.playing)
  const rows = useMemo(() => regionRows(session), [session])
  const selectedIds = useMemo(() => new Set(selection), [selection])
  const area = useRef<HTMLDivElement>(null)
  const [swept, setSwept] = useState<Box | null>(null)
  const [snapped, setSnapped] = useState<Snapped | null>(null)
  const caught = useRef<Snapped | null>(null)
  const showSnapped = useCallback((next: Snapped | null) => {
    // Nothing is caught for most of a drag: then the timeline need not be asked again.
    if (next !== caught.current) setSnapped((caught.current = next))
  }, [])
  const size = useSize(area)
  const length = sessionLength(session)

  const ids = rowIds(session)
  const below = useMemo(
    () =>
      rowIds(session).map((id) => lanesBelow(session, id, openLanes).reduce((sum, o) => sum + o.height, 0)),
    [session, openLanes],
  )
  const heights = useMemo(() => ids.map((id) => rowHeights[id] ?? rowHeight), [ids, rowHeight, rowHeights])
  useLayoutEffect(() => {
    const known = store.getState().navigation.view
    const wanted = {
      below: below.some((height) => height > 0) ? below : [],
      heights: heights.some((height) => height !== ROW_HEIGHT.first) ? heights : [],
    }
    if (!sameNumbers(wanted.below, known.below ?? [])) dispatch(viewChanged({ below: wanted.below }))
    if (!sameNumbers(wanted.heights, known.heights ?? [])) dispatch(viewChanged({ heights: wanted.heights }))
  }, [below, heights, dispatch, store])

  useShownWhole(session.id, size, length, rowIds(session).length)
  useWheel(area, length, rowIds(session).length)
  const onFocus = useFocusSeen(area, length, rowIds(session).length)

  /** What gestures work on, as it is when one begins. */
  const context = (): TimelineContext => {
    const root = store.getState()
    const { view } = root.navigation
    const session = shownSession(root)!
    return {
      dispatch,
      session,
      rows,
      state: root,
      view,
      lanes: current(root).lanes,
      places: threadPlacesOf(session, rows, visibleRows(view, rows.length), view, bead, openLanes),
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
    const { view } = store.getState().navigation
    const row = rowAt(view, y)
    const region = rows[row] && !overLanes(view, y) ? regionAt(rows[row], xToFrame(view, x)) : null
    if (!region)
      dispatch(
        selected({ regionIds: [], ...(rowIds(session)[row] ? { trackId: rowIds(session)[row] } : {}) }),
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
        const { view } = store.getState().navigation
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
      <OneStop area="ruler" className="shrink-0">
        <Ruler session={session} onSeek={seek} onSnapped={showSnapped} />
      </OneStop>
      <OneStop
        area="timeline"
        arrows={overPlane}
        within="[role='group'][data-region], [data-thread]"
        className="relative flex min-h-0 flex-1"
      >
        <RegionMenu>
          <div
            {...bind()}
            ref={area}
            data-testid="timeline"
            data-hand={hand}
            data-shapes={hasThreads(bead) && !parameterOfBead(bead)?.mix ? 'threads' : 'regions'}
            className={`apart relative min-h-0 min-w-0 flex-1 touch-none overflow-clip select-none ${hand !== 'point' ? 'cursor-crosshair' : ''}`}
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
            <OverloadFlags session={session} rows={rows} />
            <ReadoutShown width={size.width} height={size.height} />
            <LaneEdges session={session} />
            <ChangedFlash session={session} />
            {snapped && <SnapLine snapped={snapped} />}
            {swept && (
              <div
                className="pointer-events-none absolute border border-ink bg-oak/10"
                style={{ left: swept.x, top: swept.y, width: swept.width, height: swept.height }}
              />
            )}
          </div>
        </RegionMenu>
      </OneStop>
      {rowIds(session).length > 0 && (
        <OneStop
          area="mix"
          arrows={overPlane}
          within="[data-thread]"
          className="shrink-0 [@media(max-height:520px)]:hidden"
        >
          <MixFlags session={session} />
          <MixLanes session={session} />
        </OneStop>
      )}
      <Playhead playing={playing} length={length} />
    </div>
  )
})
