import clsx from 'clsx'
import { Play } from 'lucide-react'
import { memo, useEffect, useRef, useState, type KeyboardEvent } from 'react'
import { fadeGain } from '../../../core/curve/fade'
import {
  changeClipGain,
  resetClipGain,
  setFade,
  trimRegions,
  type Edit,
  type FadeEdge,
} from '../../../core/edit'
import { regionEnd } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import { showDb, showLength, showTime } from '../../../core/units/typed'
import { isTrackBead } from '../../../store/beads'
import { commit } from '../../../store/edits'
import { hearAlone } from '../../../store/playback'
import type { Thunk } from '../../../store/store'
import { selected, type View } from '../../../store/view-slice'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { FAR, HEM_HEIGHT, regionBox, visibleRegions } from '../drawing/geometry'

/** Narrower regions show no handles; zoom in to reach them. */
const HANDLE_WIDTH = 26

/**
 * With more regions in a row, only the one under the pointer or the focus, and a few selected ones, have all
 * their handles.
 */
const CROWD = 16
const FEW = 30

/**
 * What can be grabbed and focused above the picture of a row: regions, their hems and fade handles. Drags are
 * the timeline's.
 */
export function Overlay({
  session,
  regions,
  row,
  view,
  selection,
}: {
  session: Session
  regions: readonly Region[]
  row: number
  view: View
  selection: ReadonlySet<string>
}) {
  const { first, last } = visibleRegions(regions, view)
  const crowded = last - first > CROWD
  return regions.slice(first, last).map((region, i) => {
    const box = regionBox(view, region, row)
    const left = Math.max(-FAR, box.x)
    const right = Math.min(FAR, box.x + box.width)
    const [before, after] = [regions[first + i - 1], regions[first + i + 1]]
    return (
      <RegionHandles
        key={region.id}
        region={region}
        beat={(60 / session.tempo[0]!.bpm) * session.sampleRate}
        rate={session.sampleRate}
        trackName={session.tracks[region.trackId]!.name}
        selected={selection.has(region.id)}
        left={left}
        top={box.y}
        width={right - left}
        height={box.height}
        wide={box.width >= HANDLE_WIDTH}
        complete={!crowded || (selection.size <= FEW && selection.has(region.id))}
        crossedIn={before ? Math.max(0, regionEnd(before) - region.start) / view.framesPerPixel : 0}
        crossedOut={after ? Math.max(0, regionEnd(region) - after.start) / view.framesPerPixel : 0}
        framesPerPixel={view.framesPerPixel}
        boxX={box.x - left}
        fadeInX={box.x - left + (region.fadeIn?.length ?? 0) / view.framesPerPixel}
        fadeOutX={box.x + box.width - left - (region.fadeOut?.length ?? 0) / view.framesPerPixel}
      />
    )
  })
}

/** Applies an edit to all selected regions if the given one is among them, else to that one alone. */
const commitWith =
  <Args extends { regionIds: readonly string[] }>(
    regionId: string,
    edit: Edit<Args>,
    args: Omit<Args, 'regionIds'>,
  ): Thunk =>
  (dispatch, getState) => {
    const { selection } = getState().view
    dispatch(
      commit(edit, {
        ...args,
        regionIds: selection.includes(regionId) ? selection : [regionId],
      } as unknown as Args),
    )
  }

/** Room for the longest tags of lanes at the left end of what is seen, in pixels. */
const TAG_ROOM: Readonly<Record<string, number>> = { volume: 66, pan: 118 }
const WIDEST_TAG = 118

interface HandlesProps {
  region: Region
  rate: number
  trackName: string
  selected: boolean
  left: number
  top: number
  width: number
  height: number
  wide: boolean
  /** Whether all handles are there even while the pointer and the focus are elsewhere. */
  complete: boolean
  fadeInX: number
  fadeOutX: number
  /** Frames of a beat. */
  beat: number
  /** How wide a crossfade is that takes the edge, in pixels; 0 without. */
  crossedIn: number
  crossedOut: number
  framesPerPixel: number
  boxX: number
}

