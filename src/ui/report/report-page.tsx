import { ArrowLeft } from 'lucide-react'
import { useEffect, useState, type ReactNode } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import type { Session } from '../../core/model/session'
import { DC_DB, reportCsv, type SessionReport } from '../../core/suggest/report'
import { showDb, showMeasured, showTime, type MeasuredUnit } from '../../core/units/typed'
import { fileStem, makeReport } from '../../store/actions/export-actions'
import { getPlayer } from '../../store/playback/playback'
import { targetOf, useExportSettings } from '../export/export-settings'
import { Requirements } from '../export/file-change'
import { Button } from '../parts/button'
import { downloadFile } from '../parts/copies/download'
import { useAppDispatch, useAppSelector } from '../parts/hooks'
import { Notices } from '../parts/messages/notices'
import { OpeningPage } from '../parts/opening/opening-page'
import { JobBar } from '../parts/messages/running-jobs'
import { useSession } from '../parts/opening/use-session'
import { LazyLoudnessChart } from './lazy-loudness-chart'
import { loudestOf } from './loudest'

/** The page that tells all that is measured of a session's mix. */
export function ReportPage() {
  const { id } = useParams()
  const opening = useSession(id!)
  const session = useAppSelector((s) => s.session.session)
  if (opening.state !== 'open' || !session) return <OpeningPage opening={opening} />
  return <Report session={session} />
}

