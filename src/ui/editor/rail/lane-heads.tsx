import { Spline, X } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { memo, useMemo } from 'react'
import {
  isAutomated,
  isBypassed,
  isOutOfDate,
  laneKeysOf,
  setLanesBypassed,
  stripOf,
} from '../../../core/edit'
import { useThrottledSelector } from '../../parts/rendering/throttled-selector'
import { commit } from '../../../store/edits'
import { findCommonParameter, findParameter, parameterOf, sendOfLane } from '../../../core/model/parameters'
import { rowOf } from '../../../core/model/strips'
import type { Session, Track } from '../../../core/model/session'
import { LANE_HEIGHT, laneHeightSet, lanePicked, lanesToggled, type OpenLane } from '../../../store/view'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { HeightHandle } from '../../parts/height-handle'
import { shownSession } from '../../../store/selectors'
import { useLiveValue } from '../parts/fields/use-live-value'
import { unlessInDialog } from '../../parts/focus-return'

/** The look of what opens lanes: whether any is open, and whether any moves its value. */
export const lanesSwitch = (open: boolean, moves: boolean) =>
  'flex h-6 w-6 shrink-0 items-center justify-center rounded-md border hover:bg-white ' +
  `${open ? 'border-oak bg-oak text-white hover:text-ink' : moves ? 'border-walnut' : 'border-transparent text-soft'}`

/** What a lane is called in the menu and at its head; nothing for one that its strip no longer has. */
function laneNameOf(session: Session, trackId: string | null, lane: string): string {
  const strip = stripOf(session, trackId)
  const parameter = strip && findParameter(strip, lane)
  if (!strip || !parameter) return ''
  const send = sendOfLane(strip, lane)
  return send ? `Send to ${rowOf(session, send.to)?.name ?? ''}` : parameter.laneName
}

/** The sign of a lane that is bypassed: its thread, crossed out. */
function Bypassed({ label }: { label: string }) {
  return (
    <span className="relative" role="img" aria-label={label}>
      <Spline size={13} className="opacity-60" />
      <span className="absolute inset-x-[-2px] top-1/2 h-0.5 -rotate-45 rounded bg-current" />
    </span>
  )
}

/** What the last line of the menu does; `whole` says that it is about all lanes. */
const allWords = (open: boolean, whole: boolean) =>
  whole ? (open ? 'Close all' : 'Open all') : open ? 'Close these' : 'Open volume, pan and what moves'

/** Opens and closes the lanes of a track below it. */
export function LanesMenu({ session, track }: { session: Session; track: Track }) {
  const dispatch = useAppDispatch()
  const openLanes = useAppSelector((s) => s.navigation.openLanes)
  const keys = laneKeysOf(session, track.id)
  const isOpen = (lane: string) => openLanes.some((o) => o.trackId === track.id && o.lane === lane)
  const refs = keys.map((lane) => ({ kind: 'lane' as const, trackId: track.id, lane }))
  const any = refs.some((ref) => isAutomated(session, ref))
  const bypassed = refs.filter((ref) => isBypassed(session, ref))
  // Inserts have many: of theirs, those that do something.
  const usual = keys.filter((lane) => findCommonParameter(lane) ?? (track.lanes[lane]?.knots.length ?? 0) > 0)
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`Lanes of ${track.name}`}
        title={
          bypassed.length
            ? `Open lanes below the track. Bypassed: ${bypassed.map((ref) => parameterOf(track, ref.lane).words).join(', ')}`
            : 'Open lanes below the track'
        }
        className={lanesSwitch(keys.some(isOpen), any || bypassed.length > 0)}
      >
        {bypassed.length > 0 ? (
          <Bypassed label={`A lane of ${track.name} is bypassed`} />
        ) : (
          <Spline size={13} />
        )}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          onCloseAutoFocus={unlessInDialog}
          align="start"
          sideOffset={4}
          className="z-50 max-h-[80vh] overflow-auto rounded-xl border border-seam bg-white p-1.5 text-sm shadow-lg"
        >
          {keys.map((lane) => (
            <DropdownMenu.CheckboxItem
              key={lane}
              checked={isOpen(lane)}
              onCheckedChange={() => dispatch(lanesToggled({ trackId: track.id, lanes: [lane] }))}
              className="flex cursor-pointer items-center gap-2 rounded-lg px-2.5 py-1.5 outline-none data-highlighted:bg-linen"
            >
              <span className="w-3">{isOpen(lane) ? '✓' : ''}</span>
              {laneNameOf(session, track.id, lane)}
              {isAutomated(session, { kind: 'lane', trackId: track.id, lane }) && (
                <span className="text-xs text-soft">automated</span>
              )}
              {isBypassed(session, { kind: 'lane', trackId: track.id, lane }) && (
                <span className="text-xs text-soft">bypassed</span>
              )}
            </DropdownMenu.CheckboxItem>
          ))}
          <DropdownMenu.Separator className="my-1 h-px bg-fold" />
          <DropdownMenu.Item
            onSelect={() => dispatch(lanesToggled({ trackId: track.id, lanes: usual }))}
            className="cursor-pointer rounded-lg px-2.5 py-1.5 outline-none data-highlighted:bg-linen"
          >
            {allWords(usual.every(isOpen), usual.length === keys.length)}
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

