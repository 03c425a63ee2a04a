import { most } from '../../../core/units/extremes'
import { useEffect, useMemo, useState } from 'react'
import { setClipGains } from '../../../core/edit'
import { levelOf, levelUnits, showLevel, type LevelKind } from '../../../core/measure/region-meter'
import { regionsOf } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import { meanLevel, proposeMatch, type MatchProposal } from '../../../core/suggest/match'
import { parseMeasured, showDb } from '../../../core/units/typed'
import { commit, dropPreview, preview } from '../../../store/edits'
import { parseDbAmount } from '../../../core/units/typed-change'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { Choice, Panel, Tick } from '../../parts/panel'
import { ValueField } from '../../parts/fields/value-field'
import { useMeasured } from '../parts/watch/use-measured'

const held: Record<NonNullable<MatchProposal['held']>, string> = {
  silent: 'silent',
  'too-short': 'under 0.4 s, has no loudness',
  ceiling: 'held at the ceiling',
  range: 'at the end of the range',
}

type Target = 'typed' | 'reference' | 'others'

/**
 * Sets the clip gain of the selected regions so that each has the level of a reference, of its neighbours, or
 * a typed one.
 */
export function MatchDialog({ session, onClose }: { session: Session; onClose(): void }) {
  const dispatch = useAppDispatch()
  const selection = useAppSelector((s) => s.selection.regionIds)
  // What is previewed changes clip gains; proposals are made from what was there before.
  const base = useAppSelector((s) => s.session.base) ?? session
  const regions = useMemo(() => selection.flatMap((id) => base.regions[id] ?? []), [selection, base.regions])
  const [kind, setKind] = useState<LevelKind>('loudness')
  const [to, setTo] = useState<Target>('typed')
  const [typed, setTyped] = useState<Record<LevelKind, number>>({
    loudness: -23,
    rms: -26,
    peak: -6,
    'true-peak': -1,
  })
  const [referenceId, setReferenceId] = useState<string | null>(null)
  const [ceiling, setCeiling] = useState(-1)
  const [overload, setOverload] = useState(false)
  const [hold, setHold] = useState(false)
  const [shown, setShown] = useState(true)

  const loudest = kind === 'true-peak'
  const others = useMemo(() => {
    const chosen = new Set(selection)
    return to === 'others'
      ? [...new Set(regions.map((r) => r.trackId))]
          .flatMap((id) => regionsOf(base, id))
          .filter((r) => !chosen.has(r.id))
      : []
  }, [to, regions, base, selection])
  const reference = base.regions[referenceId ?? selection[0] ?? '']
  const measures = useMeasured(base, regions)
  const otherMeasures = useMeasured(base, others)
  const [referenceMeasure] = useMeasured(
    base,
    useMemo(() => (reference ? [reference] : []), [reference]),
  )

  const targetFor = (region: Region): number => {
    if (loudest) return ceiling
    if (to === 'typed') return typed[kind]
    if (to === 'reference')
      return reference && referenceMeasure ? levelOf(referenceMeasure, kind, reference.clipGainDb) : NaN
    return meanLevel(
      others.flatMap((r, i) =>
        r.trackId === region.trackId && otherMeasures[i]
          ? [levelOf(otherMeasures[i]!, kind, r.clipGainDb)]
          : [],
      ),
    )
  }
  const ready =
    measures.every((m) => m !== null) &&
    (to !== 'others' || loudest || otherMeasures.every((m) => m !== null)) &&
    (to !== 'reference' || loudest || referenceMeasure)
  const proposals = ready
    ? regions.flatMap((region, i) => {
        const targetDb = targetFor(region)
        if (!Number.isFinite(targetDb) || (!loudest && to === 'reference' && region.id === reference?.id))
          return []
        return proposeMatch([{ regionId: region.id, clipGainDb: region.clipGainDb, measure: measures[i]! }], {
          kind,
          targetDb,
          ceilingDb: loudest ? ceiling : hold ? ceiling : 0,
          hold: loudest || hold,
        })
      })
    : []
  const gains = Object.fromEntries(
    proposals.filter((p) => p.toDb !== p.fromDb).map((p) => [p.regionId, p.toDb]),
  )
  const changes = Object.keys(gains).length
  const over = proposals.filter((p) => p.overDb > 0)
  const what = loudest ? 'Loudest without clipping of' : 'Match'
  const key = JSON.stringify(gains)

  useEffect(() => {
    if (shown && changes)
      dispatch(preview(setClipGains, { gains: JSON.parse(key) as Record<string, number>, what }))
    else dispatch(dropPreview())
  }, [dispatch, key, shown, changes, what])

  const close = () => {
    dispatch(dropPreview())
    onClose()
  }
  const apply = () => {
    dispatch(commit(setClipGains, { gains, what }))
    onClose()
  }
  const list = proposals.slice(0, 200)
  return (
    <Panel
      wide
      title="Match levels"
      about={`Sets the clip gain of ${regions.length === 1 ? 'the selected region' : `the ${regions.length} selected regions`}; what will change is shown first.`}
      onClose={close}
      footer={
        <>
          <Tick checked={shown} onChange={setShown}>
            Preview
          </Tick>
          <span className="flex-1" />
          <Button onClick={close}>Cancel</Button>
          <Button kind="solid" disabled={changes === 0} onClick={apply}>
            {changes === 1 ? 'Change 1 region' : `Change ${changes} regions`}
          </Button>
        </>
      }
    >
      <div className="flex flex-col gap-3">
        <Choice
          label="What is matched"
          value={kind}
          onChange={setKind}
          options={[
            { value: 'loudness', text: 'Loudness' },
            { value: 'rms', text: 'RMS' },
            { value: 'peak', text: 'Peak' },
            { value: 'true-peak', text: 'Loudest without clipping' },
          ]}
        />
        {loudest ? (
          <div className="flex items-end gap-4">
            <ValueField
              label="Ceiling (true peak)"
              className="w-36"
              shown={showLevel(ceiling, 'true-peak')}
              change={{ from: ceiling, show: (v) => showLevel(v, 'true-peak'), amount: parseDbAmount }}
              parse={(t) => parseMeasured(t, { min: -40, max: overload ? 12 : 0, unit: 'dBTP' })}
              onValue={setCeiling}
            />
            <div className="pb-1.5">
              <Tick
                checked={overload}
                onChange={(on) => {
                  setOverload(on)
                  if (!on) setCeiling((c) => Math.min(0, c))
                }}
              >
                Allow overload (a ceiling above 0 dBTP)
              </Tick>
            </div>
          </div>
        ) : (
          <>
            <Choice
              label="To which level"
              value={to}
              onChange={setTo}
              options={[
                { value: 'typed', text: 'A typed level' },
                { value: 'reference', text: 'A reference region' },
                { value: 'others', text: 'The others on its track' },
              ]}
            />
            <div className="flex items-end gap-4">
              {to === 'typed' && (
                <ValueField
                  name="match-target"
                  label={`Level in ${levelUnits[kind]}`}
                  className="w-36"
                  shown={showLevel(typed[kind], kind)}
                  change={{ from: typed[kind], show: (v) => showLevel(v, kind), amount: parseDbAmount }}
                  parse={(t) => parseMeasured(t, { min: -60, max: 0, unit: levelUnits[kind] })}
                  onValue={(level) => setTyped((all) => ({ ...all, [kind]: level }))}
                />
              )}
              {to === 'reference' && (
                <label className="text-xs text-soft">
                  Reference
                  <select
                    value={reference?.id ?? ''}
                    onChange={(e) => setReferenceId(e.target.value)}
                    className="mt-0.5 block h-8 w-56 rounded-lg border border-seam bg-linen px-2 text-sm text-ink"
                  >
                    {[
                      ...regions,
                      ...(reference && !regions.includes(reference) ? [reference] : []),
                      ...(regions[0]
                        ? regionsOf(base, regions[0].trackId).filter(
                            (r) => !regions.includes(r) && r !== reference,
                          )
                        : []),
                    ].map((r) => (
                      <option key={r.id} value={r.id}>
                        {r.name}
                        {referenceMeasure && r.id === reference?.id
                          ? ` (${showLevel(levelOf(referenceMeasure, kind, r.clipGainDb), kind)})`
                          : ''}
                      </option>
                    ))}
                  </select>
                </label>
              )}
              {to === 'others' && (
                <p className="pb-1.5 text-sm text-soft">
                  {others.length
                    ? `${others.length} other ${others.length === 1 ? 'region' : 'regions'}`
                    : 'All regions of the track are selected; leave out those to match to.'}
                </p>
              )}
              <div className="pb-1.5">
                <Tick checked={hold} onChange={setHold}>
                  Stop at a ceiling
                </Tick>
              </div>
              {hold && (
                <ValueField
                  label="Ceiling (true peak)"
                  className="w-28"
                  shown={showLevel(ceiling, 'true-peak')}
                  change={{ from: ceiling, show: (v) => showLevel(v, 'true-peak'), amount: parseDbAmount }}
                  parse={(t) => parseMeasured(t, { min: -40, max: 0, unit: 'dBTP' })}
                  onValue={setCeiling}
                />
              )}
            </div>
          </>
        )}
        {!ready && (
          <p role="status" className="text-sm text-soft">
            Measuring{' '}
            {measures.filter((m) => m === null).length + otherMeasures.filter((m) => m === null).length}{' '}
            regions …
          </p>
        )}
        {ready && over.length > 0 && (
          <p role="alert" className="text-sm font-medium text-madder">
            {over.length === 1 ? '1 region' : `${over.length} regions`} would peak above{' '}
            {loudest || hold ? 'the ceiling' : '0 dBFS'}, by up to{' '}
            {showDb(most(over, (p) => p.overDb)).replace('+', '')}. “Stop at a ceiling” prevents it.
          </p>
        )}
        {regions.length === 0 && (
          <p className="text-sm text-soft">Select regions first: click, Shift-click, or sweep.</p>
        )}
        {list.length > 0 && (
          <table className="w-full text-sm">
            <thead>
              <tr className="text-right text-xs text-soft">
                <th className="py-1 text-left font-normal">Region</th>
                <th className="font-normal">Now</th>
                <th className="font-normal">Change</th>
                <th className="font-normal">Then</th>
                <th className="font-normal">True peak</th>
              </tr>
            </thead>
            <tbody>
              {list.map((p) => (
                <tr key={p.regionId} className="border-t border-fold text-right font-mono text-xs">
                  <td className="max-w-44 truncate py-1 pr-2 text-left font-sans text-sm">
                    {base.regions[p.regionId]!.name}
                  </td>
                  <td>{showLevel(p.before, kind)}</td>
                  <td className="font-bold">{showDb(Math.round((p.toDb - p.fromDb) * 100) / 100)}</td>
                  <td>
                    {p.held ? (
                      <span className="font-sans text-soft">{held[p.held]}</span>
                    ) : (
                      showLevel(p.after, kind)
                    )}
                  </td>
                  <td className={p.overDb > 0 ? 'font-bold text-fault' : ''}>
                    {showLevel(p.peakDb, 'true-peak')}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {proposals.length > list.length && (
          <p className="text-xs text-soft">and {proposals.length - list.length} more</p>
        )}
      </div>
    </Panel>
  )
}
