import { FADER } from '../../../core/model/parameters'
import { Slider } from 'radix-ui'
import { useMemo, useState } from 'react'
import { valueAt } from '../../../core/curve/knots'
import { threadOf, type LaneRef } from '../../../core/edit'
import { FADER_DB } from '../../../core/units/decibel'
import { dbToHeight, heightToDb } from '../../../core/units/taper'
import { showDb } from '../../../core/units/typed'

import { getPlayer } from '../../../store/playback'
import { letGo, rideTo } from '../../../store/riding'
import { shownSession } from '../../../store/selectors'
import { useAppDispatch, useAppStore, useFrame } from '../../parts/hooks'
import { keepSliderKeys } from '../../parts/widget-keys'
import { METER } from '../drawing/geometry'

/** The look of the fields on the heads of tracks and of the mix. */
export const HEAD_FIELD =
  '[&_input]:h-6 [&_input]:rounded-md [&_input]:px-1 [&_input]:text-right [&_input]:text-xs'

const STEPS = 1000

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
 * The fader, which lies over a meter: its height follows the taper, 0 dB is marked. While riding it moves
 * with its lane and writes it.
 */
export function Fader({ trackId, name, volumeDb, automated, riding, onTry, onDb }: FaderProps) {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const ref = useMemo((): LaneRef => ({ kind: 'lane', trackId, lane: FADER }), [trackId])
  const [live, setLive] = useState<number | null>(null)
  const toDb = (step: number) => {
    const db = heightToDb(step / STEPS)
    return step === 0 || db < FADER_DB.min ? null : Math.round(db * 10) / 10
  }
  useFrame(() => {
    const session = shownSession(store.getState())
    const thread = session && threadOf(session, ref)
    if (!thread) return
    const step = Math.round(valueAt(thread.kind, thread.knots, getPlayer()?.position() ?? 0) * STEPS)
    // A step of a pixel.
    if (live === null || Math.abs(step - live) > STEPS / METER.width) setLive(step)
  }, riding)
  const still = volumeDb === null ? 0 : dbToHeight(volumeDb) * STEPS
  return (
    <Slider.Root
      disabled={automated && !riding}
      title={
        riding
          ? 'Hold and move: writes the volume lane'
          : automated
            ? 'A lane moves the volume; shape it, or bypass it in the bench'
            : undefined
      }
      min={0}
      max={STEPS}
      step={1}
      value={[Math.round(riding && live !== null ? live : still)]}
      aria-label={`Fader of ${name}`}
      onValueChange={([step]) => {
        if (riding) {
          setLive(step!)
          dispatch(rideTo(ref, step! / STEPS))
        } else onTry(toDb(step!))
      }}
      onValueCommit={([step]) => {
        if (riding) dispatch(letGo(ref))
        else onDb(toDb(step!))
      }}
      className="relative flex h-5 touch-none items-center"
      onKeyDown={keepSliderKeys}
      onDoubleClick={() => !riding && onDb(0)}
    >
      <Slider.Track className="relative h-5 grow" />
      <Slider.Thumb
        aria-label={`Fader of ${name}`}
        aria-valuetext={showDb(volumeDb)}
        className="block h-5 w-2.5 rounded-sm border border-ink bg-white shadow-sm hover:bg-linen data-disabled:opacity-35"
      />
    </Slider.Root>
  )
}
