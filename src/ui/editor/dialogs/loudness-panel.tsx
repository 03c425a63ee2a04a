import { useEffect, useState } from 'react'
import { regionEnd, sessionLength } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { courseOf } from '../../../core/suggest/report'
import { gainToDb } from '../../../core/units/decibel'
import { showMeasured, showTime } from '../../../core/units/typed'
import { type MeasuredMix } from '../../../core/suggest/report'
import { measurePart, type MeasuredPart } from '../../../engine/export'
import { getPlayer } from '../../../store/playback/playback'
import { pathTrack, selectedRegions } from '../../../store/selectors'
import { Button } from '../../parts/button'
import { useAppSelector } from '../../parts/hooks'
import { Choice, Panel } from '../../parts/panel'
import { LazyLoudnessChart } from '../../report/lazy-loudness-chart'
import { loudestOf } from '../../report/loudest'
import { keptTarget } from '../../export/export-settings'

type Of = 'region' | 'range' | 'track' | 'mix'

const rounded = (value: number) => Math.round(value * 10) / 10

/** The loudness of a region, of a range, of a track or of the mix over time, with the loudest passages to go to. */
export function LoudnessPanel({ session, onClose }: { session: Session; onClose(): void }) {
  const region = useAppSelector((s) => selectedRegions(s)[0] ?? null)
  const range = useAppSelector((s) => s.selection.range)
  const track = useAppSelector(pathTrack)
  const [chosen, setOf] = useState<Of | null>(null)
  const of: Of = chosen ?? (region ? 'region' : range ? 'range' : 'mix')
  const whole = { from: 0, to: sessionLength(session), tail: 'audible' as const }
  const parts: Record<Of, MeasuredPart | null> = {
    region: region && {
      part: { kind: 'region', id: region.id },
      from: region.start,
      to: regionEnd(region),
      tail: null,
    },
    range: range && { part: { kind: 'mix' }, from: range.from, to: range.to, tail: null },
    track: track && { part: { kind: 'strip', id: track.id, stage: 'track' }, ...whole },
    mix: { part: { kind: 'mix' }, ...whole },
  }
  const part = parts[of]
  const key = JSON.stringify(part)
  const [measured, setMeasured] = useState<{ key: string; of: Session; is: MeasuredMix | string } | null>(
    null,
  )
  const [again, setAgain] = useState(0)
  const [done, setDone] = useState(0)
  useEffect(() => {
    if (!part || part.to <= part.from) return
    const control = new AbortController()
    const told = (is: MeasuredMix | string) => {
      if (!control.signal.aborted) setMeasured({ key, of: session, is })
    }
    measurePart(session, part, ({ done }) => setDone(done), control.signal).then(told, (error: Error) =>
      told(error.message),
    )
    return () => control.abort()
    // MeasuredMix when it is asked for, not with every edit.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, again])
  const is = measured?.key === key ? measured.is : null
  const names: Record<Of, string> = {
    region: region ? `“${region.name}”` : 'Region',
    range: 'The range',
    track: track ? `“${track.name}”` : 'Track',
    mix: 'The mix',
  }
  const rate = session.sampleRate
  return (
    <Panel
      title="Loudness over time"
      about={of === 'range' ? 'The mix in the marked range' : names[of]}
      wide
      onClose={onClose}
      footer={
        <>
          {measured?.of !== session && is !== null && (
            <span className="mr-auto text-sm text-soft">The session has changed since.</span>
          )}
          <Button onClick={() => setAgain(again + 1)}>Measure again</Button>
          <Button onClick={onClose}>Close</Button>
        </>
      }
    >
      <Choice
        label="Of what"
        value={of}
        onChange={setOf}
        options={(['region', 'range', 'track', 'mix'] as const).flatMap((value) =>
          parts[value]
            ? [{ value, text: { region: 'Region', range: 'Range', track: 'Track', mix: 'Mix' }[value] }]
            : [],
        )}
      />
      {is === null && (
        <p className="mt-3 text-sm text-soft">
          {part ? `Measuring … ${Math.round(done * 100)} %` : 'Nothing of this kind is chosen.'}
        </p>
      )}
      {typeof is === 'string' && (
        <p role="alert" className="mt-3 text-sm text-madder">
          {is}
        </p>
      )}
      {is !== null && typeof is !== 'string' && part && (
        <Course measured={is} from={part.from} seconds={(part.to - part.from) / rate} rate={rate} />
      )}
    </Panel>
  )
}

function Course({
  measured: { measure },
  from,
  seconds,
  rate,
}: {
  measured: MeasuredMix
  from: number
  seconds: number
  rate: number
}) {
  const course = courseOf(measure.shortTerm)
  const { loudness } = measure
  const lufs = (value: number) => showMeasured(rounded(value), 'LUFS')
  return (
    <div className="mt-3 flex flex-col gap-2">
      <p role="status" className="text-sm">
        Integrated <b className="font-mono">{lufs(loudness.integrated)}</b>, range{' '}
        <span className="font-mono">{loudness.range.toFixed(1)} LU</span>, true peak{' '}
        <span className="font-mono">{showMeasured(rounded(gainToDb(measure.truePeak)), 'dBTP')}</span>
      </p>
      {course.length === 0 ? (
        <p className="text-sm text-soft">It is shorter than three seconds: there is no course to draw.</p>
      ) : (
        <>
          <LazyLoudnessChart
            course={course}
            target={keptTarget()?.loudness ?? null}
            seconds={seconds}
            rate={rate}
          />
          <p className="text-sm">
            <span className="font-semibold">Loudest passages </span>
            {loudestOf(course, 4).map((point) => (
              <button
                key={point.seconds}
                type="button"
                title="Set the playhead there"
                className="mr-2 rounded px-1 font-mono underline decoration-seam underline-offset-2 hover:bg-fold"
                onClick={() => getPlayer()?.seek(from + Math.round((point.seconds - 3) * rate))}
              >
                {showTime(from + Math.round((point.seconds - 3) * rate), rate, 1)}
              </button>
            ))}
          </p>
          <details>
            <summary className="cursor-pointer text-sm text-soft">As a table</summary>
            <table className="mt-1 text-sm">
              <tbody>
                {course.map((point) => (
                  <tr key={point.seconds}>
                    <td className="pr-6 font-mono">{showTime(from + point.seconds * rate, rate, 0)}</td>
                    <td className="font-mono">{point.lufs === null ? 'silence' : lufs(point.lufs)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </details>
        </>
      )}
    </div>
  )
}
