import { Fragment } from 'react'
import { balanceOf, levelOf, showLevel } from '../../../core/measure/region-meter'
import type { Region, Session } from '../../../core/model/session'
import { showDb } from '../../../core/units/typed'
import { dialogShown } from '../../../store/view'
import { useAppDispatch } from '../../parts/hooks'
import { useMeasured } from '../parts/watch/use-measured'

/** What the selected regions measure as they leave their gain stages. */
export function RegionLevels({ session, regions }: { session: Session; regions: readonly Region[] }) {
  const measures = useMeasured(session, regions)
  const [region, measure] = [regions[0], measures[0]]
  const dispatch = useAppDispatch()
  if (regions.length !== 1 || !region) return null
  const balance = measure ? balanceOf(measure, 'loudness') : null
  const rows: [string, string, boolean][] = measure
    ? (['loudness', 'peak', 'true-peak'] as const).map((kind) => {
        const level = levelOf(measure, kind, region.clipGainDb)
        return [
          { loudness: 'Loudness', peak: 'Peak', 'true-peak': 'True peak' }[kind],
          kind === 'loudness' && !Number.isFinite(level) && measure.peak > 0
            ? 'under 0.4 s'
            : showLevel(level, kind),
          kind !== 'loudness' && level > 0,
        ]
      })
    : [['Loudness', '…', false]]
  return (
    <dl className="mt-2 grid grid-cols-[1fr_auto] gap-y-0.5 text-sm" aria-label="Measured">
      {rows.map(([name, text, over]) => (
        <Fragment key={name}>
          <dt className="text-soft">{name}</dt>
          <dd className={`font-mono text-xs leading-5 ${over ? 'font-bold text-fault' : ''}`}>{text}</dd>
        </Fragment>
      ))}
      {measure?.sides && (
        <>
          <dt className="text-soft">Left − right</dt>
          <dd>
            <button
              type="button"
              title={
                measure.against.length
                  ? 'Left and right cancel each other: see where, and what cures it'
                  : 'Balance and polarity of left and right'
              }
              onClick={() => void dispatch(dialogShown('sides'))}
              className={`rounded font-mono text-xs leading-5 underline decoration-seam underline-offset-2 hover:bg-fold ${measure.against.length ? 'font-bold text-fault' : ''}`}
            >
              {measure.against.length
                ? 'cancel'
                : balance === null
                  ? '—'
                  : showDb(Math.round(balance * 10) / 10)}
            </button>
          </dd>
        </>
      )}
    </dl>
  )
}
