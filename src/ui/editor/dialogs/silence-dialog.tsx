import { most } from '../../../core/units/extremes'
import { useEffect, useMemo, useState } from 'react'
import { keepParts, splitRegions, type Part } from '../../../core/edit'
import { regionEnd } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { soundingParts, splitPoints } from '../../../core/suggest/silence'
import { parseMeasured, showLength, showMeasured } from '../../../core/units/typed'
import { millisecondPeaks } from '../../../engine/analysis'
import { commit, dropPreview, preview } from '../../../store/edits'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { Choice, Panel, Tick } from '../../parts/panel'
import { LengthField } from '../../parts/length-field'
import { parseDbAmount } from '../../../core/units/typed-change'
import { ValueField } from '../../parts/value-field'

type What = 'ends' | 'split' | 'cut'

const words: Record<What, string> = {
  ends: 'Trim silence from the ends',
  split: 'Split at every silence',
  cut: 'Cut every silence out',
}

/** Cuts the silent ends off the selected regions, splits them at silences, or cuts silences out. */
export function SilenceDialog({ session, onClose }: { session: Session; onClose(): void }) {
  const dispatch = useAppDispatch()
  const selection = useAppSelector((s) => s.view.selection)
  const base = useAppSelector((s) => s.session.base) ?? session
  const [ids] = useState(() => [...selection])
  const regions = useMemo(() => ids.flatMap((id) => base.regions[id] ?? []), [ids, base.regions])
  const [peaks, setPeaks] = useState<Map<string, Float32Array> | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [what, setWhat] = useState<What>('ends')
  const [options, setOptions] = useState({ thresholdDb: -54, before: 0.02, after: 0.1, shortest: 0.3 })
  const [shown, setShown] = useState(true)
  const rate = base.sampleRate

  useEffect(() => {
    let over = false
    Promise.all(regions.map(async (r) => [r.id, await millisecondPeaks(base, r)] as const)).then(
      (list) => !over && setPeaks(new Map(list)),
      (error: unknown) => !over && setProblem(String(error)),
    )
    return () => void (over = true)
    // Measured once, when the dialog opens.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [])

  const parts: Record<string, Part[]> = {}
  const frames: number[] = []
  let removed = 0
  let silent = 0
  if (peaks)
    for (const r of regions) {
      const found = soundingParts(peaks.get(r.id)!, rate, r.length, options).map((p) => ({
        from: r.start + p.from,
        to: r.start + p.to,
      }))
      if (found.length === 0) {
        silent++
        continue
      }
      parts[r.id] = what === 'ends' ? [{ from: found[0]!.from, to: found.at(-1)!.to }] : found
      for (const frame of splitPoints(found)) frames.push(frame)
      removed +=
        r.length - (what === 'split' ? r.length : parts[r.id]!.reduce((sum, p) => sum + p.to - p.from, 0))
    }
  const useful = what === 'split' ? frames.length > 0 : removed > 0
  const wanted = JSON.stringify([what, options, peaks !== null])
  const split = { regionIds: ids, frames }
  const keep = { parts, what: words[what] }
  useEffect(() => {
    if (shown && useful) dispatch(what === 'split' ? preview(splitRegions, split) : preview(keepParts, keep))
    else dispatch(dropPreview())
    // What is run follows from what `wanted` names.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [dispatch, wanted, shown, useful])

  const close = () => {
    dispatch(dropPreview())
    onClose()
  }
  const time = (key: 'before' | 'after' | 'shortest', label: string) => (
    <LengthField
      session={base}
      label={label}
      frames={Math.round(options[key] * rate)}
      min={0}
      max={10 * rate}
      onFrames={(f) => setOptions((o) => ({ ...o, [key]: f / rate }))}
    />
  )
  const longest = Math.max(0, most(regions, regionEnd))
  return (
    <Panel
      title="Silence"
      about="What stays under the threshold counts as silence. Nothing is lost: cut sound can be pulled out again at the edges."
      onClose={close}
      footer={
        <>
          <Tick checked={shown} onChange={setShown}>
            Preview
          </Tick>
          <span className="flex-1" />
          <Button onClick={close}>Cancel</Button>
          <Button
            kind="solid"
            disabled={!useful}
            onClick={() => {
              dispatch(what === 'split' ? commit(splitRegions, split) : commit(keepParts, keep))
              onClose()
            }}
          >
            {words[what]}
          </Button>
        </>
      }
    >
      <Choice
        label="What to do"
        value={what}
        onChange={setWhat}
        options={[
          { value: 'ends', text: 'Trim the ends' },
          { value: 'split', text: 'Split' },
          { value: 'cut', text: 'Cut out' },
        ]}
      />
      <div className="mt-3 grid grid-cols-2 gap-3">
        <ValueField
          name="silence-threshold"
          label="Threshold"
          shown={showMeasured(options.thresholdDb, 'dBFS')}
          parse={(t) => parseMeasured(t, { min: -90, max: -6, unit: 'dBFS' })}
          change={{
            from: options.thresholdDb,
            show: (v) => showMeasured(v, 'dBFS'),
            amount: parseDbAmount,
          }}
          onValue={(thresholdDb) => setOptions((o) => ({ ...o, thresholdDb }))}
          onNudge={(d, fine) =>
            setOptions((o) => ({
              ...o,
              thresholdDb: Math.max(-90, Math.min(-6, o.thresholdDb + d * (fine ? 0.1 : 1))),
            }))
          }
        />
        {what === 'ends' ? <span /> : time('shortest', 'Shortest silence')}
        {time('before', 'Kept before a sound')}
        {time('after', 'Kept after a sound')}
      </div>
      <p role="status" className="mt-3 text-sm">
        {problem ??
          (regions.length === 0 || longest === 0
            ? 'Select regions first.'
            : !peaks
              ? 'Listening …'
              : what === 'split'
                ? `${frames.length} ${frames.length === 1 ? 'split' : 'splits'}.`
                : `${showLength(removed, rate)} of silence goes.`)}
        {silent > 0 &&
          ` ${silent === 1 ? '1 region is' : `${silent} regions are`} silent throughout and ${silent === 1 ? 'stays' : 'stay'} as ${silent === 1 ? 'it is' : 'they are'}.`}
      </p>
    </Panel>
  )
}
