import { clamp } from '../../../core/units/clamp'
import { most } from '../../../core/units/extremes'
import { useEffect, useMemo, useState } from 'react'
import { closeGapsRefusal, cutAndClose, gapsOf, keepParts, type Part } from '../../../core/edit'
import { regionEnd } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import {
  proposedThreshold,
  soundingRegions,
  splitPoints,
  THRESHOLD_DB,
  USUAL_THRESHOLD_DB,
  type SilenceOptions,
} from '../../../core/suggest/silence'
import { parseMeasured, showLength, showMeasured } from '../../../core/units/typed'
import { millisecondPeaks } from '../../../engine/background'
import { commit, dropPreview, preview } from '../../../store/edits'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { Choice, Panel, Tick } from '../../parts/panel'
import { LengthField } from '../../parts/fields/length-field'
import { parseDbAmount } from '../../../core/units/typed-change'
import { ValueField } from '../../parts/fields/value-field'

type What = 'ends' | 'split' | 'cut'

const words: Record<What, string> = {
  ends: 'Trim silence from the ends',
  split: 'Split at every silence',
  cut: 'Cut out all silences',
}

/** Cuts the silent ends off the selected regions, splits them at silences, or cuts silences out. */
export function SilenceDialog({ session, onClose }: { session: Session; onClose(): void }) {
  const dispatch = useAppDispatch()
  const selection = useAppSelector((s) => s.selection.regionIds)
  const base = useAppSelector((s) => s.session.base) ?? session
  const [ids] = useState(() => [...selection])
  const regions = useMemo(() => ids.flatMap((id) => base.regions[id] ?? []), [ids, base.regions])
  const [peaks, setPeaks] = useState<Map<string, Float32Array> | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [what, setWhat] = useState<What>('ends')
  /** Null for the one that follows from the room tone. */
  const [threshold, setThreshold] = useState<number | null>(null)
  const [lengths, setLengths] = useState({ before: 0.02, after: 0.1, shortest: 0.3 })
  const [closes, setCloses] = useState(false)
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

  const proposed = useMemo(() => {
    if (!peaks) return { thresholdDb: USUAL_THRESHOLD_DB, roomDb: null }
    const all = new Float32Array([...peaks.values()].reduce((sum, list) => sum + list.length, 0))
    let at = 0
    for (const list of peaks.values()) {
      all.set(list, at)
      at += list.length
    }
    return proposedThreshold(all)
  }, [peaks])
  const thresholdDb = threshold ?? proposed.thresholdDb
  const { parts, removed, splits, silent } = useMemo(
    () => found(base, peaks, what, { ...lengths, thresholdDb }),
    [base, peaks, what, lengths, thresholdDb],
  )
  const useful = what === 'split' ? splits > 0 : removed > 0
  const closing = what === 'cut' && closes
  const gaps = useMemo(() => (closing ? gapsOf(base, parts) : []), [base, parts, closing])
  const refusal = useMemo(() => closeGapsRefusal(base, gaps), [base, gaps])
  const edit = closing ? cutAndClose : keepParts
  const args = { parts, what: words[what] }
  const wanted = JSON.stringify([what, closes, lengths, thresholdDb, peaks !== null])
  useEffect(() => {
    if (shown && useful) dispatch(preview(edit, args))
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
      frames={Math.round(lengths[key] * rate)}
      min={0}
      max={10 * rate}
      onFrames={(f) => setLengths((l) => ({ ...l, [key]: f / rate }))}
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
            disabled={!useful || refusal !== null}
            onClick={() => {
              dispatch(commit(edit, args))
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
          shown={showMeasured(thresholdDb, 'dBFS')}
          parse={(t) => parseMeasured(t, { ...THRESHOLD_DB, unit: 'dBFS' })}
          change={{
            from: thresholdDb,
            show: (v) => showMeasured(v, 'dBFS'),
            amount: parseDbAmount,
          }}
          onValue={setThreshold}
          onNudge={(d, fine) =>
            setThreshold(clamp(thresholdDb + d * (fine ? 0.1 : 1), THRESHOLD_DB.min, THRESHOLD_DB.max))
          }
          reset={
            threshold === null || threshold === proposed.thresholdDb
              ? undefined
              : { words: showMeasured(proposed.thresholdDb, 'dBFS'), run: () => setThreshold(null) }
          }
        />
        {what === 'ends' ? <span /> : time('shortest', 'Shortest silence')}
        {time('before', 'Kept before a sound')}
        {time('after', 'Kept after a sound')}
      </div>
      {what === 'cut' && (
        <div className="mt-3">
          <Tick checked={closes} onChange={setCloses}>
            Close the gaps on all tracks
          </Tick>
          {closes && (
            <p className="mt-1 text-sm text-soft">
              The time of each gap is removed: other tracks are cut there, too, and what follows moves up.
            </p>
          )}
        </div>
      )}
      <p role="status" className="mt-3 text-sm">
        {problem ??
          (regions.length === 0 || longest === 0
            ? 'Select regions first.'
            : !peaks
              ? 'Listening …'
              : what === 'split'
                ? `${splits} ${splits === 1 ? 'split' : 'splits'}.`
                : removed === 0
                  ? 'No silence below the threshold; raise it.'
                  : `Removes ${showLength(removed, rate)} of silence.`)}
        {proposed.roomDb !== null && ` Room tone at ${showMeasured(proposed.roomDb, 'dBFS')}.`}
        {silent > 0 &&
          ` ${silent === 1 ? '1 region is' : `${silent} regions are`} silent throughout and ${silent === 1 ? 'stays' : 'stay'} as ${silent === 1 ? 'it is' : 'they are'}.`}
      </p>
      {refusal && (
        <p role="alert" className="mt-1 text-sm text-madder">
          {refusal}
        </p>
      )}
    </Panel>
  )
}

/** What a way of dealing with silence would do with measured regions: the parts that stay, and counts for the message. */
function found(
  session: Session,
  peaks: ReadonlyMap<string, Float32Array> | null,
  what: What,
  options: SilenceOptions,
) {
  const parts: Record<string, Part[]> = {}
  let [removed, splits, silent] = [0, 0, 0]
  for (const [id, sounding] of peaks ? soundingRegions(session, peaks, options) : []) {
    const { start, length } = session.regions[id]!
    if (sounding.length === 0) silent++
    else if (what === 'split') {
      const frames = splitPoints(sounding)
      splits += frames.length
      parts[id] = [...frames, start + length].map((to, i) => ({ from: frames[i - 1] ?? start, to }))
    } else {
      parts[id] = what === 'ends' ? [{ from: sounding[0]!.from, to: sounding.at(-1)!.to }] : sounding
      removed += length - parts[id].reduce((sum, p) => sum + p.to - p.from, 0)
    }
  }
  return { parts, removed, splits, silent }
}
