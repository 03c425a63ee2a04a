import { useId } from 'react'
import { Trash2 } from 'lucide-react'
import { noteValues, weaveInto, weaveShapes, type Weave, type WeaveShape } from '../../../core/curve/weave'
import { shapeThread, threadOf, weaveOf, type LaneRef, type WeaveRef } from '../../../core/edit'
import { LIMITS, type LaneWeave, type Session } from '../../../core/model/session'
import { commit } from '../../../store/edits'
import { weaveDrawn, weaveSet } from '../../../store/view'
import {
  changeWeave,
  dropWeave,
  looseWeave,
  moveWeave,
  weaveRange,
} from '../../../store/actions/weave-actions'
import { shownSession } from '../../../store/selectors'
import { useThrottledSelector } from '../../parts/rendering/throttled-selector'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppFields, useAppSelector } from '../../parts/hooks'
import { LengthField } from '../../parts/fields/length-field'
import { PercentField } from '../../parts/fields/percent-field'
import { scaleChange } from '../../../core/units/typed-change'
import { ValueField } from '../../parts/fields/value-field'
import { useKeyWords } from '../../parts/commands/use-key-words'
import { weaveNames } from '../parts/threads/weave-frames'

const paths: Record<WeaveShape, string> = {
  square: 'M1 14V3H10V14H19',
  triangle: 'M1 14L10 2L19 14',
  sine: 'M1 14C6 14 6 2 10 2C14 2 14 14 19 14',
  'ramp-up': 'M1 14L18 2V14',
  'ramp-down': 'M2 14V2L19 14',
  random: 'M1 10H5V4H10V12H14V6H19',
}

/**
 * The values of the weave that is picked, and changes of it; without one those of the next. The last weave of a gain
 * thread is drawn anew with each change while it is selected.
 */
export function WeaveFields({ lane }: { lane: LaneRef }) {
  const keys = useKeyWords()
  const dispatch = useAppDispatch()
  const session = useThrottledSelector(shownSession)!
  const {
    weave: next,
    lastWeave,
    pickedWeave,
  } = useAppFields(({ preferences: { weave }, selection: { lastWeave, pickedWeave } }) => ({
    weave,
    lastWeave,
    pickedWeave,
  }))
  const id = useId()
  const range = useAppSelector((s) => s.selection.range)
  const own = pickedWeave ? weaveOf(session, pickedWeave) : undefined
  const weave: Weave = own ?? next
  const set = (more: Partial<Weave>) => {
    if (own && pickedWeave)
      return void dispatch(changeWeave(pickedWeave, 'Weave', (w) => ({ ...w, ...more })))
    const changed = { ...next, ...more }
    dispatch(weaveSet(changed))
    const thread = lastWeave && threadOf(session, lastWeave.ref)
    if (!lastWeave || !thread) return
    dispatch(
      commit(shapeThread, {
        ref: lastWeave.ref,
        knots: weaveInto(
          lastWeave.before,
          changed,
          lastWeave.from,
          lastWeave.to,
          session.tempo,
          session.sampleRate,
          thread.kind,
        ),
        what: 'Weave',
      }),
    )
    dispatch(weaveDrawn(lastWeave))
  }
  const { period } = weave
  const note =
    'beats' in period ? noteValues.find((n) => Math.abs(n.beats - period.beats) < 1e-9)?.name : undefined
  const { sampleRate } = session
  return (
    <div className="flex flex-col gap-2 border-t border-fold pt-2">
      <p className="text-xs text-soft">
        {own
          ? 'The picked weave'
          : lastWeave
            ? 'Weave, drawn anew as you change it'
            : keys.in('Weave, a repeating pattern: hold [hand-weave] and sweep, or press one that is there')}
      </p>
      <div
        className="flex rounded-lg border border-seam bg-linen"
        role="group"
        aria-label="Shape of the weave"
      >
        {weaveShapes.map((shape) => (
          <button
            key={shape}
            type="button"
            title={weaveNames[shape]}
            aria-label={weaveNames[shape]}
            aria-pressed={weave.shape === shape}
            onClick={() => set({ shape })}
            className="flex-1 rounded-lg p-1.5 hover:bg-white aria-pressed:bg-oak aria-pressed:text-white"
          >
            <svg viewBox="0 0 20 16" className="h-4 w-5" aria-hidden>
              <path
                d={paths[shape]}
                fill="none"
                stroke="currentColor"
                strokeWidth="1.6"
                strokeLinejoin="round"
              />
            </svg>
          </button>
        ))}
      </div>
      <div className="flex items-end gap-2">
        <div className="flex-1">
          <label htmlFor={id} className="mb-0.5 block text-xs text-soft">
            Note value
          </label>
          <select
            id={id}
            value={note ?? 'ms'}
            onChange={(e) =>
              set({
                period:
                  e.target.value === 'ms'
                    ? { ms: 250 }
                    : { beats: noteValues.find((n) => n.name === e.target.value)!.beats },
              })
            }
            className="h-8 w-full rounded-lg border border-seam bg-linen px-1.5 text-sm"
          >
            {noteValues.map((n) => (
              <option key={n.name}>{n.name}</option>
            ))}
            <option value="ms">in milliseconds</option>
          </select>
        </div>
        {'ms' in period && (
          <LengthField
            session={session}
            className="w-24"
            label="Cycle"
            frames={Math.round((period.ms * sampleRate) / 1000)}
            min={Math.ceil(sampleRate * 0.005)}
            max={60 * sampleRate}
            onFrames={(f) => set({ period: { ms: Math.round((f / sampleRate) * 1e5) / 100 } })}
          />
        )}
      </div>
      {own && pickedWeave && <WeaveLimits session={session} picked={pickedWeave} weave={own} />}
      <div className="flex gap-2">
        <PercentField
          className="flex-1"
          label="Phase"
          value={weave.phase}
          min={0}
          max={1}
          what="a phase"
          onValue={(phase) => set({ phase })}
        />
        {weave.shape === 'square' && (
          <PercentField
            className="flex-1"
            label="Duty"
            value={weave.duty}
            min={0}
            max={1}
            what="a duty"
            onValue={(duty) => set({ duty })}
          />
        )}
        {weave.shape === 'random' && (
          <ValueField
            className="flex-1"
            label="Seed"
            shown={String(weave.seed)}
            parse={(t) =>
              /^\s*\d{1,9}\s*$/.test(t)
                ? { ok: true, value: Number(t) }
                : { ok: false, message: 'Type a whole number from 0 to 999999999.' }
            }
            onValue={(seed) => set({ seed })}
            onNudge={(d) => set({ seed: Math.max(0, weave.seed + d) })}
          />
        )}
      </div>
      {!own && range && (
        <Button onClick={() => dispatch(weaveRange(lane, range))}>Weave over the marked range</Button>
      )}
      {own && pickedWeave && (
        <div className="flex gap-2">
          <Button
            className="flex-1"
            title="Makes its knots ordinary ones, which can be picked and moved"
            onClick={() => dispatch(looseWeave(pickedWeave))}
          >
            Detach
          </Button>
          <Button
            className="flex-1"
            title="Takes the weave out: a straight line is left (Delete)"
            onClick={() => dispatch(dropWeave(pickedWeave))}
          >
            <Trash2 size={15} />
            Remove
          </Button>
        </div>
      )}
    </div>
  )
}

