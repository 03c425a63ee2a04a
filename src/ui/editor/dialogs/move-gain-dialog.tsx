import { insertKindOf } from '../../../core/model/inserts/insert-kinds'
import { useEffect, useMemo, useState } from 'react'
import { lastMove, movedGain, moveGain, moveGainBack, type GainMove } from '../../../core/edit'
import { FADER } from '../../../core/model/parameters'
import { regionEnd } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import type { StripMeasure } from '../../../core/render'
import { gainToDb } from '../../../core/units/decibel'
import { showDb } from '../../../core/units/typed'
import { measureStrip } from '../../../engine/background'
import { commit } from '../../../store/edits'
import { pathTrack, selectedRegions } from '../../../store/selectors'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { Choice, Panel } from '../../parts/panel'
import { compressorsOf, reductionFigures, totalReduction } from '../parts/inserts/use-reductions'

type What = GainMove['what']

/** What can be moved: of the selected regions, or of the track in the marked stretch. */
function moveOf(
  what: What,
  session: Session,
  trackId: string,
  regions: readonly Region[],
  range: { from: number; to: number } | null,
): GainMove {
  const regionIds = regions.map(({ id }) => id)
  if (what === 'clip-gain') return { what, regionIds }
  if (what === 'thread') return { what, regionIds, stretch: range }
  const ofTrack = Object.values(session.regions).filter((r) => r.trackId === trackId)
  const all = regions.length ? regions : ofTrack
  return {
    what,
    trackId,
    from: range?.from ?? Math.min(...all.map((r) => r.start)),
    to: range?.to ?? Math.max(...all.map(regionEnd)),
  }
}

/** What was measured of a track before and after a move. */
interface Measured {
  before: StripMeasure
  after: StripMeasure
}

/**
 * Carries gain to the other side of the inserts: before it is done, what will sound different is measured and said. The way back is
 * there as long as nothing of it has changed.
 */
export function MoveGainDialog({ session, onClose }: { session: Session; onClose(): void }) {
  const dispatch = useAppDispatch()
  const regions = useAppSelector(selectedRegions)
  const range = useAppSelector((s) => s.selection.range)
  const path = useAppSelector(pathTrack)
  const trackId = regions[0]?.trackId ?? path?.id ?? ''
  const track = session.tracks[trackId]
  const threads = regions.some((r) => r.gainThreadId !== null)
  const [what, setWhat] = useState<What>(() =>
    regions.some((r) => r.clipGainDb !== 0) ? 'clip-gain' : threads ? 'thread' : 'volume',
  )
  const move = useMemo(
    () => moveOf(what, session, trackId, regions, range),
    [what, session, trackId, regions, range],
  )
  const moved = useMemo(
    () => (track ? movedGain(session, move) : { problem: 'Select a region, or press a track, first.' }),
    [session, move, track],
  )
  const [measured, setMeasured] = useState<{ of: typeof moved; what: Measured | string } | null>(null)
  useEffect(() => {
    if ('problem' in moved) return
    let over = false
    const stretch = [moved.trackId, moved.from, moved.to] as const
    Promise.all([measureStrip(session, ...stretch), measureStrip(moved.session, ...stretch)]).then(
      ([before, after]) => over || setMeasured({ of: moved, what: { before, after } }),
      (error: unknown) =>
        over || setMeasured({ of: moved, what: error instanceof Error ? error.message : String(error) }),
    )
    return () => void (over = true)
  }, [session, moved])
  const shown = measured?.of === moved ? measured.what : null
  const back = track ? lastMove(session, trackId) : null
  return (
    <Panel
      title="Move gain past the inserts"
      about={
        track
          ? `“${track.name}”: the level at the other stage stays the same; what lies between hears another one.`
          : ''
      }
      onClose={onClose}
      footer={
        <>
          {back && (
            <Button
              className="mr-auto"
              title="Puts back exactly what was there before gain was moved"
              onClick={() => {
                dispatch(commit(moveGainBack, { trackId }))
                onClose()
              }}
            >
              Move back
            </Button>
          )}
          <Button onClick={onClose}>Cancel</Button>
          <Button
            kind="solid"
            disabled={'problem' in moved}
            onClick={() => {
              dispatch(commit(moveGain, move))
              onClose()
            }}
          >
            Move
          </Button>
        </>
      }
    >
      <Choice
        label="What is moved"
        value={what}
        onChange={setWhat}
        options={[
          { value: 'clip-gain', text: 'Clip gain' },
          { value: 'thread', text: 'Gain thread' },
          { value: 'volume', text: 'Volume lane' },
        ]}
      />
      <p className="mt-2 text-xs text-soft">{WORDS[what]}</p>
      {'problem' in moved ? (
        <p role="status" className="mt-3 rounded-lg bg-fold px-3 py-2 text-sm">
          {moved.problem}
        </p>
      ) : (
        <>
          {moved.limitedDb > 0.05 && (
            <p role="status" className="mt-3 rounded-lg bg-fold px-3 py-2 text-sm">
              {what === 'volume' ? 'A clip gain ends at +36 dB and a thread' : 'A lane ends'} at +12 dB: up to{' '}
              {moved.limitedDb.toFixed(1)} dB of it would be lost.
            </p>
          )}
          {shown === null ? (
            <p role="status" className="mt-3 text-sm text-soft">
              Measuring what will sound different…
            </p>
          ) : typeof shown === 'string' ? (
            <p role="status" className="mt-3 text-sm text-fault">
              It could not be measured: {shown}
            </p>
          ) : (
            <Differences session={session} trackId={trackId} measured={shown} />
          )}
        </>
      )}
    </Panel>
  )
}

