import { FADER } from '../../../core/model/parameters'
import { Slider } from 'radix-ui'
import { useMemo, useRef, useState } from 'react'
import { flushSync } from 'react-dom'
import { valueAt } from '../../../core/curve/knots'
import { shiftLanes, threadOf, type LaneRef } from '../../../core/edit'
import { FADER_DB } from '../../../core/units/decibel'
import { dbToHeight, heightToDb } from '../../../core/units/taper'
import { showDb } from '../../../core/units/typed'

import { getPlayer } from '../../../store/playback/playback'
import { preview } from '../../../store/edits'
import { letGo, rideTo } from '../../../store/actions/riding'
import { sayWhyNot } from '../../../store/why-not'
import { LANE_PLAYS, shiftWholeLane } from '../hands/whole-lane'
import { shownSession } from '../../../store/selectors'
import { useAppDispatch, useAppSelector, useAppStore, useFrame } from '../../parts/hooks'
import { keepSliderKeys } from '../../parts/commands/widget-keys'

/** The look of the fields on the heads of tracks and of the mix. */
export const HEAD_FIELD =
  '[&_input]:h-6 [&_input]:rounded-md [&_input]:px-0.5 [&_input]:text-right [&_input]:text-xs'

const STEPS = 1000

/** Width of a fader, in pixels. */
const FADER_WIDTH = 90

/** Milliseconds between two places of a fader that follows its lane and is not ridden. */
const CALM_MS = 120

/** What a fader moves: the volume of a track, or (null) of the mix. */
interface FaderProps {
  trackId: string | null
  name: string
  volumeDb: number | null
  automated: boolean
  riding: boolean
  onTry(db: number | null): void
  onDb(db: number | null): void
}

/**
 * The fader, beside its meter: its place follows the taper, 0 dB is marked. While riding it moves
 * with its lane and writes it.
 */
export function Fader({ trackId, name, volumeDb, automated, riding, onTry, onDb }: FaderProps) {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const ref = useMemo((): LaneRef => ({ kind: 'lane', trackId, lane: FADER }), [trackId])
  const [live, setLive] = useState<number | null>(null)
  const playing = useAppSelector((s) => s.transport.playing)
  const follows = riding || automated
  const shownAt = useRef(0)
  const toDb = (step: number) => {
    const db = heightToDb(step / STEPS)
    return step === 0 || db < FADER_DB.min ? null : Math.round(db * 10) / 10
  }
  /** The step at which the lane stands now; null where there is none. */
  const stepOfLane = () => {
    const session = shownSession(store.getState())
    const thread = session && threadOf(session, ref)
    return thread && Math.round(valueAt(thread.kind, thread.knots, getPlayer()?.position() ?? 0) * STEPS)
  }
  useFrame(() => {
    // A fader that only follows its lane does so calmly.
    if (!riding && performance.now() - shownAt.current < CALM_MS) return
    const step = stepOfLane()
    if (step === null) return
    shownAt.current = performance.now()
    // A step of a pixel.
    if (live === null || Math.abs(step - live) > STEPS / FADER_WIDTH) setLive(step)
  }, follows)
  /** What is drawn can be a pixel or a moment behind the lane: a key moves on from where the lane is. */
  const catchUp = () => {
    if (follows) flushSync(() => setLive(stepOfLane()))
  }
  /** By how much a step is above what the lane had before it was taken hold of, in dB; null where silence is in it. */
  const shift = (step: number): number | null => {
    const { base, session } = store.getState().session
    const thread = threadOf((base ?? session)!, ref)!
    const from = heightToDb(valueAt(thread.kind, thread.knots, getPlayer()?.position() ?? 0))
    const to = heightToDb(step / STEPS)
    return Number.isFinite(from) && Number.isFinite(to) ? Math.round((to - from) * 10) / 10 : null
  }
  const still = volumeDb === null ? 0 : dbToHeight(volumeDb) * STEPS
  return (
    <Slider.Root
      title={
        riding
          ? 'Hold and move: writes the volume lane'
          : automated
            ? 'A lane moves the volume: moved while it stands, the whole lane is shifted'
            : undefined
      }
      min={0}
      max={STEPS}
      step={1}
      value={[Math.round(follows && live !== null ? live : still)]}
      aria-label={`Fader of ${name}`}
      onValueChange={([step]) => {
        if (riding) {
          setLive(step!)
          dispatch(rideTo(ref, step! / STEPS))
        } else if (automated) {
          if (playing) return sayWhyNot(LANE_PLAYS)
          const by = shift(step!)
          setLive(step!)
          if (by !== null) dispatch(preview(shiftLanes, { lanes: [ref], by }))
        } else onTry(toDb(step!))
      }}
      onValueCommit={([step]) => {
        if (riding) dispatch(letGo(ref))
        else if (automated) {
          if (playing) return
          const by = shift(step!)
          if (by !== null) dispatch(shiftWholeLane(ref, by, step! / STEPS))
        } else onDb(toDb(step!))
      }}
      className="relative flex h-6 touch-none items-center"
      style={{ width: FADER_WIDTH }}
      onKeyDownCapture={catchUp}
      onKeyDown={keepSliderKeys}
      onDoubleClick={() => !follows && onDb(0)}
    >
      <Slider.Track className="relative h-6 grow before:absolute before:inset-x-0 before:top-1/2 before:h-1 before:-translate-y-1/2 before:rounded-full before:bg-seam">
        {/* Where the fader changes nothing. */}
        <span
          aria-hidden
          className="absolute inset-y-1 w-px bg-soft"
          style={{ left: `calc(${dbToHeight(0)} * (100% - 0.625rem) + 0.3125rem)` }}
        />
      </Slider.Track>
      <Slider.Thumb
        aria-label={`Fader of ${name}`}
        aria-valuetext={showDb(volumeDb)}
        className="block h-4.5 w-2.5 rounded-sm border border-ink bg-white shadow-sm hover:bg-linen data-disabled:opacity-35"
      />
    </Slider.Root>
  )
}
