import { passMessage } from '../hands/thinning-message'
import { Radio } from 'lucide-react'
import { Popover, Slider } from 'radix-ui'
import { useEffect, useRef, useState } from 'react'
import type { Session } from '../../../core/model/session'
import {
  midiDevices,
  moveSimulated,
  PickUp,
  simulatedFader,
  type FaderDevice,
  type FaderMove,
} from '../../../engine/playback'
import { valueAt } from '../../../core/curve/knots'
import { refKey, threadOf, type LaneRef } from '../../../core/edit'
import { getPlayer } from '../../../store/playback/playback'
import { beadOf, lanesAt } from '../../../store/beads'
import { onPassKept, rideTo } from '../../../store/actions/riding'
import { pathTrack } from '../../../store/selectors'
import { rideSet } from '../../../store/view'
import { LengthField } from '../../parts/fields/length-field'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector, useAppStore } from '../../parts/hooks'
import { keepSliderKeys } from '../../parts/commands/widget-keys'
import { Choice } from '../../parts/panel'
import { toast } from '../../parts/messages/toast'
import { unlessTyped } from '../../parts/fields/unless-typed'
import { unlessInDialog } from '../../parts/focus-return'

/** How long a fader without touch counts as held after it moved, in milliseconds. */
const HELD_MS = 350