const WORDS: Readonly<Record<What, string>> = {
  'clip-gain':
    'The clip gain of the selected regions becomes steps of the volume lane. Crossfaded regions go together.',
  thread:
    'The gain thread of the selected regions, or its part in the marked range, becomes a shape of the volume lane.',
  volume:
    'The volume lane over the marked range, or over the selected regions, becomes clip gain where it is level, else gain threads.',
}

const signed = (db: number, unit: string) =>
  !Number.isFinite(db)
    ? '—'
    : Math.abs(db) < 0.05
      ? `the same`
      : `${db > 0 ? '+' : '−'}${Math.abs(db).toFixed(1)} ${unit}`

/** What the inserts make of the one and of the other, and what else hears the difference. */
function Differences({
  session,
  trackId,
  measured: { before, after },
}: {
  session: Session
  trackId: string
  measured: Measured
}) {
  const track = session.tracks[trackId]!
  const compressors = compressorsOf(track)
  const [was, is] = [before, after].map((m) => totalReduction(m, compressors)) as [Float32Array, Float32Array]
  const reduction = reductionFigures(is, was).mean - reductionFigures(was, is).mean
  const rows: [string, string][] = [
    ...(compressors.length
      ? [['Turned down by the inserts', signed(reduction, 'dB')] as [string, string]]
      : []),
    ['Loudness after the inserts', signed(after.loudness - before.loudness, 'LU')],
    [
      'Largest sample there',
      `${showDb(round(gainToDb(before.peak)))} → ${showDb(round(gainToDb(after.peak)))}`,
    ],
  ]
  const pre = track.sends.filter((send) => send.point === 'pre' && !send.muted)
  const tails = track.inserts.filter(({ kind, bypassed }) => insertKindOf(kind).ringsOn && !bypassed)
  const lane = track.lanes[FADER]
  return (
    <>
      <dl
        aria-label="What will sound different"
        className="mt-3 grid grid-cols-[1fr_auto] gap-x-4 gap-y-1 text-sm"
      >
        {rows.map(([name, text]) => (
          <div key={name} className="contents">
            <dt className="text-soft">{name}</dt>
            <dd className="font-mono text-xs leading-5">{text}</dd>
          </div>
        ))}
      </dl>
      <ul className="mt-2 flex list-disc flex-col gap-1 pl-5 text-xs text-soft">
        {pre.map((send) => (
          <li key={send.id}>
            The send to {session.buses[send.to]?.name}, before the fader, hears the change: it leaves out the
            volume.
          </li>
        ))}
        {tails.length > 0 && (
          <li>Echoes and rooms sound on over the ends of the stretch; the volume acts on them, too.</li>
        )}
        {lane && lane.knots.length > 0 && (
          <li>What the volume lane does there already stays, and is shifted.</li>
        )}
      </ul>
    </>
  )
}

const round = (db: number) => Math.round(db * 10) / 10