/** The limits of a weave, and where it begins and ends. */
function WeaveLimits({ session, picked, weave }: { session: Session; picked: WeaveRef; weave: LaneWeave }) {
  const dispatch = useAppDispatch()
  const { kind } = threadOf(session, picked.ref)!
  const limit = (key: 'low' | 'high', label: string) => (
    <ValueField
      name={`weave-${key}`}
      className="flex-1"
      label={label}
      shown={kind.show(weave[key], 2)}
      parse={(text) => {
        const typed = kind.parse(text)
        if (!typed.ok) return typed
        return (key === 'low' ? typed.value <= weave.high : typed.value >= weave.low)
          ? typed
          : {
              ok: false,
              message: `${label} must not pass ${kind.show(weave[key === 'low' ? 'high' : 'low'])}.`,
            }
      }}
      change={scaleChange(kind, weave[key])}
      onValue={(value) =>
        void dispatch(changeWeave(picked, 'Level of a weave', (w) => ({ ...w, [key]: value })))
      }
    />
  )
  const end = (edge: 'from' | 'to', label: string, min: number, max: number) => (
    <LengthField
      session={session}
      name={`weave-${edge}`}
      className="flex-1"
      label={label}
      as="time"
      bareUnit="s"
      frames={weave[edge]}
      min={min}
      max={max}
      onFrames={(frame) =>
        void dispatch(
          edge === 'from' ? moveWeave(picked, frame, weave.to) : moveWeave(picked, weave.from, frame),
        )
      }
    />
  )
  return (
    <>
      <div className="flex gap-2">
        {limit(kind.upwards ? 'high' : 'low', kind.upwards ? 'High' : 'Leftmost')}
        {limit(kind.upwards ? 'low' : 'high', kind.upwards ? 'Low' : 'Rightmost')}
      </div>
      <div className="flex gap-2">
        {end('from', 'Start', 0, weave.to - 16)}
        {end('to', 'End', weave.from + 16, LIMITS.frames)}
      </div>
    </>
  )
}
