import { isBus, rowIds, rowOf } from '../../../core/model/strips'
import { FADER } from '../../../core/model/parameters'
import clsx from 'clsx'
import { AudioLines, Merge, Plus } from 'lucide-react'
import { Fragment, memo, useCallback, useRef, useState, type ReactNode } from 'react'
import { isAutomated, setParameter, setTrack, type TrackChange } from '../../../core/edit'
import { sessionLength } from '../../../core/model/queries'
import type { Bus, Session, Track } from '../../../core/model/session'

import { commit, preview } from '../../../store/edits'
import { headPicked, ROW_HEIGHT, rowHeightSet, type View } from '../../../store/view'
import { dyeClass } from '../../look/colours'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { alongHeads } from '../../parts/commands/arrow-moves'
import { OneStop } from '../../parts/commands/one-stop'
import { EditableName } from '../../parts/fields/editable-name'
import { HeightHandle } from '../../parts/height-handle'
import { Fader } from './fader'
import { HeadField } from './head-fields'
import { addTrackBelow, soloOnly, tracksMeant } from '../../../store/actions/track-actions'
import { MixHead } from './mix-head'
import { GroupSign } from './group-sign'
import { RowsMenu } from './rows-menu'
import { BusMenu } from './bus-menu'
import { TrackMenu } from './track-menu'
import { useReorder } from './use-reorder'
import { useSwitchSweep, wasSwept, type SwitchSweep } from './use-switch-sweep'
import { LaneHeads, LanesMenu } from './lane-heads'
import { lanesBelow } from '../drawing/open-lanes'
import { addBusInSight } from '../hands/add-bus'
import { sameLook } from '../../parts/rendering/same-look'
import { usePushed } from '../parts/threads/sheet'
import { useFocusSeen, useWheel } from '../parts/use-view'
import { headKind, rowHeight, rowTop, RULER_HEIGHT } from '../drawing/geometry'
import { Rows } from '../parts/rows'

const upwards = ({ top }: View) => ({ y: -top })

/**
 * The left rail: name, mute, solo, volume, pan and meter of every track. The meters are drawn by the page;
 * pass the same elements every time.
 */
export const Rail = memo(function Rail({
  session,
  trackMeters,
  mixMeter,
  onImport,
}: {
  session: Session
  trackMeters: ReactNode
  mixMeter: ReactNode
  onImport(): void
}) {
  const below = useAppSelector((s) => s.navigation.view.below)
  const heights = useAppSelector((s) => s.navigation.view.heights)
  const openLanes = useAppSelector((s) => s.navigation.openLanes)
  const rows = rowIds(session).length
  const dispatch = useAppDispatch()
  const soloed = rowIds(session).filter((id) => rowOf(session, id)!.soloed).length
  const pushed = useRef<HTMLDivElement>(null)
  usePushed(pushed, upwards)
  const box = useRef<HTMLDivElement>(null)
  useWheel(box, sessionLength(session), rows)
  const onFocus = useFocusSeen(box, sessionLength(session), rows)
  // Laid out from the top of all rows, and pushed along when the timeline scrolls. Tab finds the next track,
  // since it is there before it is seen.
  const layOut = useCallback(
    (row: number) => {
      const track = rowOf(session, rowIds(session)[row]!)!
      const laid = { top: 0, ...(below ? { below } : {}), ...(heights ? { heights } : {}) }
      const top = rowTop(laid, row)
      const height = rowHeight(laid, row)
      return (
        <Fragment key={track.id}>
          <TrackHead session={session} track={track} top={top} height={height} />
          <LaneHeads name={track.name} lanes={lanesBelow(session, track.id, openLanes)} top={top + height} />
        </Fragment>
      )
    },
    [session, below, heights, openLanes],
  )
  return (
    <aside className="apart flex w-52 shrink-0 border-r border-seam bg-cloth" aria-label="Tracks">
      <OneStop area="rail" arrows={alongHeads} className="flex min-w-0 flex-1 flex-col">
        <div
          className="flex shrink-0 items-center justify-between border-b border-seam pr-2 pl-3"
          style={{ height: RULER_HEIGHT }}
        >
          {soloed ? (
            <button
              type="button"
              title="All tracks are heard again"
              onClick={() => dispatch(soloOnly([]))}
              className="h-6 rounded-md bg-weld px-1.5 text-2xs font-semibold whitespace-nowrap text-on-weld hover:bg-weld/80"
            >
              Clear {soloed === 1 ? 'solo' : `${soloed} solos`}
            </button>
          ) : (
            <span className="text-xs whitespace-nowrap text-soft" title={rowsTitle(session)}>
              {rowsWords(session)}
            </span>
          )}
          <div className="flex items-center">
            <RowsMenu />
            <button
              type="button"
              aria-label="Add a track"
              title="Add an empty mono track at the end; its menu makes it stereo"
              onClick={() => dispatch(addTrackBelow(null, 1))}
              className="flex h-6 w-6 items-center justify-center rounded-md hover:bg-fold"
            >
              <Plus size={14} />
            </button>
            <button
              type="button"
              aria-label="Add a bus"
              title="Add a bus: tracks can go through it, or send some of their sound to it"
              onClick={() => dispatch(addBusInSight())}
              className="flex h-6 w-6 items-center justify-center rounded-md hover:bg-fold"
            >
              <Merge size={14} />
            </button>
            <button
              type="button"
              aria-label="Import…"
              title={soloed ? 'Import sound files' : undefined}
              onClick={onImport}
              className="inline-flex h-6 items-center gap-1 rounded-md px-1 text-xs font-medium hover:bg-fold"
            >
              <AudioLines size={14} />
              {soloed ? '' : 'Import…'}
            </button>
          </div>
        </div>
        <div ref={box} onFocus={onFocus} className="relative min-h-0 flex-1 overflow-clip">
          {trackMeters}
          <div ref={pushed} className="absolute inset-x-0 top-0 h-0 will-change-transform">
            <Rows trackIds={rowIds(session)} layOut={layOut} />
          </div>
        </div>
        {rows > 0 && <MixHead session={session} meter={mixMeter} />}
      </OneStop>
    </aside>
  )
})