/** The heads of the lanes opened below a track. */
export function LaneHeads({ name, lanes, top }: { name: string; lanes: readonly OpenLane[]; top: number }) {
  return lanes.map((open, i) => (
    <LaneHead
      key={open.lane}
      open={open}
      name={name}
      top={top + lanes.slice(0, i).reduce((sum, o) => sum + o.height, 0)}
    />
  ))
}

const LaneHead = memo(function LaneHead({ open, name, top }: { open: OpenLane; name: string; top: number }) {
  const dispatch = useAppDispatch()
  const { trackId, lane, height } = open
  const value = useLiveValue(useMemo(() => [{ kind: 'lane', trackId, lane }], [trackId, lane]))
  const laneName = useAppSelector((s) => {
    const session = shownSession(s)
    return session ? laneNameOf(session, trackId, lane) : ''
  })
  const what = `${laneName} lane of ${name}`
  const outOfDate = useThrottledSelector((s) => {
    const session = shownSession(s)
    const giveWay = session && stripOf(session, trackId)?.lanes[lane]?.giveWay
    return giveWay !== null && giveWay !== undefined && isOutOfDate(session!, giveWay)
  })
  const bypassed = useAppSelector((s) => {
    const session = shownSession(s)
    return session !== null && isBypassed(session, { kind: 'lane', trackId, lane })
  })
  return (
    <div
      role="group"
      aria-label={what}
      onPointerDown={(e) => {
        e.stopPropagation()
        dispatch(lanePicked({ kind: 'lane', trackId, lane }))
      }}
      className="absolute inset-x-0 flex flex-col justify-center border-b border-fold bg-fold/40 pr-2.5 pl-6"
      style={{ top, height }}
    >
      <div className="flex items-center gap-2 text-xs">
        <span className="min-w-0 flex-1 truncate">{laneName}</span>
        {bypassed && (
          <button
            type="button"
            title="The lane is bypassed: it does not act. Press to let it act again"
            onPointerDown={(e) => e.stopPropagation()}
            onClick={() =>
              dispatch(
                commit(setLanesBypassed, { lanes: [{ kind: 'lane', trackId, lane }], bypassed: false }),
              )
            }
            className="rounded border border-dashed border-walnut px-1 text-2xs hover:bg-white"
          >
            bypassed
          </button>
        )}
        {outOfDate && (
          <span
            title="What this lane gives way to has changed: recalculate it on the bench"
            className="rounded bg-fold px-1 text-2xs"
          >
            out of date
          </span>
        )}
        <span ref={value} className={`font-mono ${bypassed ? 'opacity-50' : ''}`} />
        <button
          type="button"
          aria-label={`Close the ${what}`}
          title="Close the lane"
          onClick={() => dispatch(lanesToggled({ trackId, lanes: [lane] }))}
          className="flex h-6 w-6 items-center justify-center rounded hover:bg-white"
        >
          <X size={12} />
        </button>
      </div>
      <HeightHandle
        label={`Height of the ${what}`}
        height={height}
        limits={LANE_HEIGHT}
        edge="bottom"
        onHeight={(to) => dispatch(laneHeightSet({ ...open, height: to }))}
      />
    </div>
  )
})
