import { useDrag } from '@use-gesture/react'
import { Slider } from 'radix-ui'
import { useMemo, useState, type KeyboardEvent } from 'react'
import { valueAt } from '../../../core/curve/knots'
import { threadOf, type LaneKey } from '../../../core/edit'
import { FADER_DB } from '../../../core/units/decibel'
import { dbToHeight, heightToDb } from '../../../core/units/taper'
import { showDb } from '../../../core/units/typed'
import { getPlayer } from '../../../store/playback'
import { letGo, rideBy, rideTo } from '../../../store/riding'
import { shownSession } from '../../../store/selectors'
import { beadPicked, trackPicked } from '../../../store/view-slice'
import { useAppDispatch, useAppStore, useFrame } from '../../parts/hooks'
import { onlyItsKeys } from '../../parts/widget-keys'
import { METER } from '../drawing/geometry'
import { useLiveValue } from '../parts/use-live-value'

/** Hundredths of pan, or dB, for a pixel that a live value is dragged while riding. */
const RIDE_STEP = { pan: 1, volume: 0.1 }

/** How long a key counts as held for riding after it was pressed, in milliseconds. */
const KEY_HELD_MS = 350

/** The look of the fields on the heads of tracks and of the mix. */
export const HEAD_FIELD =
  '[&_input]:h-6 [&_input]:rounded-md [&_input]:px-1 [&_input]:text-right [&_input]:text-xs'

/**
 * The value of an automated lane at the playhead, of a track or (null) the mix; pressing it picks the lane, dragging it up and down (pan: to the sides)
 * rides it.
 */
export function LiveField({
  trackId,
  name,
  lane,
  className,
}: {
  trackId: string | null
  name: string
  lane: Extract<LaneKey, 'volume' | 'pan' | 'panLeft'>
  className: string
}) {
  const dispatch = useAppDispatch()
  const ref = useMemo(() => ({ kind: 'lane' as const, trackId, lane }), [trackId, lane])
  const value = useLiveValue(ref)
  const bind = useDrag<PointerEvent>(
    ({ delta: [dx, dy], last, tap }) => {
      if (tap) return
      if (last) dispatch(letGo(ref))
      else dispatch(rideBy(ref, lane === 'volume' ? -dy * RIDE_STEP.volume : dx * RIDE_STEP.pan, Infinity))
    },
    { pointer: { keys: false }, filterTaps: true },
  )
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowUp: 1, ArrowDown: -1, ArrowRight: 1, ArrowLeft: -1 }[event.key]
    if (
      !step ||
      !dispatch(rideBy(ref, step * (event.altKey ? 0.1 : 1) * (lane === 'volume' ? 1 : 5), KEY_HELD_MS))
    )
      return
    event.preventDefault()
    event.stopPropagation()
  }
  const pick = () => {
    if (trackId === null) dispatch(beadPicked(lane === 'volume' ? 'mix' : 'mix-pan'))
    else {
      dispatch(trackPicked(trackId))
      dispatch(beadPicked(lane === 'volume' ? 'volume' : 'pan'))
    }
  }
  return (
    <button
      type="button"
      {...bind()}
      onKeyDown={onKeyDown}
      title="Automated: the value at the playhead. Press to see its lane"
      aria-label={`Automated ${lane === 'volume' ? 'volume' : 'pan'} of ${name}`}
      onClick={pick}
      className={`${className} h-6 touch-none rounded-md border border-dashed px-1 text-right font-mono text-xs ${lane === 'volume' ? 'border-madder' : 'border-woad'}`}
    >
      <span ref={value} />
    </button>
  )
}

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

/** The fader, which lies over a meter: its height follows the taper, 0 dB is marked. While riding it moves with its lane and writes it. */
export function Fader({ trackId, name, volumeDb, automated, riding, onTry, onDb }: FaderProps) {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const ref = useMemo(() => ({ kind: 'lane' as const, trackId, lane: 'volume' as const }), [trackId])
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
      onKeyDown={onlyItsKeys}
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
