import { useCallback, useLayoutEffect, useMemo, useRef, useState, type MouseEvent } from 'react'
import { laneKeysOf } from '../../../core/edit'
import { sessionLength } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import { getPlayer } from '../../../store/playback'
import { regionRows } from '../../../store/selectors'
import { beadPicked, benchShown, rangeSet, selected, threadBeads, type Bead, type View } from '../../../store/view-slice'
import { preparedContext, useAppDispatch, useAppSelector, useSize } from '../../parts/hooks'
import { setPointed } from '../pointed'
import { usePictures } from '../pictures'
import { useCorrelations } from '../use-relations'
import { RegionMenu } from '../region-menu'
import { addKnotAt, beginDrag, MANY, type Ground } from './begin'
import { drawTimeline } from './draw-timeline'
import { frameToX, regionAt, ROW_HEIGHT, rowAt, visibleRegions, visibleRows, xToFrame, type Box } from './geometry'
import { Joins } from './joins'
import { Overlay } from './overlay'
import { OverloadFlags } from './overload-flags'
import { Playhead } from './playhead'
import { RowTiles } from './row-tiles'
import { SeamMarks } from './seam-marks'
import { Ruler } from './ruler'
import type { Snapped } from './snap'
import { lanePlace, regionPlace, type ThreadPlace } from './thread-place'
import { ThreadOverlay } from './thread-overlay'
import { useDrags } from './use-drags'
import { useShownWhole, useWheel } from './use-view'

/** The threads that the picked bead shows on the visible rows. */
function threadPlaces(session: Session, rows: readonly (readonly Region[])[], view: View, bead: Bead): ThreadPlace[] {
  if (!threadBeads.includes(bead)) return []
  const { first, last } = visibleRows(view, rows.length)
  const places: ThreadPlace[] = []
  for (let row = first; row < last; row++) {
    const trackId = session.trackIds[row]!
    if (bead === 'mix') continue
    if (bead !== 'gain-thread') {
      const y = row * ROW_HEIGHT - view.top
      for (const lane of laneKeysOf(session, trackId)) if ((lane === 'volume') === (bead === 'volume')) places.push(lanePlace(session, view, trackId, lane, y))
      continue
    }
    const seen = visibleRegions(rows[row]!, view)
    for (const region of rows[row]!.slice(seen.first, seen.last)) if (region.length / view.framesPerPixel >= 4) places.push(regionPlace(session, view, region, row))
  }
  return places
}

/** The middle of the editor: ruler, regions, threads, playhead, and the gestures on them. */
export function Timeline({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const { pictures, version } = usePictures()
  const state = useAppSelector((s) => s.view)
  const { view, selection, range, hand, trackId, bead, timeScale } = state
  const [readout, setReadout] = useState<{ x: number; y: number; text: string } | null>(null)
  const playing = useAppSelector((s) => s.transport.playing)
  const rows = useMemo(() => regionRows(session), [session])
  const selectedIds = useMemo(() => new Set(selection), [selection])
  const places = useMemo(() => threadPlaces(session, rows, view, bead), [session, rows, view, bead])
  const correlations = useCorrelations(session)
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
    if (ctx) drawTimeline(ctx, tiles, pictures, version, { session, rows, view, selection: selectedIds, range, pickedTrack: trackId, timeScale, correlations })
  }, [session, rows, view, selectedIds, range, tiles, pictures, version, trackId, timeScale, correlations])

  // While many regions are dragged together, their pictures move and their handles wait for the end.
  const base = useAppSelector((s) => s.session.base)
  const still = base && selection.length > MANY ? base : session
  const stillRows = useMemo(() => regionRows(still), [still])
  const ground: Ground = { dispatch, session, rows, state, view, places, showSwept: setSwept, showSnapped: setSnapped, say: setReadout }
  const at = (event: { clientX: number; clientY: number }): [number, number] => {
    const bounds = area.current!.getBoundingClientRect()
    return [event.clientX - bounds.left, event.clientY - bounds.top]
  }

  const bind = useDrags((event) => beginDrag(ground, event, ...at(event)), () => hand === 'range' && dispatch(rangeSet(null)))

  /** The menu is about what is under the pointer, unless that is selected already. */
  const selectForMenu = (event: MouseEvent<HTMLDivElement>) => {
    const [x, y] = at(event)
    const row = rowAt(view, y)
    const region = rows[row] && regionAt(rows[row], xToFrame(view, x))
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
        const [x, y] = at(event)
        const handle = (event.target as Element).closest<HTMLElement>('[data-handle],[data-region]')
        const row = rowAt(view, y)
        const regionId = handle?.dataset.region ?? (rows[row] && y >= 0 ? regionAt(rows[row], xToFrame(view, x))?.id : undefined) ?? null
        setPointed({ frame: Math.max(0, xToFrame(view, x)), over: handle?.dataset.handle ?? (handle ? 'region' : 'empty'), regionId })
      }}
      onPointerLeave={() => setPointed(null)}
    >
      <Ruler session={session} view={view} onSeek={seek} />
      <RegionMenu>
        <div
          {...bind()} ref={area} data-testid="timeline" className={`relative min-h-0 flex-1 touch-none overflow-hidden select-none ${hand !== 'point' ? 'cursor-crosshair' : ''}`}
          onContextMenu={selectForMenu} onDoubleClick={(event) => {
            if (places.length > 0) addKnotAt(ground, event.target as Element, ...at(event))
            else if ((event.target as Element).closest('[data-region]') && !(event.target as Element).closest('[data-handle]')) {
              // A region is opened in the bench, with its gain thread to be shaped.
              dispatch(benchShown(true))
              dispatch(beadPicked('gain-thread'))
            }
          }}
        >
          <canvas ref={canvas} className="absolute inset-0 block" style={{ width: view.width, height: view.height }} aria-hidden />
          <Overlay session={still} rows={stillRows} view={view} selection={selectedIds} />
          <Joins session={still} rows={stillRows} view={view} />
          <SeamMarks session={session} view={view} />
          <OverloadFlags session={session} view={view} />
          {places.length > 0 && <ThreadOverlay places={places} view={view} sampleRate={session.sampleRate} label={bead === 'gain-thread' ? 'Gain threads' : bead === 'volume' ? 'Volume lanes' : 'Pan lanes'} />}
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