const counted = (n: number, one: string, many: string) => `${n === 0 ? 'no' : n} ${n === 1 ? one : many}`

/** How many tracks there are, and buses: in words, and as short as there is room for. */
const rowsTitle = ({ trackIds, busIds }: Session) =>
  `${counted(trackIds.length, 'track', 'tracks')}, ${counted(busIds.length, 'bus', 'buses')}`
const rowsWords = ({ trackIds, busIds }: Session) =>
  busIds.length ? `${trackIds.length} + ${busIds.length}` : counted(trackIds.length, 'track', 'tracks')

interface HeadProps {
  session: Session
  track: Track
  top: number
  height: number
}

const TrackHead = memo(function TrackHead({ session, track, top, height }: HeadProps) {
  const dispatch = useAppDispatch()
  const trackIds = [track.id]
  const automated = isAutomated(session, { kind: 'lane', trackId: track.id, lane: FADER })
  const riding = useAppSelector((s) => s.listening.ride.mode !== 'off' && s.transport.playing)
  const chosen = useAppSelector((s) => s.selection.trackIds.includes(track.id))
  const leads = useAppSelector((s) => s.selection.lead.kind === 'tracks')
  const set = (change: TrackChange) => void dispatch(commit(setTrack, { trackIds, change }))
  const [menu, setMenu] = useState(false)
  const kind = headKind(height)
  const switches = (
    <>
      <Switch
        letter="M"
        label={`Mute ${track.name}`}
        on={track.muted}
        sweep={{ trackId: track.id, key: 'muted' }}
        dye="bg-ink text-white border-ink"
        onClick={() => set({ muted: !track.muted })}
      />
      <Switch
        letter="S"
        label={`Solo ${track.name}`}
        on={track.soloed}
        sweep={{ trackId: track.id, key: 'soloed' }}
        dye="bg-weld text-on-weld border-weld"
        onClick={(alone) => (alone ? void dispatch(soloOnly([track.id])) : set({ soloed: !track.soloed }))}
      />
    </>
  )
  const order = useReorder(track.id, session.id)
  const isBusRow = isBus(session, track.id)
  return (
    <section
      aria-label={track.name}
      onPointerDown={(e) => {
        // The menu of one of several selected heads is for them all.
        if (e.button !== 0 && chosen) return
        dispatch(headPicked({ trackId: track.id, add: e.shiftKey || e.ctrlKey || e.metaKey }))
      }}
      tabIndex={0}
      onContextMenu={(e) => {
        e.preventDefault()
        setMenu(true)
      }}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' || e.target !== e.currentTarget) return
        // It leads; a further Enter opens its value as a field.
        e.stopPropagation()
        dispatch(headPicked({ trackId: track.id, add: e.shiftKey || e.ctrlKey || e.metaKey }))
      }}
      aria-current={chosen || undefined}
      data-head
      data-lead
      data-seen-whole
      className={clsx(
        'absolute inset-x-0 flex flex-col overflow-clip border-b border-fold pr-2.5 pl-4',
        isBusRow && 'bg-fold/35',
        kind === 'line' ? 'pt-px' : kind === 'flat' && 'pt-0.5',
        // Meters are drawn below the heads, so nothing may cover them.
        chosen && `inset-ring-2 ${leads ? 'inset-ring-oak' : 'inset-ring-seam'}`,
      )}
      style={{ top, height }}
    >
      <span className={`absolute inset-y-0 left-0 w-1.5 ${dyeClass[track.colour]}`} aria-hidden />
      <span
        {...order.bind()}
        data-testid={`order-${track.id}`}
        title="Drag up or down: order of the tracks"
        aria-hidden
        className="absolute inset-y-0 left-0 w-3.5 cursor-grab touch-none active:cursor-grabbing"
      />
      {order.byRows !== 0 && (
        <span
          aria-hidden
          className="pointer-events-none absolute inset-x-0 z-10 h-1 bg-oak"
          style={{ top: order.lineAt - top - 2 }}
        />
      )}
      <div className="flex items-center gap-0.5">
        <EditableName
          name={track.name}
          label={`Name of ${track.name}`}
          className="h-6 min-w-0 flex-1 truncate text-sm leading-6 font-semibold"
          onName={(name) => set({ name })}
        />
        {isBusRow && <span className="shrink-0 rounded bg-fold px-1 text-2xs text-soft">bus</span>}
        <GroupSign trackId={track.id} />
        {kind === 'line' && switches}
        {kind !== 'line' && <LanesMenu session={session} track={track} />}
        {isBusRow ? (
          <BusMenu bus={track as Bus} open={menu} onOpen={setMenu} />
        ) : (
          <TrackMenu track={track} open={menu} onOpen={setMenu} />
        )}
      </div>
      {kind !== 'line' && (
        <div className="flex items-center gap-1.5">
          {switches}
          <HeadField
            session={session}
            trackId={track.id}
            parameterKey="volume"
            label={`Volume of ${track.name}`}
            riding={riding}
            className="ml-auto w-[4.6rem]"
          />
          <HeadField
            session={session}
            trackId={track.id}
            parameterKey="pan"
            label={`Pan of ${track.name}`}
            riding={riding}
            className="w-11"
          />
        </div>
      )}
      {kind === 'full' && (
        <div
          className="self-start"
          onPointerDown={(e) => {
            e.stopPropagation()
            dispatch(headPicked({ trackId: track.id, bead: FADER }))
          }}
        >
          <Fader
            trackId={track.id}
            name={track.name}
            volumeDb={track.volumeDb}
            automated={automated}
            riding={riding}
            onTry={(value) => dispatch(preview(setParameter, { key: FADER, trackIds, value }))}
            onDb={(value) => void dispatch(commit(setParameter, { key: FADER, trackIds, value }))}
          />
        </div>
      )}
      <HeightHandle
        label={`Height of ${track.name}`}
        height={height}
        limits={ROW_HEIGHT}
        edge="bottom"
        onHeight={(to) =>
          dispatch((d, getState) =>
            d(rowHeightSet({ trackIds: tracksMeant(getState(), track.id), height: to })),
          )
        }
      />
    </section>
  )
}, sameHead)

