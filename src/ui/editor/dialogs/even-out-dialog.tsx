import { clamp } from '../../../core/units/clamp'
import { least, most } from '../../../core/units/extremes'
import { useEffect, useMemo, useState } from 'react'
import { shapeThreads, threadOf, type ThreadRef } from '../../../core/edit'
import { regionEnd } from '../../../core/model/queries'
import type { Knot, Region, Session } from '../../../core/model/session'
import {
  evenOutThread,
  findPhrases,
  medianLoudness,
  multiplyThreads,
  phraseGain,
  PHRASE_STEP_SECONDS,
  type Phrase,
  type PhraseSteps,
} from '../../../core/suggest/even-out'
import { noiseAndSignal, type NoiseAndSignal } from '../../../core/suggest/noise-floor'
import { parseDepth, parseLevel, parseMeasured, showDb, showMeasured } from '../../../core/units/typed'
import { phraseSteps } from '../../../engine/background'
import { commit, dropPreview, preview } from '../../../store/edits'
import { getPlayer, loopOver } from '../../../store/playback/playback'
import { parseDbAmount } from '../../../core/units/typed-change'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { Panel, Tick } from '../../parts/panel'
import { ValueField } from '../../parts/fields/value-field'

const NO_STEPS: PhraseSteps = { powers: [], voicing: null }

/** The shortest ramp from a phrase's gain to the next one's, in seconds. */
const RAMP = 0.03

/** One region per gain thread, since linked copies share theirs. */
function distinct(regions: readonly Region[]): Region[] {
  const seen = new Set<string>()
  return regions.filter(
    (r) => r.gainThreadId === null || (!seen.has(r.gainThreadId) && seen.add(r.gainThreadId)),
  )
}

/** The gain thread a region would get: its own with the evening out applied, in source frames. */
function shaped(
  session: Session,
  region: Region,
  phrases: readonly Phrase[],
  gains: readonly number[],
): { ref: ThreadRef; knots: Knot[] } {
  const ref: ThreadRef = { kind: 'region', regionId: region.id }
  const made = evenOutThread(phrases, gains, Math.round(RAMP * session.sampleRate))
  const placed = made.map((k) => ({
    ...k,
    frame: region.reversed ? region.offset + region.length - 1 - k.frame : region.offset + k.frame,
  }))
  return {
    ref,
    knots: multiplyThreads(threadOf(session, ref)!.knots, region.reversed ? placed.reverse() : placed),
  }
}

const percent = (text: string) => {
  const n = Number(text.trim().replace(/ ?%$/, ''))
  return /\d/.test(text) && n >= 0 && n <= 100
    ? { ok: true as const, value: n }
    : { ok: false as const, message: 'Type a percentage from 0 % to 100 %.' }
}

/** The detected noise and speech levels, with a warning when they can hardly be told apart. */
function LevelsFound({ levels: { noise, signal, apart } }: { levels: NoiseAndSignal }) {
  if (signal === null) return null
  const between =
    noise === null ? 'no steady noise between its words' : `noise at ${showMeasured(noise, 'LUFS')}`
  return (
    <p className="mt-1 text-sm text-soft">
      Speech at {showMeasured(signal, 'LUFS')}, {between}.
      {!apart && (
        <span role="alert" className="block font-medium text-fault">
          Phrases can hardly be told from the noise here. Set the floor by hand, or even out fewer regions at
          once.
        </span>
      )}
    </p>
  )
}

/**
 * Finds the phrases of the selected regions and brings them closer together in loudness, by a gain thread
 * with few knots.
 */
