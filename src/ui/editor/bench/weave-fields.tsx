import { useId } from 'react'
import { noteValues, weaveInto, weaveShapes, type Weave, type WeaveShape } from '../../../core/curve/weave'
import { shapeThread, threadOf } from '../../../core/edit'
import type { Session } from '../../../core/model/session'
import { parseLength, parsePercent } from '../../../core/units/typed'
import { commit } from '../../../store/edits'
import { weaveDrawn, weaveSet } from '../../../store/view-slice'
import { useAppDispatch, useAppFields } from '../../parts/hooks'
import { ValueField } from '../../parts/value-field'

const names: Record<WeaveShape, string> = {
  square: 'Square',
  triangle: 'Triangle',
  sine: 'Sine',
  'ramp-up': 'Ramp up',
  'ramp-down': 'Ramp down',
  random: 'Random',
}
const paths: Record<WeaveShape, string> = {
  square: 'M1 14V3H10V14H19',
  triangle: 'M1 14L10 2L19 14',
  sine: 'M1 14C6 14 6 2 10 2C14 2 14 14 19 14',
  'ramp-up': 'M1 14L18 2V14',
  'ramp-down': 'M2 14V2L19 14',
  random: 'M1 10H5V4H10V12H14V6H19',
}

/** The settings of weaves. The last weave is redrawn with each change while it is selected. */
export function WeaveFields({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const { weave, lastWeave } = useAppFields(({ view: { weave, lastWeave } }) => ({ weave, lastWeave }))
  const id = useId()
  const set = (more: Partial<Weave>) => {
    const next = { ...weave, ...more }
    dispatch(weaveSet(next))
    const thread = lastWeave && threadOf(session, lastWeave.ref)
    if (!lastWeave || !thread) return
    dispatch(
      commit(shapeThread, {
        ref: lastWeave.ref,
        knots: weaveInto(
          lastWeave.before,
          next,
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
        {lastWeave ? 'Weave, drawn anew as you change it' : 'Weave: hold W and sweep'}
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
            title={names[shape]}
            aria-label={names[shape]}
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
          <ValueField
            className="w-24"
            label="Cycle"
            shown={`${period.ms} ms`}
            parse={(t) =>
              parseLength(
                t,
                { sampleRate, bpm: session.tempo[0]!.bpm },
                { min: Math.ceil(sampleRate * 0.005), max: 60 * sampleRate },
              )
            }
            onValue={(f) => set({ period: { ms: Math.round((f / sampleRate) * 1e5) / 100 } })}
          />
        )}
      </div>
      <div className="flex gap-2">
        <ValueField
          className="flex-1"
          label="Phase"
          shown={`${Math.round(weave.phase * 100)} %`}
          parse={(t) => parsePercent(t, { min: 0, max: 1 }, 'a phase')}
          onValue={(phase) => set({ phase })}
        />
        {weave.shape === 'square' && (
          <ValueField
            className="flex-1"
            label="Duty"
            shown={`${Math.round(weave.duty * 100)} %`}
            parse={(t) => parsePercent(t, { min: 0, max: 1 }, 'a duty')}
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
    </div>
  )
}
