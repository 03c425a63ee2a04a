import { ArrowLeft, Download } from 'lucide-react'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { sessionLength } from '../../core/model/queries'
import { soundingLength } from '../../core/render'
import { asideWords, isPlainMix, mixAside } from '../../core/model/plain-mix'
import type { Session } from '../../core/model/session'
import { gainToDb } from '../../core/units/decibel'
import { showDb, showMeasured, showTime } from '../../core/units/typed'
import type { WavFormat } from '../../formats/wav-write'
import { proposedName, renderMix } from '../../store/export-actions'
import type { FinishedExport } from '../../store/jobs-slice'
import { Button } from '../parts/button'
import { useAppDispatch, useAppSelector } from '../parts/hooks'
import { Notices } from '../parts/notices'
import { OpeningPage } from '../parts/opening-page'
import { JobBar } from '../parts/running-jobs'
import { useSession } from '../parts/use-session'

const formats: { format: WavFormat; name: string; about: string; bytes: number }[] = [
  { format: 'wav24', name: 'WAV, 24 bit', about: 'For mastering and exchange. With TPDF dither.', bytes: 6 },
  { format: 'wav16', name: 'WAV, 16 bit', about: 'For listening copies. With TPDF dither.', bytes: 4 },
  {
    format: 'wav32f',
    name: 'WAV, 32-bit float',
    about: 'Exactly what is played, to the last bit; peaks over 0 dBFS stay whole.',
    bytes: 8,
  },
]

/** The page where the mix is rendered into a file. */
export function ExportPage() {
  const { id } = useParams()
  const opening = useSession(id!)
  const session = useAppSelector((s) => s.session.session)
  if (opening.state !== 'open' || !session) return <OpeningPage opening={opening} />
  return <Export session={session} />
}

function Export({ session }: { session: Session }) {
  const length = soundingLength(session)
  const soundsOn = length - sessionLength(session)
  const range = useAppSelector((s) => s.view.range)
  const [format, setFormat] = useState<WavFormat>('wav24')
  const [part, setPart] = useState<'all' | 'range'>('all')
  const span = part === 'range' && range ? range : { from: 0, to: length }
  const aside = mixAside(session)
  const differs = !isPlainMix(aside)
  const [plainWanted, setPlain] = useState(false)
  const plain = differs && plainWanted
  const proposed = proposedName(session, { plain, range: part === 'range' ? range : null })
  const [typedName, setName] = useState<string | null>(null)
  const listen = useAppSelector((s) => s.view.listen)

  const dispatch = useAppDispatch()
  const job = useAppSelector((s) =>
    s.jobs.running.find((j) => j.kind === 'export' && j.sessionId === session.id),
  )
  const { exported, exportFailure } = useAppSelector((s) => s.jobs)
  // What was rendered is no longer this session once that, or what is asked for, changes.
  const finished =
    exported?.session === session &&
    exported.format === format &&
    exported.plain === plain &&
    exported.from === span.from &&
    exported.to === span.to
      ? exported
      : null
  const render = () =>
    void dispatch(renderMix(session, { format, ...span, plain, name: typedName ?? proposed }))
  const soloed = aside.soloed.length > 0 && !plain
  const what = `${soloed ? (aside.soloed.length === 1 ? `“${aside.soloed[0]}” alone` : `the ${aside.soloed.length} soloed tracks`) : plain ? 'the plain mix' : 'the mix'}${part === 'range' && range ? ', the range' : ''}`

  const seconds = (span.to - span.from) / session.sampleRate
  const size = (bytes: number) => `${((seconds * session.sampleRate * bytes) / 1e6).toFixed(1)} MB`
  return (
    <div className="flex min-h-full flex-col">
      <header className="flex h-13 shrink-0 items-center gap-3 border-b border-seam bg-cloth px-3">
        <Link
          to={`/session/${session.id}`}
          className="inline-flex h-8 items-center gap-1.5 rounded-lg px-2 text-sm font-medium hover:bg-fold"
        >
          <ArrowLeft size={17} />
          Back to the session
        </Link>
        <h1 className="truncate text-base font-bold">Export “{session.title}”</h1>
      </header>
      <Notices />
      <main className="mx-auto w-full max-w-2xl px-6 py-8">
        {length === 0 ? (
          <p className="text-lg">There is nothing to export yet: import audio into the session first.</p>
        ) : (
          <>
            <Choices<'all' | 'range'>
              legend="What"
              value={part}
              onValue={setPart}
              choices={[
                {
                  value: 'all',
                  name: 'The whole mix',
                  about: `0:00 to ${showTime(length, session.sampleRate, 1)}, ${session.sampleRate / 1000} kHz, stereo${soundsOn ? `, with ${showTime(soundsOn, session.sampleRate, 1)} of what sounds on` : ''}`,
                },
                ...(range
                  ? [
                      {
                        value: 'range' as const,
                        name: 'The range',
                        about: `${showTime(range.from, session.sampleRate, 1)} to ${showTime(range.to, session.sampleRate, 1)}`,
                      },
                    ]
                  : []),
              ]}
            />
            <Choices<WavFormat>
              legend="Format"
              value={format}
              onValue={setFormat}
              choices={formats.map((f) => ({
                value: f.format,
                name: f.name,
                about: `${f.about} ${size(f.bytes)}`,
              }))}
            />
            {(differs || listen.unshaped || listen.equal) && (
              <section
                aria-label="What differs from the plain mix"
                className="mb-5 rounded-2xl border border-oak bg-white px-4 py-3 text-sm"
              >
                {plain ? (
                  <p>Nothing is soloed, muted or bypassed in the file; the session stays as it is.</p>
                ) : (
                  asideWords(aside).map((line) => <p key={line}>{line}</p>)
                )}
                {listen.unshaped && <p>You are listening unshaped; the file is shaped all the same.</p>}
                {listen.equal && <p>Equal loudness is for listening only; the file keeps its own level.</p>}
                {differs && (
                  <Button className="mt-2" onClick={() => setPlain(!plain)}>
                    {plain ? 'Export it as it is heard' : 'Export the plain mix instead'}
                  </Button>
                )}
              </section>
            )}
            <label className="block">
              <span className="mb-2 block text-lg font-bold">File name</span>
              <span className="flex items-center gap-2">
                <input
                  value={typedName ?? proposed}
                  maxLength={80}
                  spellCheck={false}
                  onChange={(event) => setName(event.target.value)}
                  onBlur={() => typedName?.trim() === '' && setName(null)}
                  className="h-10 min-w-0 flex-1 rounded-lg border border-seam bg-linen px-3"
                />
                <span className="text-soft">.wav</span>
              </span>
            </label>
            <div className="mt-6">
              {job ? (
                <JobBar job={job} />
              ) : (
                !finished && (
                  <Button kind="solid" className="h-10 px-5" onClick={render}>
                    Render {what}
                  </Button>
                )
              )}
              {exportFailure && !job && (
                <p role="alert" className="mt-4 rounded-xl border border-madder bg-white p-3">
                  {exportFailure}
                </p>
              )}
              {finished && !job && <Result finished={finished} onAgain={render} />}
            </div>
          </>
        )}
      </main>
    </div>
  )
}