const RegionHandles = memo(function RegionHandles({
  region,
  rate,
  trackName,
  selected: isSelected,
  left,
  top,
  width,
  height,
  wide,
  complete,
  fadeInX,
  fadeOutX,
  beat,
  crossedIn,
  crossedOut,
  framesPerPixel,
  boxX,
}: HandlesProps) {
  const dispatch = useAppDispatch()
  const [pointed, setPointed] = useState(false)
  const [focused, setFocused] = useState(false)
  const all = wide && (complete || pointed || focused)
  const button = useRef<HTMLButtonElement>(null)
  const group = useRef<HTMLDivElement>(null)
  const lanesOver = useAppSelector((s) => (isTrackBead(s.view.bead) ? s.view.bead : null))
  // The button that plays the region stands where its seen part begins, after the tag of a lane that lies over it.
  useEffect(() => {
    const timeline = group.current?.closest('[data-testid="timeline"]')
    if (!button.current || !group.current || !timeline || !(pointed || focused)) return
    button.current.style.left = `${Math.max(12, Math.min(width - 32, timeline.getBoundingClientRect().left - group.current.getBoundingClientRect().left + (lanesOver === null ? 12 : (TAG_ROOM[lanesOver] ?? WIDEST_TAG))))}px`
  }, [pointed, focused, width, lanesOver])
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'Enter' && event.target === event.currentTarget)
      dispatch(selected({ regionIds: [region.id], trackId: region.trackId }))
  }
  const onGainKey = (event: KeyboardEvent) => {
    const step = { ArrowUp: 1, ArrowDown: -1 }[event.key]
    if (step) {
      event.preventDefault()
      event.stopPropagation()
      dispatch(commitWith(region.id, changeClipGain, { byDb: step * (event.altKey ? 0.1 : 1) }))
    } else if (event.key === 'Backspace') {
      event.preventDefault()
      event.stopPropagation()
      dispatch(commitWith(region.id, resetClipGain, {}))
    }
  }
  return (
    <div
      role="group"
      tabIndex={0}
      data-region={region.id}
      onKeyDown={onKeyDown}
      ref={group}
      onPointerEnter={() => setPointed(true)}
      onPointerLeave={() => setPointed(false)}
      onFocus={() => setFocused(true)}
      onBlur={() => setFocused(false)}
      className="group/region absolute"
      aria-label={`${region.name}, ${trackName}, at ${showTime(region.start, rate)}, ${showLength(region.length, rate)} long, clip gain ${showDb(region.clipGainDb)}${isSelected ? ', selected' : ''}`}
      style={{ left, top, width: Math.max(2, width), height }}
    >
      {wide && (
        <div
          role="slider"
          tabIndex={isSelected ? 0 : -1}
          data-handle="gain"
          data-region={region.id}
          aria-label={`Clip gain of ${region.name}`}
          aria-orientation="vertical"
          aria-valuemin={-72}
          aria-valuemax={36}
          aria-valuenow={region.clipGainDb}
          aria-valuetext={showDb(region.clipGainDb)}
          onKeyDown={onGainKey}
          className="absolute inset-x-0 bottom-0 cursor-ns-resize rounded-sm hover:ring-1 hover:ring-ink/60 hover:ring-inset"
          style={{ height: HEM_HEIGHT }}
        />
      )}
      {all && (
        <>
          {!region.locked && (
            <TrimHandle
              edge="start"
              crossed={crossedIn}
              region={region}
              rate={rate}
              shown={isSelected}
              beat={beat}
            />
          )}
          {!region.locked && (
            <TrimHandle
              edge="end"
              crossed={crossedOut}
              region={region}
              rate={rate}
              shown={isSelected}
              beat={beat}
            />
          )}
          {width > 70 && (
            <button
              ref={button}
              type="button"
              tabIndex={isSelected ? 0 : -1}
              data-handle="alone"
              data-region={region.id}
              aria-label={`Hear ${region.name} alone`}
              title="Hear alone (A)"
              onClick={() => dispatch(hearAlone(region.id))}
              className="absolute flex h-5 w-5 items-center justify-center rounded-full border border-transparent text-transparent group-focus-within/region:border-walnut group-focus-within/region:bg-linen group-focus-within/region:text-walnut group-hover/region:border-walnut group-hover/region:bg-linen group-hover/region:text-walnut hover:bg-walnut! hover:text-white!"
              style={{ bottom: HEM_HEIGHT + 4, left: 12 }}
            >
              <Play size={10} fill="currentColor" />
            </button>
          )}
          {!crossedIn && (
            <BendHandle
              edge="in"
              region={region}
              shown={isSelected}
              framesPerPixel={framesPerPixel}
              boxX={boxX}
              height={height - HEM_HEIGHT}
              width={width}
            />
          )}
          {!crossedOut && (
            <BendHandle
              edge="out"
              region={region}
              shown={isSelected}
              framesPerPixel={framesPerPixel}
              boxX={boxX}
              height={height - HEM_HEIGHT}
              width={width}
            />
          )}
          {!crossedIn && (
            <FadeHandle edge="in" x={fadeInX} region={region} rate={rate} shown={isSelected} width={width} />
          )}
          {!crossedOut && (
            <FadeHandle
              edge="out"
              x={fadeOutX}
              region={region}
              rate={rate}
              shown={isSelected}
              width={width}
            />
          )}
        </>
      )}
    </div>
  )
})