export function EvenOutDialog({ session, onClose }: { session: Session; onClose(): void }) {
  const dispatch = useAppDispatch()
  const selection = useAppSelector((s) => s.selection.regionIds)
  const base = useAppSelector((s) => s.session.base) ?? session
  const regions = useMemo(
    () => distinct(selection.flatMap((id) => base.regions[id] ?? [])),
    [selection, base.regions],
  )
  const [steps, setSteps] = useState<Map<string, PhraseSteps> | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [floor, setFloor] = useState<number | null>(null)
  const [options, setOptions] = useState({ percent: 100, boostDb: 12, cutDb: 18 })
  const [shown, setShown] = useState(true)
  const key = regions.map((r) => r.id).join(' ')

  useEffect(() => {
    let over = false
    Promise.all(regions.map(async (r) => [r.id, await phraseSteps(base, r)] as const)).then(
      (list) => !over && setSteps(new Map(list)),
      (error: unknown) => !over && setProblem(String(error)),
    )
    return () => void (over = true)
    // Asked anew only for other regions; what is previewed here does not change what was measured.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key])

  const levels = useMemo(
    () =>
      noiseAndSignal(steps ? [...steps.values()].flatMap(({ powers }) => powers) : [], PHRASE_STEP_SECONDS),
    [steps],
  )
  const floorLufs = floor ?? levels.floor
  const phrases = steps
    ? regions.map((r) => findPhrases(steps.get(r.id) ?? NO_STEPS, base.sampleRate, floorLufs))
    : []
  const all = phrases.flat()
  const median = medianLoudness(all)
  const gains = phrases.map((list) => list.map((p) => phraseGain(p, median, options)))
  const threads = steps
    ? regions.flatMap((r, i) => (phrases[i]?.length ? [shaped(base, r, phrases[i]!, gains[i]!)] : []))
    : []
  const before = all.map((p) => p.loudness)
  const after = phrases.flatMap((list, i) => list.map((p, n) => p.loudness + gains[i]![n]!))
  const spread = (list: readonly number[]) => most(list, Number) - least(list, Number)
  const knots = threads.reduce((sum, t) => sum + t.knots.length, 0)
  const useful = all.length > 1 && gains.flat().some((g) => Math.abs(g) >= 0.05)
  const wanted = JSON.stringify([floorLufs, options, key, steps !== null])

  useEffect(() => {
    if (shown && useful) dispatch(preview(shapeThreads, { threads, what: 'Even out' }))
    else dispatch(dropPreview())
    // The threads follow from what `wanted` names.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [dispatch, wanted, shown, useful])

  const close = () => {
    dispatch(dropPreview())
    onClose()
  }
  const hear = () => {
    dispatch(
      loopOver(
        least(regions, (r) => r.start),
        most(regions, regionEnd),
      ),
    )
    if (!getPlayer()?.playing) void getPlayer()?.play()
  }
  return (
    <Panel
      title="Even out"
      about="Brings the phrases of the selected regions towards the one in the middle, by a gain thread that stays editable."
      onClose={close}
      footer={
        <>
          <Button onClick={hear} disabled={regions.length === 0}>
            Hear in a loop
          </Button>
          <span className="flex-1" />
          <Button onClick={close}>Cancel</Button>
          <Button
            kind="solid"
            disabled={!useful}
            onClick={() => {
              dispatch(commit(shapeThreads, { threads, what: 'Even out' }))
              onClose()
            }}
          >
            Even out
          </Button>
        </>
      }
    >
      <div className="grid grid-cols-2 gap-3">
        <ValueField
          label="How far"
          shown={`${options.percent} %`}
          parse={percent}
          change={{ from: options.percent, show: (v) => `${v} %`, amount: percent }}
          onValue={(value) => setOptions((o) => ({ ...o, percent: value }))}
          onNudge={(d) => setOptions((o) => ({ ...o, percent: clamp(o.percent + d * 10, 0, 100) }))}
        />
        <ValueField
          label="Floor: quieter is not raised"
          shown={showMeasured(floorLufs, 'LUFS')}
          parse={(t) => parseMeasured(t, { min: -70, max: -10, unit: 'LUFS' })}
          change={{ from: floorLufs, show: (v) => showMeasured(v, 'LUFS'), amount: parseDbAmount }}
          onValue={(db) => setFloor(db)}
          onNudge={(d) => setFloor(clamp(floorLufs + d, -70, -10))}
        />
        <ValueField
          label="Raise at most"
          shown={showDb(options.boostDb)}
          parse={(t) => parseLevel(t, { min: 0, max: 24 })}
          change={{ from: options.boostDb, show: showDb, amount: parseDbAmount }}
          onValue={(db) => setOptions((o) => ({ ...o, boostDb: db! }))}
        />
        <ValueField
          label="Lower at most"
          shown={showDb(-options.cutDb)}
          parse={(t) => parseDepth(t, 36)}
          change={{ from: -options.cutDb, show: showDb, amount: parseDbAmount }}
          onValue={(cutDb) => setOptions((o) => ({ ...o, cutDb }))}
        />
      </div>
      <div className="mt-3">
        <Tick checked={shown} onChange={setShown}>
          Preview
        </Tick>
      </div>
      <p role="status" className="mt-3 text-sm">
        {problem ??
          (regions.length === 0
            ? 'Select the regions to even out.'
            : !steps
              ? 'Looking for phrases …'
              : all.length < 2
                ? 'Fewer than two phrases were found above the floor; lower the floor to find more.'
                : `${all.length} phrases. They lie ${spread(before).toFixed(1)} LU apart, then ${spread(after).toFixed(1)} LU. ${knots} knots.`)}
      </p>
      {steps && regions.length > 0 && <LevelsFound levels={levels} />}
      {all.length > 1 && <Phrases before={before} after={after} />}
    </Panel>
  )
}

/** The phrases one beside the other: where they lie, and where they come to lie. */
function Phrases({ before, after }: { before: readonly number[]; after: readonly number[] }) {
  const [low, high] = [least([...before, ...after], Number) - 2, most([...before, ...after], Number) + 2]
  const y = (db: number) => 70 * (1 - (db - low) / (high - low))
  const width = 352
  const step = width / before.length
  return (
    <svg
      viewBox={`0 0 ${width} 74`}
      className="mt-2 w-full rounded-lg bg-cloth"
      role="img"
      aria-label="Loudness of every phrase before and after"
    >
      {before.map((db, i) => (
        <g key={i}>
          <line
            x1={(i + 0.5) * step}
            x2={(i + 0.5) * step}
            y1={y(db) + 2}
            y2={y(after[i]!) + 2}
            stroke="var(--color-seam)"
            strokeWidth={2}
          />
          <rect
            x={(i + 0.5) * step - Math.min(10, step / 3)}
            width={Math.min(20, (step * 2) / 3)}
            y={y(db) + 1}
            height={2}
            fill="var(--color-soft)"
          />
          <rect
            x={(i + 0.5) * step - Math.min(10, step / 3)}
            width={Math.min(20, (step * 2) / 3)}
            y={y(after[i]!) + 0.5}
            height={3}
            fill="var(--color-weld)"
          />
        </g>
      ))}
    </svg>
  )
}