function Report({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const [settings] = useExportSettings()
  const target = targetOf(settings)
  const [made, setMade] = useState<{ of: Session; report: SessionReport } | null>(null)
  const [failure, setFailure] = useState<string | null>(null)
  const job = useAppSelector((s) => s.jobs.running.find(({ kind }) => kind === 'measure'))
  const empty = Object.keys(session.regions).length === 0
  const measure = async () => {
    const outcome = await dispatch(makeReport(session, target))
    if (outcome.done) setMade({ of: session, report: outcome.value })
    setFailure(outcome.done ? null : outcome.message)
  }
  useEffect(() => {
    if (!empty) void measure()
    // Once when the page is opened; again when it is asked for.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [])
  const report = made?.report
  const stem = fileStem(`${session.title} - report`, 'report')
  return (
    <div className="flex min-h-full flex-col">
      <header className="flex h-13 shrink-0 items-center gap-3 border-b border-seam bg-cloth px-3">
        <Link
          to={`/session/${session.id}/export`}
          className="inline-flex h-8 items-center gap-1.5 rounded-lg px-2 text-sm font-medium hover:bg-fold"
        >
          <ArrowLeft size={17} />
          Back to Export
        </Link>
        <h1 className="min-w-0 flex-1 truncate text-base font-bold">Report on “{session.title}”</h1>
        {report && (
          <>
            <Button
              onClick={() =>
                downloadFile(
                  new Blob([JSON.stringify(report, null, 2)], { type: 'application/json' }),
                  `${stem}.json`,
                )
              }
            >
              Download JSON
            </Button>
            <Button
              onClick={() => downloadFile(new Blob([reportCsv(report)], { type: 'text/csv' }), `${stem}.csv`)}
            >
              Download CSV
            </Button>
          </>
        )}
      </header>
      <Notices />
      <main className="mx-auto w-full max-w-5xl px-6 py-6">
        {empty && (
          <p className="text-lg">There is nothing to report on yet: import audio into the session first.</p>
        )}
        {job && <JobBar job={job} />}
        {failure && !job && (
          <div role="alert" className="flex items-center gap-3 rounded-xl border border-madder bg-white p-3">
            <span className="flex-1">{failure}</span>
            <Button onClick={() => void measure()}>Measure</Button>
          </div>
        )}
        {report && !job && (
          <>
            {made.of !== session && (
              <p className="mb-4 flex items-center gap-3 text-sm text-soft">
                The session has changed since this was measured.
                <Button onClick={() => void measure()}>Measure again</Button>
              </p>
            )}
            <Figures report={report} />
            <Loudness report={report} session={session} target={target?.loudness ?? null} />
            <Faults report={report} session={session} />
            <Files report={report} />
          </>
        )}
      </main>
    </div>
  )
}

const measured = (value: number | null, unit: MeasuredUnit) =>
  value === null ? 'silence' : showMeasured(Math.round(value * 10) / 10, unit)

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="mt-6">
      <h2 className="mb-2 text-lg font-bold">{title}</h2>
      {children}
    </section>
  )
}

function Figures({ report }: { report: SessionReport }) {
  const figures: [string, string][] = [
    ['Integrated', measured(report.integrated, 'LUFS')],
    ['Range', `${report.range.toFixed(1)} LU`],
    ['True peak', measured(report.truePeakDb, 'dBTP')],
    ['Loudest three seconds', measured(report.shortTermMax, 'LUFS')],
    ['Loudest moment', measured(report.momentaryMax, 'LUFS')],
    ['Sample peak', measured(report.peakDb, 'dBFS')],
    ['RMS', measured(report.rmsDb, 'dBFS')],
    [
      'Stereo correlation',
      report.correlation === null ? '—' : report.correlation.toFixed(2).replace('-', '−'),
    ],
  ]
  return (
    <section aria-label="Figures of the mix" role="status">
      <dl className="grid grid-cols-4 gap-px overflow-hidden rounded-2xl border border-seam bg-seam max-md:grid-cols-2">
        {figures.map(([name, value], n) => (
          <div key={name} className="bg-linen px-4 py-2.5">
            <dt className="text-sm text-soft">{name}</dt>
            <dd className={`font-mono ${n < 3 ? 'text-lg font-bold' : ''}`}>{value}</dd>
          </div>
        ))}
      </dl>
      {report.requirements.length > 0 && (
        <div className="mt-3">
          <p className="mb-1 text-sm font-semibold">{report.target}</p>
          <Requirements list={report.requirements} />
        </div>
      )}
    </section>
  )
}

/** A time that leads to its place in the editor. */
function Place({ seconds, session }: { seconds: number; session: Session }) {
  const navigate = useNavigate()
  const frame = Math.round(seconds * session.sampleRate)
  return (
    <button
      type="button"
      title="Go there in the editor"
      className="rounded px-1 font-mono underline decoration-seam underline-offset-2 hover:bg-fold"
      onClick={() => {
        getPlayer()?.seek(frame)
        void navigate(`/session/${session.id}`)
      }}
    >
      {showTime(frame, session.sampleRate, 1)}
    </button>
  )
}

function Loudness({
  report,
  session,
  target,
}: {
  report: SessionReport
  session: Session
  target: number | null
}) {
  const loudest = loudestOf(report.loudness, 5)
  return (
    <Part title="Loudness over time">
      <LazyLoudnessChart
        course={report.loudness}
        target={target}
        seconds={report.seconds}
        rate={session.sampleRate}
      />
      <div className="mt-2 flex flex-wrap items-baseline gap-x-4 text-sm">
        <span className="font-semibold">Loudest passages</span>
        {loudest.map(({ seconds, lufs }) => (
          <span key={seconds}>
            <Place seconds={Math.max(0, seconds - 3)} session={session} /> {measured(lufs, 'LUFS')}
          </span>
        ))}
        {loudest.length === 0 && (
          <span className="text-soft">It is shorter than three seconds, or silent.</span>
        )}
      </div>
      <details className="mt-2">
        <summary className="cursor-pointer text-sm text-soft">As a table</summary>
        <table className="mt-1 text-sm">
          <thead>
            <tr>
              <th className="pr-6 text-left">Until</th>
              <th className="text-left">Loudness of the three seconds before</th>
            </tr>
          </thead>
          <tbody>
            {report.loudness.map(({ seconds, lufs }) => (
              <tr key={seconds}>
                <td className="pr-6 font-mono">
                  {showTime(seconds * session.sampleRate, session.sampleRate, 0)}
                </td>
                <td className="font-mono">{measured(lufs, 'LUFS')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </Part>
  )
}

const SIDE_NAMES = ['Left', 'Right']

function Faults({ report, session }: { report: SessionReport; session: Session }) {
  const { overloads, seams, cancelling, cancellingTracks } = report
  const offsets = report.dcDb.flatMap((db, side) =>
    db !== null && db > DC_DB ? [`${SIDE_NAMES[side]} ${showDb(Math.round(db * 10) / 10)}FS`] : [],
  )
  return (
    <div className="grid gap-x-10 md:grid-cols-2">
      <Part title="DC offset">
        {offsets.length === 0 ? (
          <p className="text-sm">None above {showDb(DC_DB, 0)}FS.</p>
        ) : (
          <p className="text-sm text-fault">
            {offsets.join(', ')}. A gain with “Remove DC” on the track that brings it takes it out.
          </p>
        )}
      </Part>
      <Part title="Left and right cancel">
        {cancelling.length === 0 ? (
          <p className="text-sm">Nowhere.</p>
        ) : (
          <ul className="text-sm">
            {cancelling.slice(0, 50).map(({ from, to, correlation }) => (
              <li key={from}>
                <Place seconds={from} session={session} /> {(to - from).toFixed(1)} s, correlation{' '}
                {correlation.toFixed(2).replace('-', '−')}: little is left of it in mono
              </li>
            ))}
            {cancelling.length > 50 && (
              <li className="text-soft">and {cancelling.length - 50} more; the CSV has all</li>
            )}
          </ul>
        )}
      </Part>
      <Part title="Tracks that cancel each other">
        {cancellingTracks.length === 0 ? (
          <p className="text-sm">None.</p>
        ) : (
          <ul className="text-sm">
            {cancellingTracks.slice(0, 50).map(({ from, to, tracks, lostDb }, n) => (
              <li key={n}>
                <Place seconds={from} session={session} /> {(to - from).toFixed(1)} s, {tracks.join(' and ')}:{' '}
                {lostDb.toFixed(1)} dB lost together; invert or shift one
              </li>
            ))}
            {cancellingTracks.length > 50 && (
              <li className="text-soft">and {cancellingTracks.length - 50} more; the CSV has all</li>
            )}
          </ul>
        )}
      </Part>
      <Part title="Overloads of the mix">
        {overloads.length === 0 ? (
          <p className="text-sm">No sample passes full scale.</p>
        ) : (
          <ul className="text-sm">
            {overloads.slice(0, 50).map(({ from, to, peakDb }) => (
              <li key={from}>
                <Place seconds={from} session={session} /> {(to - from).toFixed(2)} s, up to {showDb(peakDb)}
                FS
              </li>
            ))}
            {overloads.length > 50 && (
              <li className="text-soft">and {overloads.length - 50} more; the CSV has all</li>
            )}
          </ul>
        )}
      </Part>
      <Part title="Seams that click">
        {seams.length === 0 ? (
          <p className="text-sm">None is left.</p>
        ) : (
          <ul className="text-sm">
            {seams.slice(0, 50).map(({ seconds, track, kind, between }, n) => (
              <li key={n}>
                <Place seconds={seconds} session={session} /> {track}: {kind} of {between.join(' and ')}
              </li>
            ))}
            {seams.length > 50 && (
              <li className="text-soft">and {seams.length - 50} more; the CSV has all</li>
            )}
          </ul>
        )}
      </Part>
    </div>
  )
}

function Files({ report }: { report: SessionReport }) {
  return (
    <Part title="Files">
      {report.files.length === 0 ? (
        <p className="text-sm text-soft">None has been rendered since this page was opened.</p>
      ) : (
        <table className="w-full text-sm">
          <thead>
            <tr className="text-left text-soft">
              <th className="pr-4 font-medium">Name</th>
              <th className="pr-4 font-medium">Size</th>
              <th className="pr-4 font-medium">True peak</th>
              <th className="pr-4 font-medium">Loudness</th>
              <th className="pr-4 font-medium">Read again</th>
              <th className="font-medium">SHA-256</th>
            </tr>
          </thead>
          <tbody>
            {report.files.map((file, n) => (
              <tr key={n} className="border-t border-seam">
                <td className="py-1 pr-4">{file.name}</td>
                <td className="pr-4 font-mono">{(file.bytes / 1e6).toFixed(1)} MB</td>
                <td className="pr-4 font-mono">{measured(file.truePeakDb, 'dBTP')}</td>
                <td className="pr-4 font-mono">{measured(file.integrated, 'LUFS')}</td>
                <td className={`pr-4 ${file.good ? 'text-pine' : 'text-fault'}`}>
                  {file.good ? 'as rendered' : 'differs'}
                  {file.missed.map((what) => (
                    <span key={what} className="block text-fault">
                      missed {what}
                    </span>
                  ))}
                </td>
                <td className="max-w-40 truncate font-mono text-2xs" title={file.sha256}>
                  {file.sha256}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Part>
  )
}
