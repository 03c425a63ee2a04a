import { useState } from 'react'
import { changeMixVolume, endWithCeiling, mixRoomDb } from '../../core/edit'
import {
  gainFor,
  judge,
  TARGET_DBTP,
  TARGET_LUFS,
  type Requirement,
  type Target,
} from '../../core/measure/target'
import type { Session } from '../../core/model/session'
import { showMeasured } from '../../core/units/typed'
import type { Measured } from '../../engine/export-sound'
import { commit } from '../../store/edits'
import { measureWholeMix } from '../../store/export-actions'
import { Button } from '../parts/button'
import { useAppDispatch, useAppSelector } from '../parts/hooks'
import { JobBar } from '../parts/running-jobs'
import { ValueField } from '../parts/value-field'
import { targetOf, type ExportSettings } from './export-settings'
import { typedNumber } from './typed-number'
import type { Span } from './wishes'

const GOALS: readonly { goal: ExportSettings['goal']; name: string; about: string }[] = [
  { goal: 'none', name: 'No target', about: 'The file is measured all the same.' },
  { goal: 'ebu', name: 'EBU R 128 programme', about: '−23 LUFS ±0.5 LU, at most −1 dBTP' },
  { goal: 'typed', name: 'Typed', about: 'such as a streaming service asks for' },
]

/** What the files have to keep, what the mix has of it now, and what would bring it there; nothing is changed unasked. */
export function TargetFields({
  session,
  settings,
  onChange,
  span,
}: {
  session: Session
  settings: ExportSettings
  onChange(change: Partial<ExportSettings>): void
  span: Span
}) {
  const dispatch = useAppDispatch()
  const target = targetOf(settings)
  const [measured, setMeasured] = useState<(Span & { of: Session; is: Measured }) | null>(null)
  const job = useAppSelector((s) => s.jobs.running.find(({ kind }) => kind === 'measure'))
  const measure = async () => {
    const outcome = await dispatch(measureWholeMix(session, span))
    if (outcome.done) setMeasured({ of: session, ...span, is: outcome.value })
  }
  const current =
    measured?.of === session && (['from', 'to', 'tail'] as const).every((key) => measured[key] === span[key])
      ? measured.is
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
                onChange={() => onChange({ goal })}
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
              onValue={(lufs) => onChange({ lufs })}
            />
            <ValueField
              label="Highest true peak"
              className="w-36"
              shown={showMeasured(settings.dbtp, 'dBTP')}
              parse={typedNumber('dBTP', TARGET_DBTP)}
              onValue={(dbtp) => onChange({ dbtp })}
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
                measured={current}
                session={session}
                onAgain={() => void measure()}
              />
            ) : (
              <div className="flex items-center gap-3">
                <Button onClick={() => void measure()}>Measure the mix</Button>
                <span className="text-sm text-soft">
                  {measured
                    ? 'The session has changed since it was measured.'
                    : 'It tells what brings the mix there, before anything is rendered.'}
                </span>
              </div>
            )}
          </div>
        )}
      </div>
    </fieldset>
  )
}

/** The mix held against the target, and what is offered. */
function MixAgainst({
  target,
  measured,
  session,
  onAgain,
}: {
  target: Target
  measured: Measured
  session: Session
  onAgain(): void
}) {
  const dispatch = useAppDispatch()
  const offer = gainFor(target, measured.measure)
  const requirements = judge(target, measured.measure)
  const met = requirements.every(({ passes }) => passes)
  const gain = offer ? Math.round(offer.gainDb * 100) / 100 : 0
  const room = mixRoomDb(session)
  const loudnessMissed = !requirements[0]!.passes
  return (
    <div role="status" aria-label="The mix and its target" className="flex flex-col gap-2">
      <Requirements list={requirements} />
      {met && <p className="text-sm">The mix meets this target as it is.</p>}
      {!offer && <p className="text-sm">The mix is silent: no gain brings it to a loudness.</p>}
      {offer && loudnessMissed && gain <= room && (
        <div className="flex flex-wrap items-center gap-3">
          <Button onClick={() => void dispatch(commit(changeMixVolume, { by: gain }))}>
            {gain < 0 ? 'Lower' : 'Raise'} the volume of the mix by {Math.abs(gain).toFixed(1)} dB
          </Button>
          <span className="text-sm text-soft">
            Its true peak is {showMeasured(Math.round(offer.truePeakDb * 10) / 10, 'dBTP')} then
            {offer.passesCeiling ? ', over the ceiling' : ''}.
          </span>
        </div>
      )}
      {offer && loudnessMissed && gain > room && (
        <p className="text-sm">
          It is {gain.toFixed(1)} dB too soft, and its volume can be raised by {room.toFixed(1)} dB only:
          raise the tracks first.
        </p>
      )}
      {offer && (offer.passesCeiling || !requirements[1]!.passes) && (
        <div className="flex flex-wrap items-center gap-3">
          <Button onClick={() => void dispatch(commit(endWithCeiling, { ceilingDbtp: target.ceiling }))}>
            Put a ceiling of {showMeasured(target.ceiling, 'dBTP')} at the end of the mix
          </Button>
          <span className="text-sm text-soft">
            It holds the peaks down; measure again, for it makes softer, too.
          </span>
        </div>
      )}
      <div>
        <Button kind="quiet" onClick={onAgain}>
          Measure again
        </Button>
      </div>
    </div>
  )
}

/** Each requirement with what is asked, what is there, and whether it passes. */
export function Requirements({ list }: { list: readonly Requirement[] }) {
  return (
    <ul className="flex flex-col gap-0.5 text-sm">
      {list.map(({ what, asked, is, passes }) => (
        <li key={what} className="flex items-baseline gap-2">
          <b className={passes ? 'w-9 text-pine' : 'w-9 text-fault'}>{passes ? 'pass' : 'fail'}</b>
          <span>
            {what} <span className="font-mono">{is}</span>
            <span className="text-soft">, asked {asked}</span>
          </span>
        </li>
      ))}
    </ul>
  )
}
