import { changesTowards, type OfferedChange } from '../../core/measure/reach-target'
import type { SoundMeasure } from '../../core/measure/sound-meter'
import { judge, type Requirement, type Target } from '../../core/measure/target'
import type { FileChange } from '../../core/model/file-change'
import { showMeasured } from '../../core/units/typed'
import { Button } from '../parts/button'

const tenths = (value: number) => Math.round(value * 10) / 10
const dbWords = (db: number) => `${db < 0 ? '−' : '+'}${Math.abs(db).toFixed(1)} dB`

/** What is done to a file, in words: "+5.1 dB and a ceiling at −1.0 dBTP". */
export const changeWords = ({ gainDb, ceilingDbtp }: FileChange): string =>
  [
    ...(gainDb === 0 ? [] : [dbWords(gainDb)]),
    ...(ceilingDbtp === null ? [] : [`a ceiling at ${showMeasured(ceilingDbtp, 'dBTP')}`]),
  ].join(' and ')

const same = (a: FileChange | null, b: FileChange | null) =>
  a?.gainDb === b?.gainDb && a?.ceilingDbtp === b?.ceilingDbtp

/** The mix held against the target, and the changes of the file that are offered; the session stays as it is. */
export function MixAgainst({
  target,
  measured,
  with: made,
  change,
  onChange,
  onAgain,
}: {
  target: Target
  measured: Pick<SoundMeasure, 'loudness' | 'truePeak'>
  /** With what change it was measured. */
  with: FileChange | null
  change: FileChange | null
  onChange(change: FileChange | null): void
  onAgain(): void
}) {
  const offered = changesTowards(target, measured, made)
  const chosen = offered.find((offer) => same(offer.change, change))
  const silent = !Number.isFinite(measured.loudness.integrated)
  return (
    <div role="status" aria-label="The mix and its target" className="flex flex-col gap-2">
      <Requirements list={judge(target, measured)} />
      {made && <p className="text-sm text-soft">Measured with {changeWords(made)} on this file.</p>}
      {silent ? (
        <p className="text-sm">The mix is silent, or shorter than 0.4 s: no gain brings it to a loudness.</p>
      ) : offered.length === 1 ? (
        <p className="text-sm">The mix meets this target as it is.</p>
      ) : (
        <fieldset className="flex flex-col gap-1">
          <legend className="mb-1 text-sm font-semibold">Change this file</legend>
          {offered.map((offer) => (
            <label key={JSON.stringify(offer.change)} className="flex cursor-pointer items-baseline gap-2">
              <input
                type="radio"
                name="Change this file"
                checked={same(offer.change, change)}
                onChange={() => onChange(offer.change)}
                className="h-4 w-4 shrink-0 translate-y-0.5 accent-oak"
              />
              <span>
                <span className="font-semibold">
                  {offer.change ? `${changeWords(offer.change)} on this file` : 'No change'}
                </span>{' '}
                <span className="text-sm text-soft">{outcomeWords(offer, target)}</span>
              </span>
            </label>
          ))}
        </fieldset>
      )}
      <div className="flex items-center gap-3">
        <Button kind={chosen?.leadsTo === null ? 'plain' : 'quiet'} onClick={onAgain}>
          {change && !same(change, made) ? 'Measure with this change' : 'Measure again'}
        </Button>
        {change && <span className="text-sm text-soft">The session itself stays as it is.</span>}
      </div>
    </div>
  )
}

/** What comes of a change, as far as it is known. */
function outcomeWords({ change, leadsTo, turnsDownDb }: OfferedChange, target: Target): string {
  if (leadsTo) {
    const peak = tenths(leadsTo.truePeakDb)
    const over = peak > target.ceiling ? ', over the limit' : ''
    return `${showMeasured(tenths(leadsTo.loudness), 'LUFS')}, true peak ${showMeasured(peak, 'dBTP')}${over}`
  }
  if (turnsDownDb !== null)
    return `turns peaks down by up to ${turnsDownDb.toFixed(1)} dB; measure to see the loudness`
  return change ? 'measure to see the loudness' : ''
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
