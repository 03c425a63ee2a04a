import { useRef } from 'react'
import { loudnessOf } from '../../../core/measure/loudness'
import { gainToDb } from '../../../core/units/decibel'
import { METER_FRAMES } from '../../../engine/ring'
import { getPlayer } from '../../../store/playback'
import { showText, useFrame } from '../../parts/hooks'

/** Levels from here to full scale are shown, in dB. */
const LOWEST_DB = -48
/** How fast a peak falls, in dB a second, how long its highest place is held, and over how long loudness is averaged. */
const FALL_DB = 30
const HOLD_SECONDS = 1.5
const MOMENTARY_SECONDS = 0.4

const part = (db: number) => Math.max(0, Math.min(1, 1 - db / LOWEST_DB))
const whole = (db: number) => (db <= -90 ? '—' : db.toFixed(1).replace('-', '−'))

/**
 * The level at which the sound leaves an insert, while it plays: the peak as a line with its highest place, and beside it the
 * reduction of what turns down, else the momentary loudness. At rest it shows nothing.
 */
export function InsertLevel({ slot, reduces, name }: { slot: number; reduces: boolean; name: string }) {
  const bar = useRef<HTMLSpanElement>(null)
  const mark = useRef<HTMLSpanElement>(null)
  const text = useRef<HTMLSpanElement>(null)
  const state = useRef({ db: -120, hold: -120, heldFor: 0, power: 0, at: 0 })
  useFrame(() => {
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
    if (bar.current) bar.current.style.transform = `scaleX(${part(s.db).toFixed(3)})`
    if (mark.current) {
      mark.current.style.left = `${(part(s.hold) * 100).toFixed(1)}%`
      mark.current.style.opacity = s.hold > LOWEST_DB ? '1' : '0'
    }
    if (!text.current) return
    // Of several bands the largest.
    const reduction = numbers ? Math.max(...numbers.subarray(slot + 3, slot + 7)) : 0
    showText(
      text.current,
      !numbers || s.power < 1e-9
        ? ''
        : reduces
          ? `${reduction < 0.05 ? '' : '−'}${reduction.toFixed(1)} dB`
          : whole(loudnessOf(s.power)),
    )
  })
  return (
    <span
      className="relative mt-0.5 flex h-5 items-center gap-1 pl-2"
      title={
        reduces
          ? `Peak after the ${name.toLowerCase()}, and by how much it turns down in dB`
          : `Peak after the ${name.toLowerCase()}, and its momentary loudness in LUFS`
      }
    >
      <span className="relative h-1.5 w-9 overflow-hidden rounded-full bg-fold">
        <span
          ref={bar}
          className="absolute inset-0 origin-left bg-pine"
          style={{ transform: 'scaleX(0)' }}
          aria-hidden
        />
        <span
          ref={mark}
          className="absolute inset-y-0 w-px bg-ink"
          style={{ left: 0, opacity: 0 }}
          aria-hidden
        />
      </span>
      <span
        ref={text}
        className={`w-13 overflow-hidden font-mono text-2xs whitespace-nowrap ${reduces ? 'text-madder' : 'text-soft'}`}
      />
    </span>
  )
}