/** A head depends on its track alone. */
function sameHead(a: HeadProps, b: HeadProps): boolean {
  return (
    sameLook(a.track, b.track) && a.session.id === b.session.id && a.top === b.top && a.height === b.height
  )
}

/**
 * Mute or solo of a track. Pressed and swept over those of other tracks, all get what the first one got; with Alt a solo
 * is the only one.
 */
function Switch({
  letter,
  label,
  on,
  sweep,
  dye,
  onClick,
}: {
  letter: string
  label: string
  on: boolean
  sweep: SwitchSweep
  dye: string
  onClick(alone: boolean): void
}) {
  const begin = useSwitchSweep()
  return (
    <button
      type="button"
      aria-label={label}
      title={
        sweep.key === 'soloed'
          ? `${label}; sweep over several, Alt: only this`
          : `${label}; sweep over several`
      }
      aria-pressed={on}
      data-switch={`${sweep.key} ${sweep.trackId}`}
      onPointerDown={(e) => begin(e, sweep, !on)}
      // After a sweep the click is what ended it.
      onClick={(e) => !wasSwept() && onClick(e.altKey)}
      className={clsx(
        'h-6 w-6 shrink-0 rounded-md border text-xs font-bold',
        on ? dye : 'border-seam bg-linen hover:bg-white',
      )}
    >
      {letter}
    </button>
  )
}
