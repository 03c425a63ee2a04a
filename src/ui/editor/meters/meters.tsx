import { rowIds, rowOf } from '../../../core/model/strips'
import { useCallback, useEffect, useRef } from 'react'
import type { Dye } from '../../../core/model/session'
import { getPlayer } from '../../../store/playback/playback'
import { pathTrack, shownSession } from '../../../store/selectors'
import { colour } from '../../look/colours'
import { preparedContext, useAppStore, useFrame, useSize } from '../../parts/hooks'
import { headKind, rowHeight, rowTop, visibleRows } from '../drawing/geometry'
import { Ballistics, slotOf } from './ballistics'
import { drawMeter, meterPixels, type MeterPlace } from './draw-meter'

/** Where the meter lies on a head of a height: right of the fader, or along the lower edge where there is none. */
function placeOnHead(top: number, height: number): MeterPlace {
  return headKind(height) === 'full'
    ? { x: 112, y: top + 52, width: 86, bar: 4, scale: true }
    : { x: 16, y: top + height - 6, width: 182, bar: 2, scale: false }
}

/** Meters of strips, which move on with the time between two pictures and go dark when playing begins. */
class Meters {
  private readonly byId = new Map<string, Ballistics>()
  private last = 0
  private played = false

  /** To be called once a picture: seconds since the one before. */
  begin(playing: boolean): number {
    const now = performance.now()
    const seconds = Math.min(0.2, (now - this.last) / 1000)
    this.last = now
    if (playing && !this.played) for (const meter of this.byId.values()) meter.putOut()
    this.played = playing
    return seconds
  }

  of(id: string): Ballistics {
    let meter = this.byId.get(id)
    if (!meter) this.byId.set(id, (meter = new Ballistics()))
    return meter
  }
}

/**
 * The meters of all visible tracks and the mark of the picked one, below the heads of the rail. They share
 * one canvas: one each would be a layer each.
 */
export function TrackMeters() {
  const store = useAppStore()
  const canvas = useRef<HTMLCanvasElement>(null)
  const drawn = useRef<readonly unknown[]>([])
  const meters = useRef<Meters>(null)
  const { width, height } = useSize(canvas)
  const draw = useCallback(
    (seconds: number, shows: boolean) => {
      const state = store.getState()
      const session = shownSession(state)
      const { view } = state.navigation
      const picked = pathTrack(state)?.id
      if (!canvas.current || !session) return
      const all = (meters.current ??= new Meters())
      const numbers = getPlayer()?.meters() ?? null
      // Those out of sight move on, too.
      if (seconds > 0)
        rowIds(session).forEach((id, row) => all.of(id).step(numbers, slotOf(row + 1), seconds))
      if (!shows) return
      const { first, last } = visibleRows(view, rowIds(session).length)
      const rows = rowIds(session)
        .slice(first, last)
        .map((id, i) => {
          const top = Math.round(rowTop(view, first + i))
          const height = rowHeight(view, first + i)
          const place = placeOnHead(top, height)
          return {
            top,
            height,
            isPicked: id === picked,
            meter: all.of(id),
            place,
            dye: rowOf(session, id)!.colour as Dye,
          }
        })
      const wanted = [
        width,
        height,
        window.devicePixelRatio,
        ...rows.flatMap((r) => [r.top, r.height, r.isPicked, r.dye, ...meterPixels(r.meter, r.place.width)]),
      ]
      if (wanted.length === drawn.current.length && wanted.every((part, i) => part === drawn.current[i]))
        return
      drawn.current = wanted
      const ctx = preparedContext(canvas.current, width, height)
      if (!ctx) return
      for (const { top, height, isPicked, meter, place, dye } of rows) {
        ctx.fillStyle = colour('linen')
        if (isPicked) ctx.fillRect(0, top, width, height)
        drawMeter(ctx, meter, place, dye)
      }
    },
    [store, width, height],
  )
  useFrame((shows) =>
    draw((meters.current ??= new Meters()).begin(store.getState().transport.playing), shows),
  )
  // With the heads, when they are pushed along.
  useEffect(() => {
    draw(0, true)
    return store.subscribe(() => draw(0, true))
  }, [draw, store])
  return <canvas ref={canvas} className="absolute inset-0 block h-full w-full" aria-hidden />
}

/** Size of the mix's meter, in pixels. */
const MIX_METER = { width: 102, height: 26 }

/** The meter of the mix, beside its fader. */
export function MixMeter({ className }: { className: string }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const drawn = useRef<readonly number[]>([])
  const meters = useRef<Meters>(null)
  const store = useAppStore()
  useFrame((shows) => {
    const all = (meters.current ??= new Meters())
    const seconds = all.begin(store.getState().transport.playing)
    const meter = all.of('mix')
    meter.step(getPlayer()?.meters() ?? null, slotOf(0), seconds)
    const wanted = [window.devicePixelRatio, ...meterPixels(meter, MIX_METER.width)]
    if (!shows || !canvas.current || wanted.every((level, i) => level === drawn.current[i])) return
    drawn.current = wanted
    const ctx = preparedContext(canvas.current, MIX_METER.width, MIX_METER.height)
    if (ctx) drawMeter(ctx, meter, { x: 0, y: 0, width: MIX_METER.width, bar: 7, scale: true }, 'ink')
  })
  return <canvas ref={canvas} className={className} style={MIX_METER} aria-hidden />
}
