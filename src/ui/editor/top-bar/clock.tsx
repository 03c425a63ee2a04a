import { Popover } from 'radix-ui'
import { useEffect, useRef, useState } from 'react'
import { tempoAt } from '../../../core/edit'
import type { Session } from '../../../core/model/session'
import { sessionLength } from '../../../core/model/queries'
import { barAtFrame, barToBeat, beatToFrame, secondsToBeat } from '../../../core/units/tempo'
import { parsePosition, showTime } from '../../../core/units/typed'
import { lengthChange } from '../../../core/units/typed-change'
import { getPlayer } from '../../../store/playback/playback'
import { timeScaleSet } from '../../../store/view'
import { showText, useAppDispatch, useAppSelector, useFrame } from '../../parts/hooks'
import { ValueField } from '../../parts/fields/value-field'
import { unlessTyped } from '../../parts/fields/unless-typed'
import { TempoFields } from '../parts/fields/tempo-fields'
import { unlessInDialog } from '../../parts/focus-return'

/**
 * The time at the playhead in seconds and in bars; pressing one makes ruler and grid follow it. Beside it
 * tempo and metre.
 */
export function Clock({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const scale = useAppSelector((s) => s.preferences.timeScale)
  const time = useRef<HTMLSpanElement>(null)
  const bars = useRef<HTMLSpanElement>(null)
  useFrame((shows) => {
    if (!shows) return
    const frame = getPlayer()?.position() ?? 0
    showText(time.current, showTime(frame, session.sampleRate))
    const at = barAtFrame(session.tempo, session.sampleRate, frame)
    showText(bars.current, `${at.bar} | ${at.beat}.${Math.floor(at.fraction * 10)}`)
  })
  const [typing, setTyping] = useState(false)
  const press = (pressed: 'seconds' | 'bars') => () => {
    if (scale === pressed) setTyping(true)
    else dispatch(timeScaleSet(pressed))
  }
  const part =
    'flex h-full items-center justify-center px-2 hover:bg-white aria-pressed:shadow-[inset_0_-3px_0_var(--color-oak)]'
  return (
    <div
      className="relative ml-1 flex h-8 items-center rounded-lg border border-seam bg-linen font-mono"
      role="group"
      aria-label="Time at the playhead"
    >
      <button
        type="button"
        aria-pressed={scale === 'seconds'}
        title={scale === 'seconds' ? TYPE_PLACE : 'Ruler and grid follow seconds'}
        onClick={press('seconds')}
        className={`${part} w-24 text-base`}
      >
        <span ref={time} data-testid="time">
          0:00.000
        </span>
      </button>
      <button
        type="button"
        aria-pressed={scale === 'bars'}
        title={scale === 'bars' ? `Bar | beat. ${TYPE_PLACE}` : 'Bar | beat. Ruler and grid follow bars'}
        onClick={press('bars')}
        className={`${part} w-22 border-l border-seam text-sm whitespace-nowrap`}
      >
        <span ref={bars}>1 | 1.0</span>
      </button>
      <Tempo session={session} />
      {typing && <PlaceField session={session} scale={scale} onDone={() => setTyping(false)} />}
    </div>
  )
}

const TYPE_PLACE = 'Press to type a position for the playhead'

/** The playhead's position as a field, over the clock, until it was typed or given up. */
function PlaceField({
  session,
  scale,
  onDone,
}: {
  session: Session
  scale: 'bars' | 'seconds'
  onDone(): void
}) {
  const { sampleRate, tempo } = session
  const [frame] = useState(() => Math.round(getPlayer()?.position() ?? 0))
  const range = { min: 0, max: Math.max(sessionLength(session), 1) }
  const context = { sampleRate, bpm: tempo[0]!.bpm }
  const at = barAtFrame(tempo, sampleRate, frame)
  const box = useRef<HTMLDivElement>(null)
  useEffect(() => box.current?.querySelector('input')?.focus(), [])
  return (
    <div
      ref={box}
      className="absolute inset-0 z-10 flex items-center rounded-lg bg-linen font-sans"
      onBlur={(event) => {
        // A text that cannot be accepted stays, with its message.
        const field = event.target
        queueMicrotask(() => field.getAttribute('aria-invalid') !== 'true' && onDone())
      }}
    >
      <ValueField
        name="playhead"
        className="flex-1 px-0.5 [&_input]:h-7"
        label="Position of the playhead"
        hideLabel
        shown={
          scale === 'seconds'
            ? showTime(frame, sampleRate)
            : `${at.bar}|${at.beat}.${Math.floor(at.fraction * 10)}`
        }
        parse={(text) =>
          parsePosition(text, context, range, scale === 'bars' ? 'bar' : 's', ({ bar, beat, fraction }) => {
            const first = barToBeat(tempo, bar)
            const quarters = ((beat - 1 + fraction) * 4) / tempoAt(session, first).beatUnit
            return beatToFrame(tempo, sampleRate, first + quarters)
          })
        }
        onValue={(to) => getPlayer()?.seek(to)}
        change={lengthChange(frame, context, range, 's', (n) => showTime(n, sampleRate))}
      />
    </div>
  )
}

/** Tempo and metre at the playhead, to be changed. */
function Tempo({ session }: { session: Session }) {
  const atBeat = secondsToBeat(session.tempo, (getPlayer()?.position() ?? 0) / session.sampleRate)
  const now = tempoAt(session, atBeat)
  return (
    <Popover.Root>
      <Popover.Trigger
        className="h-full border-l border-seam px-2 text-xs text-soft hover:bg-white max-[1100px]:hidden"
        title="Tempo and metre"
      >
        {now.bpm} bpm {now.beatsPerBar}/{now.beatUnit}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          onCloseAutoFocus={unlessInDialog}
          onEscapeKeyDown={unlessTyped}
          sideOffset={6}
          className="z-50 w-72 rounded-xl border border-seam bg-white p-4 font-sans shadow-lg"
          aria-label="Tempo and metre"
        >
          <TempoFields session={session} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