/**
 * An edge of a region, which leaves the middle of a crossfade free: dragging hides or shows sound; arrow keys
 * move it by a beat, with Alt by a millisecond.
 */
function TrimHandle({
  edge,
  crossed,
  region,
  rate,
  shown,
  beat,
}: {
  edge: 'start' | 'end'
  crossed: number
  region: Region
  rate: number
  shown: boolean
  beat: number
}) {
  const dispatch = useAppDispatch()
  const at = edge === 'start' ? region.start : region.start + region.length
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    if (!step) return
    event.preventDefault()
    event.stopPropagation()
    dispatch(
      commitWith(region.id, trimRegions, {
        edge,
        byFrames: step * Math.round(event.altKey ? rate / 1000 : beat),
      }),
    )
  }
  return (
    <div
      role="slider"
      tabIndex={shown ? 0 : -1}
      data-handle={`trim-${edge}`}
      data-region={region.id}
      onKeyDown={onKeyDown}
      aria-label={`${edge === 'start' ? 'Start' : 'End'} of ${region.name}`}
      aria-valuemin={0}
      aria-valuemax={Math.round((at + region.length) / rate)}
      aria-valuenow={Math.round(at / rate)}
      aria-valuetext={showTime(at, rate)}
      className={clsx(
        'absolute z-[2] cursor-col-resize touch-none rounded-sm hover:bg-ink/25',
        edge === 'start' ? 'left-0' : 'right-0',
      )}
      style={{ top: 16, bottom: HEM_HEIGHT, width: crossed ? Math.max(3, Math.min(8, crossed / 3)) : 8 }}
    />
  )
}

/**
 * Visible only while the pointer or the focus is on its region. (Hidden and not transparent: thousands of
 * layers would be slow.)
 */
const ONLY_NEAR = 'invisible group-focus-within/region:visible group-hover/region:visible'

