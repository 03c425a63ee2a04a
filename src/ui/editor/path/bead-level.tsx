import { clamp } from '../../../core/units/clamp'
import clsx from 'clsx'
import { useRef } from 'react'
import { loudnessOf } from '../../../core/measure/loudness'
import { gainToDb } from '../../../core/units/decibel'
import { METER_FRAMES } from '../../../engine/playback'
import { getPlayer } from '../../../store/playback/playback'
import { colour, faded } from '../../look/colours'
import { preparedContext, showText, useFrame, useSize } from '../../parts/hooks'

/** Levels from here to full scale are shown, in dB. */
const LOWEST_DB = -48
/** How fast a peak falls, in dB a second, how long its highest place is held, and over how long loudness is averaged. */
const FALL_DB = 30
const HOLD_SECONDS = 1.5
const MOMENTARY_SECONDS = 0.4

const part = (db: number) => clamp(1 - db / LOWEST_DB, 0, 1)
const whole = (db: number) => (db <= -90 ? '—' : db.toFixed(1).replace('-', '−'))

/** What the number of a bead tells: momentary loudness, or by how much its insert turns down; null has none. */
export type BeadNumber = 'loudness' | 'reduction' | null

/** What a bar shows, in pixels: the peak, the loudness and the highest place, null for none; and whether that is over full scale. */
interface Bar {
  peak: number
  loud: number
  hold: number | null
  over: boolean
}

function drawBar(
  ctx: CanvasRenderingContext2D,
  { peak, loud, hold, over }: Bar,
  width: number,
  height: number,
): void {
  ctx.fillStyle = faded('pine', 0.45)
  ctx.fillRect(0, 0, peak, height)
  ctx.fillStyle = colour('pine')
  ctx.fillRect(0, 0, loud, height)
  if (hold === null) return
  ctx.fillStyle = colour(over ? 'fault' : 'ink')
  ctx.fillRect(Math.min(hold, width - 1), 0, 1, height)
}

/**
 * How loud the sound leaves a bead while it plays: along the bead the peak with its highest place, and darker within it the
 * momentary loudness; below it perhaps a number. At rest it shows nothing. `slot` is where its numbers stand in a row of meters.
 */
export function BeadLevel({
  slot,
  number = null,
  name,
}: {
  slot: number
  number?: BeadNumber
  name: string
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const { width, height } = useSize(canvas)
  const drawn = useRef('')
  const text = useRef<HTMLSpanElement>(null)
  const state = useRef({ db: -120, hold: -120, heldFor: 0, power: 0, at: 0 })
  useFrame((shows) => {
    const s = state.current
    const now = performance.now()
    const seconds = Math.min(0.5, (now - s.at) / 1000)
    s.at = now
    const numbers = slot < 0 ? null : getPlayer()?.meters()
    const peak = numbers ? Math.max(numbers[slot]!, numbers[slot + 1]!) : 0
    s.db = Math.max(peak > 0 ? gainToDb(peak) : -120, s.db - FALL_DB * seconds)
    s.heldFor += seconds
    if (s.db >= s.hold || s.heldFor > HOLD_SECONDS) {
      s.hold = s.db
      s.heldFor = 0
    }
    const power = numbers ? numbers[slot + 2]! / METER_FRAMES : 0
    s.power += (power - s.power) * (1 - Math.exp(-seconds / MOMENTARY_SECONDS))
    const loudness = s.power < 1e-9 ? -120 : loudnessOf(s.power)
    if (!shows) return
    const bar: Bar = {
      peak: Math.round(part(s.db) * width),
      loud: Math.round(part(loudness) * width),
      hold: s.hold > LOWEST_DB ? Math.round(part(s.hold) * width) : null,
      over: s.hold > 0,
    }
    const wanted = [width, height, window.devicePixelRatio, ...Object.values(bar)].join()
    if (canvas.current && wanted !== drawn.current) {
      drawn.current = wanted
      const ctx = preparedContext(canvas.current, width, height)
      if (ctx) drawBar(ctx, bar, width, height)
    }
    if (!text.current) return
    // Of several bands the largest.
    const reduction = numbers ? Math.max(...numbers.subarray(slot + 3, slot + 7)) : 0
    showText(
      text.current,
      !numbers || s.power < 1e-9
        ? ''
        : number === 'reduction'
          ? `${reduction < 0.05 ? '' : '−'}${reduction.toFixed(1)} dB`
          : whole(loudness),
    )
  })
  const about =
    `After ${name}: the peak with its highest place, from −48 dBFS to full scale, and darker the momentary loudness` +
    (number === 'reduction' ? '; the number says by how much it turns down' : number ? ' in LUFS' : '')
  return (
    <>
      <span className="mx-1.5 mt-0.5 block h-1 overflow-hidden rounded-full bg-fold" title={about}>
        <canvas ref={canvas} className="block h-full w-full" aria-hidden />
      </span>
      {number && (
        <span
          ref={text}
          title={about}
          className={clsx(
            'h-4 w-16 overflow-hidden pl-2 font-mono text-2xs leading-4 whitespace-nowrap',
            number === 'reduction' ? 'text-madder' : 'text-soft',
          )}
        />
      )}
    </>
  )
}
