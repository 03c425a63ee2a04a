import { clamp } from '../../../core/units/clamp'
import { commitToSelected } from '../../../store/actions/selected-regions'
import { Play } from 'lucide-react'
import { type KeyboardEvent, memo, useEffect, useRef, useState } from 'react'
import { changeClipGain, resetClipGain } from '../../../core/edit'
import type { Region } from '../../../core/model/session'
import { showDb, showLength, showTime } from '../../../core/units/typed'
import { isTrackBead } from '../../../store/beads'
import { hearAlone } from '../../../store/playback/playback'
import { selected } from '../../../store/view'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { hemHeight } from '../drawing/geometry'
import { BendHandle, FadeHandle, TrimHandle } from './edge-handles'

/** Narrower regions show no handles; zoom in to reach them. */
export const HANDLE_WIDTH = 26

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

export const RegionHandles = memo(function RegionHandles({
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
  const hem = hemHeight(height)
  const all = wide && (complete || pointed || focused)
  const button = useRef<HTMLButtonElement>(null)
  const group = useRef<HTMLDivElement>(null)
  const lanesOver = useAppSelector((s) => (isTrackBead(s.selection.bead) ? s.selection.bead : null))
  // The button that plays the region stands where its seen part begins, after the tag of a lane that lies over it.
  useEffect(() => {
    const timeline = group.current?.closest('[data-testid="timeline"]')
    if (!button.current || !group.current || !timeline || !(pointed || focused)) return
    const hidden = timeline.getBoundingClientRect().left - group.current.getBoundingClientRect().left
    const tag = lanesOver === null ? 12 : (TAG_ROOM[lanesOver] ?? WIDEST_TAG)
    button.current.style.left = `${clamp(hidden + tag, 12, width - 32)}px`
  }, [pointed, focused, width, lanesOver])
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== 'Enter' || event.target !== event.currentTarget || isSelected) return
    // It is selected; a further Enter opens its value as a field.
    event.preventDefault()
    event.stopPropagation()
    dispatch(selected({ regionIds: [region.id], trackId: region.trackId }))
  }
  const onGainKey = (event: KeyboardEvent) => {
    const step = { ArrowUp: 1, ArrowDown: -1 }[event.key]
    if (step) {
      event.preventDefault()
      event.stopPropagation()
      dispatch(commitToSelected(region.id, changeClipGain, { byDb: step * (event.altKey ? 0.1 : 1) }))
    } else if (event.key === 'Backspace') {
      event.preventDefault()
      event.stopPropagation()
      dispatch(commitToSelected(region.id, resetClipGain, {}))
    }
  }
  return (
    <div
      role="group"
      tabIndex={0}
      data-region={region.id}
      data-selected={isSelected || undefined}
      data-lead
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
      {wide && hem > 0 && (
        <div
          role="slider"
          tabIndex={isSelected ? 0 : -1}
          data-handle="gain"
          data-region={region.id}
          aria-label={`Clip gain of ${region.name}`}
          title="The hem, the strip below the sound: drag it up or down to change the clip gain."
          aria-orientation="vertical"
          aria-valuemin={-72}
          aria-valuemax={36}
          aria-valuenow={region.clipGainDb}
          aria-valuetext={showDb(region.clipGainDb)}
          onKeyDown={onGainKey}
          className="absolute inset-x-0 bottom-0 cursor-ns-resize rounded-sm hover:ring-1 hover:ring-ink/60 hover:ring-inset"
          style={{ height: hem }}
        />
      )}
      {all && (
        <>
          {!region.locked && (
            <TrimHandle
              hem={hem}
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
              hem={hem}
              edge="end"
              crossed={crossedOut}
              region={region}
              rate={rate}
              shown={isSelected}
              beat={beat}
            />
          )}
          {width > 70 && height > 40 && (
            <button
              ref={button}
              type="button"
              tabIndex={isSelected ? 0 : -1}
              data-handle="alone"
              data-region={region.id}
              aria-label={`Hear ${region.name} alone`}
              title="Hear alone"
              onClick={() => dispatch(hearAlone(region.id))}
              className="absolute flex h-6 w-6 items-center forced-colors:invisible forced-colors:group-hover/region:visible forced-colors:group-focus-within/region:visible justify-center rounded-full border border-transparent text-transparent group-focus-within/region:border-walnut group-focus-within/region:bg-linen group-focus-within/region:text-walnut group-hover/region:border-walnut group-hover/region:bg-linen group-hover/region:text-walnut hover:bg-walnut! hover:text-white!"
              style={{ bottom: hem + 4, left: 12 }}
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
              height={height - hem}
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
              height={height - hem}
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
