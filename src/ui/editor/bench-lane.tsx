import { useLayoutEffect, useMemo, useRef, useState } from 'react'
import type { LaneKey } from '../../core/edit'
import { regionsOf } from '../../core/model/queries'
import type { Session } from '../../core/model/session'
import { crossfadeSides, planRegion } from '../../core/render'
import { getPlayer } from '../../store/playback'
import type { View } from '../../store/view-slice'
import { preparedContext, useAppSelector, useFrame, useSize } from '../parts/hooks'
import { placeLine } from '../parts/move'
import { ThreadArea } from './thread-area'
import { usePictures } from './pictures'
import { frameToX, visibleRegions } from './timeline/geometry'
import { drawSound } from './timeline/draw-sound'
import { lanePlace } from './timeline/thread-place'

const AXIS = 44
const PAD = 10

/** A lane large, over the stretch that the timeline shows, with the sound of its track behind. */
export function BenchLane({ session, trackId, lane }: { session: Session; trackId: string | null; lane: LaneKey }) {
  const frame = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const line = useRef<HTMLDivElement>(null)
  const { width, height } = useSize(frame)
  const { pictures, version } = usePictures()
  const shown = useAppSelector((s) => s.view.view)
  const inner = Math.max(1, width - AXIS - PAD)
  const framesPerPixel = (shown.width * shown.framesPerPixel) / inner
  const view: View = useMemo(() => ({ left: shown.left - AXIS * framesPerPixel, framesPerPixel, top: 0, width, height }), [shown.left, framesPerPixel, width, height])
  const place = useMemo(() => ({ ...lanePlace(session, view, trackId, lane, 0), tag: undefined, from: Math.max(0, shown.left), box: { x: AXIS, y: PAD, width: inner, height: height - 2 * PAD } }), [session, view, trackId, lane, inner, height, shown.left])

  // Only what is heard of the regions is drawn behind; the lane itself lies above.
  const { regions: all, gainThreads, crossfades, sources } = session
  const sounding = useMemo(() => session, [all, gainThreads, crossfades, sources, trackId]) // eslint-disable-line react-hooks/exhaustive-deps
  useLayoutEffect(() => {
    const session = sounding
    const ctx = canvas.current && width > 60 && height > 40 ? preparedContext(canvas.current, width, height) : null
    if (!ctx || trackId === null) return
    const regions = regionsOf(session, trackId)
    const seen = visibleRegions(regions, view)
    const sides = crossfadeSides(session)
    ctx.save()
    ctx.beginPath()
    ctx.rect(AXIS, 0, inner, height)
    ctx.clip()
    ctx.globalAlpha = 0.45
    for (const region of regions.slice(seen.first, seen.last)) {
      const box = { x: frameToX(view, region.start), y: PAD, width: region.length / framesPerPixel, height: height - 2 * PAD }
      drawSound(ctx, pictures, { plan: planRegion(session, region, sides.get(region.id)), source: session.sources[region.sourceId]!, box, width: AXIS + inner, framesPerPixel, dye: region.colour ?? session.tracks[trackId]!.colour })
    }
    ctx.restore()
  }, [sounding, trackId, view, pictures, version, width, height, inner, framesPerPixel])

  useFrame(() => {
    const x = frameToX(view, getPlayer()?.position() ?? 0)
    placeLine(line.current, x, x >= AXIS && x <= AXIS + inner)
  })

  return (
    <div ref={frame} className="absolute inset-0 overflow-hidden">
      <canvas ref={canvas} className="block" style={{ width, height }} aria-hidden />
      {width > 60 && height > 40 && <ThreadArea session={session} view={view} place={place} axis={AXIS} label="Close-up of the thread" testId="bench-thread" />}
      <div ref={line} className="pointer-events-none absolute inset-y-2 left-0 w-px bg-ink will-change-transform" aria-hidden />
    </div>
  )
}

/** Which of the two pan lanes of a pair is in the bench. */
export function useLaneChoice(lanes: readonly LaneKey[]): [LaneKey, (lane: LaneKey) => void] {
  const [chosen, setChosen] = useState<LaneKey | null>(null)
  return [chosen !== null && lanes.includes(chosen) ? chosen : lanes[0]!, setChosen]
}