function FadeHandle({
  edge,
  x,
  region,
  rate,
  shown,
  width,
}: {
  edge: FadeEdge
  x: number
  region: Region
  rate: number
  shown: boolean
  width: number
}) {
  const dispatch = useAppDispatch()
  const fade = edge === 'in' ? region.fadeIn : region.fadeOut
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    const inwards = edge === 'in' ? 1 : -1
    if (step)
      dispatch(
        commitWith(region.id, setFade, {
          edge,
          change: { byFrames: step * inwards * Math.round(rate * (event.altKey ? 0.001 : 0.02)) },
        }),
      )
    else if (event.key === 'Backspace' || event.key === 'Delete')
      dispatch(commitWith(region.id, setFade, { edge, change: { lengthFrames: 0 } }))
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  if (x < -12 || x > width + 12) return null
  const length = fade?.length ?? 0
  return (
    <div
      role="slider"
      tabIndex={shown ? 0 : -1}
      data-handle={`fade-${edge}`}
      data-region={region.id}
      onKeyDown={onKeyDown}
      aria-label={`Fade ${edge} of ${region.name}`}
      aria-valuemin={0}
      aria-valuemax={Math.round((region.length / rate) * 1000)}
      aria-valuenow={Math.round((length / rate) * 1000)}
      aria-valuetext={fade ? showLength(length, rate) : 'none'}
      className="absolute -top-0.5 -ml-2.5 h-5 w-5 cursor-ew-resize touch-none"
      style={{ left: Math.min(width - 7, Math.max(7, x)) }}
    >
      <span
        className={clsx(
          'absolute top-1 left-1.25 block h-2.5 w-2.5 rounded-full border-2 border-walnut bg-linen',
          !fade && !shown && ONLY_NEAR,
        )}
      />
    </div>
  )
}

/** The curve of a fade: dragging it bends it; the handle in its middle does so by arrow keys too. */
function BendHandle({
  edge,
  region,
  shown,
  framesPerPixel,
  boxX,
  height,
  width,
}: {
  edge: FadeEdge
  region: Region
  shown: boolean
  framesPerPixel: number
  boxX: number
  height: number
  width: number
}) {
  const dispatch = useAppDispatch()
  const fade = edge === 'in' ? region.fadeIn : region.fadeOut
  if (!fade || fade.kind !== 'gain') return null
  const pixels = fade.length / framesPerPixel
  if (pixels < 14) return null
  const outer = edge === 'in' ? boxX : boxX + region.length / framesPerPixel
  const sign = edge === 'in' ? 1 : -1
  const point = (u: number): [number, number] => [
    outer + sign * pixels * u,
    height - fadeGain(fade, u) * height,
  ]
  const path = Array.from({ length: 25 }, (_, i) => point(i / 24))
    .map(([x, y], i) => `${i ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`)
    .join('')
  const [x, y] = point(0.5)
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowUp: -1, ArrowDown: 1 }[event.key]
    if (step)
      dispatch(
        commitWith(region.id, setFade, {
          edge,
          change: {
            bend: Math.max(
              -1,
              Math.min(1, Math.round((fade.bend + step * (event.altKey ? 0.01 : 0.1)) * 100) / 100),
            ),
          },
        }),
      )
    else if (event.key === 'Backspace')
      dispatch(commitWith(region.id, setFade, { edge, change: { bend: 0 } }))
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <>
      <svg
        className="pointer-events-none absolute inset-0 overflow-hidden"
        width={width}
        height={height}
        aria-hidden
      >
        <path
          d={path}
          fill="none"
          stroke="transparent"
          strokeWidth={10}
          data-handle={`bend-${edge}`}
          data-region={region.id}
          className="pointer-events-auto cursor-ns-resize"
        />
      </svg>
      {x > 0 && x < width && (
        <div
          role="slider"
          tabIndex={shown ? 0 : -1}
          data-handle={`bend-${edge}`}
          data-region={region.id}
          onKeyDown={onKeyDown}
          aria-orientation="vertical"
          aria-label={`Bend of the fade ${edge} of ${region.name}`}
          aria-valuemin={-100}
          aria-valuemax={100}
          aria-valuenow={Math.round(fade.bend * 100)}
          aria-valuetext={`${Math.round(fade.bend * 100)} %`}
          className="absolute -mt-2 -ml-2 h-4 w-4 cursor-ns-resize touch-none"
          style={{ left: x, top: y }}
        >
          <span
            className={clsx(
              'absolute top-1 left-1 block h-2 w-2 rounded-sm border-2 border-walnut bg-linen',
              !shown && ONLY_NEAR,
            )}
          />
        </div>
      )}
    </>
  )
}