/** Riding: how moves of volume and pan are written while it plays, and by which device. */
export function RidePanel({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const ride = useAppSelector((s) => s.listening.ride)
  const playing = useAppSelector((s) => s.transport.playing)
  const trackName = useAppSelector((s) => pathTrack(s)?.name)
  const [devices, setDevices] = useState<FaderDevice[]>([simulatedFader])
  const [deviceId, setDeviceId] = useState('none')
  const [byChannel, setByChannel] = useState(false)
  const [problem, setProblem] = useState<string | null>(null)
  /** What is said while the fader has not come to the lane's value yet. */
  const [waiting, setWaiting] = useState<string | null>(null)
  const pickUps = useRef(new Map<string, PickUp>())
  const movedAt = useRef(0)
  const on = ride.mode !== 'off'

  useEffect(
    () =>
      onPassKept((pass) =>
        toast({
          text: passMessage(pass),
          stays: 8000,
          ...(pass.knots < pass.points
            ? { action: { label: 'Keep raw', run: () => void pass.keepRaw() } }
            : {}),
        }),
      ),
    [],
  )

  // What the device moves: the picked track, or the one in the row of its channel.
  const moved = useRef<(move: FaderMove) => void>(() => undefined)
  useEffect(
    () =>
      void (moved.current = ({ channel, control, value }) => {
        const { session: now } = store.getState().session
        const trackId = byChannel ? now?.trackIds[channel - 1] : pathTrack(store.getState())?.id
        if (!now || !trackId) return
        const lanes = lanesAt(now, trackId, beadOf(trackId, control))
        for (const lane of lanes) {
          const ref: LaneRef = { kind: 'lane', trackId, lane }
          const { kind, knots } = threadOf(now, ref)!
          const key = refKey(ref)
          const pickUp = pickUps.current.get(key) ?? new PickUp()
          pickUps.current.set(key, pickUp)
          // Let go of for a while, it does not hold the value any more.
          const at = performance.now()
          if (at - movedAt.current > HELD_MS) pickUp.release()
          const present = valueAt(kind, knots, getPlayer()?.position() ?? 0)
          if (pickUp.takes(value, present, kind.max - kind.min)) dispatch(rideTo(ref, value, HELD_MS))
          else
            setWaiting(
              `It stands at ${kind.show(value)}, the lane at ${kind.show(present)}: move it past that.`,
            )
          if (pickUp.isHeld) setWaiting(null)
        }
        movedAt.current = performance.now()
      }),
  )
  // With every pass the fader takes hold anew.
  useEffect(() => {
    if (playing) return
    for (const pickUp of pickUps.current.values()) pickUp.release()
  }, [playing])
  useEffect(
    () => devices.find((d) => d.id === deviceId)?.listen((move) => moved.current(move)),
    [devices, deviceId],
  )

  const search = () => {
    setProblem(null)
    midiDevices().then(
      (found) => {
        setDevices([simulatedFader, ...found])
        if (found.length === 0)
          setProblem('No MIDI device is connected. Connect one and look again, or try the simulated fader.')
      },
      (error: unknown) => setProblem(error instanceof Error ? error.message : String(error)),
    )
  }
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button
          className={`w-[5.25rem] justify-start gap-1.5 !px-2.5 max-[1340px]:w-auto ${on ? '!border-ink !bg-ink !text-white' : ''}`}
          aria-label={`Ride: ${ride.mode}`}
          title="Write volume and pan by hand while it plays"
        >
          <Radio size={15} />
          <span className="text-sm max-[1340px]:hidden">{on ? ride.mode : 'ride'}</span>
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          onCloseAutoFocus={unlessInDialog}
          onEscapeKeyDown={unlessTyped}
          // It stays while something is ridden: playing and moving faders are done elsewhere.
          onInteractOutside={(event) => on && event.preventDefault()}
          align="end"
          sideOffset={6}
          className="z-50 flex w-72 flex-col gap-3 rounded-xl border border-seam bg-white p-3.5 text-sm shadow-lg"
          aria-label="Ride"
        >
          <Choice
            label="Ride"
            value={ride.mode}
            onChange={(mode) => dispatch(rideSet({ mode }))}
            options={[
              { value: 'off', text: 'Off' },
              { value: 'touch', text: 'Touch' },
              { value: 'latch', text: 'Latch' },
            ]}
          />
          <p className="text-xs text-soft">
            {ride.mode === 'touch'
              ? 'While it plays, a volume or pan that you hold is written; let go, it returns to what the lane had.'
              : ride.mode === 'latch'
                ? 'While it plays, a volume or pan that you move is written and stays there until it stops.'
                : 'Moves of volume and pan set the whole track. Choose touch or latch to write them into the lanes while it plays.'}
          </p>
          <LengthField
            session={session}
            label="Returns within"
            frames={Math.round((ride.returnMs / 1000) * session.sampleRate)}
            disabled={ride.mode !== 'touch'}
            min={0}
            max={10 * session.sampleRate}
            onFrames={(frames) => void dispatch(rideSet({ returnMs: (frames / session.sampleRate) * 1000 }))}
          />
          <label className="flex flex-col gap-1 text-xs text-soft">
            Fader
            <span className="flex gap-2">
              <select
                value={deviceId}
                onChange={(e) => setDeviceId(e.target.value)}
                className="h-8 min-w-0 flex-1 rounded-lg border border-seam bg-linen px-2 text-sm text-ink"
              >
                <option value="none">On the screen only</option>
                {devices.map((d) => (
                  <option key={d.id} value={d.id}>
                    {d.name}
                  </option>
                ))}
              </select>
              <Button onClick={search} title="Look for MIDI devices">
                Find devices
              </Button>
            </span>
          </label>
          {waiting && on && playing && (
            <p role="status" className="text-xs text-soft">
              {waiting}
            </p>
          )}
          {problem && (
            <p role="alert" className="text-xs text-madder">
              {problem}
            </p>
          )}
          {deviceId !== 'none' && (
            <Choice
              label="It moves"
              value={byChannel ? 'channel' : 'picked'}
              onChange={(v) => setByChannel(v === 'channel')}
              options={[
                { value: 'picked', text: 'The picked track' },
                { value: 'channel', text: 'By channel' },
              ]}
            />
          )}
          {deviceId === simulatedFader.id && (
            <div className="flex flex-col gap-2 rounded-lg bg-cloth p-2.5">
              <Simulated
                label="Simulated volume"
                min={0}
                max={127}
                first={96}
                onMove={(step) => moveSimulated({ channel: 1, control: 'volume', value: step / 127 })}
              />
              <Simulated
                label="Simulated pan"
                min={-63}
                max={63}
                first={0}
                onMove={(step) => moveSimulated({ channel: 1, control: 'pan', value: step / 63 })}
              />
              <p className="text-xs text-soft">
                {!on
                  ? 'Choose touch or latch first.'
                  : playing
                    ? `Writes ${byChannel ? 'the first track' : trackName !== undefined ? `“${trackName}”` : 'the picked track'}.`
                    : 'Press play, then move it.'}
              </p>
            </div>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function Simulated({
  label,
  min,
  max,
  first,
  onMove,
}: {
  label: string
  min: number
  max: number
  first: number
  onMove(step: number): void
}) {
  return (
    <div className="flex flex-col gap-0.5 text-xs">
      {label}
      <Slider.Root
        min={min}
        max={max}
        defaultValue={[first]}
        aria-label={label}
        onValueChange={([step]) => onMove(step!)}
        onKeyDown={keepSliderKeys}
        className="relative flex h-5 touch-none items-center"
      >
        <Slider.Track className="relative h-1.5 grow rounded bg-fold" />
        <Slider.Thumb
          aria-label={label}
          className="block h-5 w-2.5 rounded-sm border border-ink bg-white shadow-sm"
        />
      </Slider.Root>
    </div>
  )
}
