import { useState } from 'react'
import { TARGET_DBTP, TARGET_LUFS } from '../../core/measure/target'
import type { FileChange } from '../../core/model/file-change'
import type { Session } from '../../core/model/session'
import { showMeasured } from '../../core/units/typed'
import type { MeasuredMix } from '../../core/suggest/report'
import { measureWholeMix } from '../../store/actions/export-actions'
import { Button } from '../parts/button'
import { useAppDispatch, useAppSelector } from '../parts/hooks'
import { JobBar } from '../parts/messages/running-jobs'
import { ValueField } from '../parts/fields/value-field'
import { targetOf, type ExportSettings } from './export-settings'
import { MixAgainst } from './file-change'
import { typedNumber } from './typed-number'
import type { Span } from './export-pieces'

const GOALS: readonly { goal: ExportSettings['goal']; name: string; about: string }[] = [
  { goal: 'none', name: 'No target', about: 'The file is measured all the same.' },
  { goal: 'ebu', name: 'EBU R 128 programme', about: '−23 LUFS ±0.5 LU, at most −1 dBTP' },
  { goal: 'typed', name: 'Typed', about: 'such as a streaming service asks for' },
]

/** What the files have to keep, what the mix has of it now, and what would bring it there; nothing is changed unasked. */
export function TargetFields({
  session,
  settings,
  onSettings,
  span,
  change,
  onChange,
}: {
  session: Session
  settings: ExportSettings
  onSettings(change: Partial<ExportSettings>): void
  span: Span
  /** What is done to the mix in the file. */
  change: FileChange | null
  onChange(change: FileChange | null): void
}) {
  const dispatch = useAppDispatch()
  const target = targetOf(settings)
  const [measured, setMeasured] = useState<
    (Span & { of: Session; with: FileChange | null; is: MeasuredMix }) | null
  >(null)
  const job = useAppSelector((s) => s.jobs.running.find(({ kind }) => kind === 'measure'))
  const measure = async () => {
    const outcome = await dispatch(measureWholeMix(session, span, change))
    if (outcome.done) setMeasured({ of: session, ...span, with: change, is: outcome.value })
  }
  const current =
    measured?.of === session && (['from', 'to', 'tail'] as const).every((key) => measured[key] === span[key])
      ? measured
      : null
  return (
    <fieldset className="mb-5">
      <legend className="mb-2 text-lg font-bold">Target</legend>
      <div className="rounded-2xl border border-seam bg-cloth/60 p-3">
        <div className="flex flex-wrap gap-x-4 gap-y-1">
          {GOALS.map(({ goal, name, about }) => (
            <label key={goal} className="flex cursor-pointer items-center gap-2" title={about}>
              <input
                type="radio"
                name="Target"
                checked={settings.goal === goal}
                onChange={() => onSettings({ goal })}
                className="h-4 w-4 accent-oak"
              />
              <span className="font-semibold">{name}</span>
            </label>
          ))}
        </div>
        {settings.goal === 'typed' && (
          <div className="mt-2 flex gap-3">
            <ValueField
              label="Loudness"
              className="w-36"
              shown={showMeasured(settings.lufs, 'LUFS')}
              parse={typedNumber('LUFS', TARGET_LUFS)}
              onValue={(lufs) => onSettings({ lufs })}
            />
            <ValueField
              label="Highest true peak"
              className="w-36"
              shown={showMeasured(settings.dbtp, 'dBTP')}
              parse={typedNumber('dBTP', TARGET_DBTP)}
              onValue={(dbtp) => onSettings({ dbtp })}
            />
          </div>
        )}
        {target && (
          <div className="mt-3">
            {job ? (
              <JobBar job={job} />
            ) : current ? (
              <MixAgainst
                target={target}
                measured={current.is.measure}
                with={current.with}
                change={change}
                onChange={onChange}
                onAgain={() => void measure()}
              />
            ) : (
              <div className="flex items-center gap-3">
                <Button onClick={() => void measure()}>Measure the mix</Button>
                <span className="text-sm text-soft">
                  {measured
                    ? 'The session has changed since you measured it.'
                    : 'Shows how far the mix is from the target, and what gets the file there.'}
                </span>
              </div>
            )}
          </div>
        )}
      </div>
    </fieldset>
  )
}