function Choices<T extends string>({
  legend,
  value,
  onValue,
  choices,
}: {
  legend: string
  value: T
  onValue(value: T): void
  choices: { value: T; name: string; about: string }[]
}) {
  return (
    <fieldset className="mb-5">
      <legend className="mb-2 text-lg font-bold">{legend}</legend>
      <div className="overflow-hidden rounded-2xl border border-seam bg-cloth/60">
        {choices.map((c) => (
          <label
            key={c.value}
            className="flex cursor-pointer items-center gap-3 border-b border-seam px-4 py-2.5 last:border-b-0 hover:bg-white has-checked:bg-white"
          >
            <input
              type="radio"
              name={legend}
              checked={c.value === value}
              onChange={() => onValue(c.value)}
              className="h-4 w-4 accent-oak"
            />
            <span>
              <span className="font-semibold">{c.name}</span>{' '}
              <span className="block text-sm text-soft">{c.about}</span>
            </span>
          </label>
        ))}
      </div>
    </fieldset>
  )
}

const rounded = (db: number) => Math.round(db * 10) / 10

/** Peaks, loudness and clipping, said before the download. */
function Result({ finished, onAgain }: { finished: FinishedExport; onAgain(): void }) {
  const peak = showDb(Math.round(gainToDb(finished.peak) * 100) / 100).replace(' dB', ' dBFS')
  const over = finished.clipped > 0
  const words = !over
    ? 'Nothing clipped.'
    : finished.format === 'wav32f'
      ? `${finished.clipped} samples pass 0 dBFS. The float file keeps them whole, but they will clip where it is played or converted.`
      : `${finished.clipped} samples clipped. Lower the mix by ${gainToDb(finished.peak).toFixed(1)} dB or more and render again.`
  const faults = finished.faults.length
    ? ` The insert ${finished.faults.join(', ')} put out what is no number and was left out there.`
    : ''
  return (
    <section aria-label="Rendered" className="rounded-2xl border border-seam bg-white p-5" role="status">
      <h2 className="text-lg font-bold">Rendered</h2>
      <p className="mt-1">
        Highest peak <span className={`font-mono ${over ? 'font-bold text-fault' : ''}`}>{peak}</span>.{' '}
        {words}
        {faults}
      </p>
      <p className="mt-1">
        True peak{' '}
        <span className="font-mono">{showMeasured(rounded(gainToDb(finished.truePeak)), 'dBTP')}</span>,
        loudness <span className="font-mono">{showMeasured(rounded(finished.integratedLufs), 'LUFS')}</span>{' '}
        integrated.
      </p>
      <div className="mt-4 flex items-center gap-2">
        <a
          href={finished.url}
          download={finished.name}
          className="inline-flex h-10 items-center gap-2 rounded-lg bg-oak px-5 font-medium text-white hover:bg-oak-deep"
        >
          <Download size={17} />
          Download {finished.name} ({(finished.size / 1e6).toFixed(1)} MB)
        </a>
        <Button className="h-10" onClick={onAgain}>
          Render again
        </Button>
      </div>
    </section>
  )
}
