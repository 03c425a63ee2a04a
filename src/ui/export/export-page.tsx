import { ArrowLeft, FileText } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { asideWords, isPlainMix, mixAside } from '../../core/model/inserts/plain-mix'
import type { FileChange } from '../../core/model/file-change'
import type { Session } from '../../core/model/session'
import { rowIds, rowOf } from '../../core/model/strips'
import { partChannels } from '../../core/render'
import { showTime } from '../../core/units/typed'
import { formatFacts, soundBytes, soundFormats, type SoundFormat } from '../../formats/sound-write'
import { patternNames, proposedName, queueExports } from '../../store/actions/export-actions'
import { sessionOfRegions } from '../../store/opening/new-session'
import { Button } from '../parts/button'
import { toast } from '../parts/messages/toast'
import { useAppDispatch, useAppSelector } from '../parts/hooks'
import { Notices } from '../parts/messages/notices'
import { OpeningPage } from '../parts/opening/opening-page'
import { useSession } from '../parts/opening/use-session'
import { targetOf, useExportSettings, type ExportSettings } from './export-settings'
import { Choice } from './choice'
import { FileList } from './file-list'
import { FileNames } from './file-names'
import { changeWords } from './file-change'
import { TargetFields } from './target-fields'
import { TailField, tailWords } from './tail-field'
import { piecesOf, wholeSpan, type Span, type What } from './export-pieces'

/** The page where a session is rendered into files. */
export function ExportPage() {
  const { id } = useParams()
  const opening = useSession(id!)
  const session = useAppSelector((s) => s.session.session)
  if (opening.state !== 'open' || !session) return <OpeningPage opening={opening} />
  return <Export session={session} />
}

/** Rates that files are asked for in, besides the session's own; in Hz. */
const RATES = [44_100, 48_000, 88_200, 96_000, 192_000]

const FORMAT_WORDS: Record<SoundFormat, string> = {
  wav24: 'for mastering and exchange, with TPDF dither',
  wav16: 'for listening copies, with TPDF dither',
  wav32f: 'exactly what is played, to the last bit; peaks over 0 dBFS stay whole',
  flac24: 'as WAV of 24 bit, packed to about half the size without loss',
  flac16: 'as WAV of 16 bit, packed without loss',
  aiff24: 'as WAV of 24 bit, for programs that want AIFF; up to 4 GB',
  aiff16: 'as WAV of 16 bit, for programs that want AIFF; up to 4 GB',
}

function Export({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const [settings, setSettings] = useExportSettings()
  const whole = wholeSpan(session, settings.tail)
  const range = useAppSelector((s) => s.selection.range)
  const selected = useAppSelector((s) => s.selection.regionIds).filter((id) => session.regions[id])
  const [what, setWhat] = useState<What>('mix')
  const [part, setPart] = useState<'all' | 'range'>('all')
  const [strip, setStrip] = useState<string>('')
  const listen = useAppSelector((s) => s.listening)
  const aside = mixAside(session)
  const differs = !isPlainMix(aside)
  const [plainWanted, setPlain] = useState(false)
  const plain = differs && plainWanted
  const [chosen, setChosen] = useState<{ of: Session; target: string; change: FileChange } | null>(null)
  const [typedName, setName] = useState<string | null>(null)

  const ofStrips = what === 'before' || what === 'after' || what === 'faded'
  const ranged = part === 'range' && range !== null
  const { mostTail, ...all } = whole
  const span: Span = ranged ? { ...range, tail: null } : all
  const strips = strip === '' ? rowIds(session) : [strip]
  const pieces = piecesOf(session, what, span, selected, strips)
  const sampleRate = settings.sampleRate ?? session.sampleRate
  const proposed = proposedName(session, { plain, range: part === 'range' ? range : null })
  const names =
    what === 'mix'
      ? [typedName?.trim() || proposed]
      : patternNames(
          settings.pattern,
          session,
          pieces.map((piece) => piece.what),
          sampleRate,
        )
  const target = targetOf(settings)
  const targetKey = JSON.stringify(target)
  // A change of the file is for the session and the target that it was worked out for.
  const change = chosen?.of === session && chosen.target === targetKey ? chosen.change : null
  const render = () =>
    void dispatch(
      queueExports(
        session,
        pieces.map((piece, n) => ({
          ...piece,
          name: names[n]!,
          plain: plain && (what === 'mix' || what === 'stems'),
          format: settings.format,
          sampleRate,
          target: what === 'mix' ? target : null,
          change: what === 'mix' ? change : null,
        })),
      ),
    )
  const soloed = aside.soloed.length > 0 && !plain
  const mixWords = soloed
    ? aside.soloed.length === 1
      ? `“${aside.soloed[0]}” alone`
      : `the ${aside.soloed.length} soloed tracks`
    : plain
      ? 'the plain mix'
      : 'the mix'
  const several = (thing: string) => `${pieces.length} ${thing}${pieces.length === 1 ? '' : 's'}`
  const rangeWords = part === 'range' && range ? ', the range' : ''
  const words =
    what === 'mix'
      ? mixWords + rangeWords
      : what === 'stems'
        ? several('stem') + rangeWords
        : what === 'regions'
          ? several('region')
          : several('track') + rangeWords
  const bytes = pieces.reduce(
    (sum, { part, from, to, tail }) =>
      sum +
      soundBytes(
        settings.format,
        partChannels(session, part),
        ((to - from + (tail === null ? 0 : mostTail)) * sampleRate) / session.sampleRate,
      ),
    0,
  )
  if (whole.to === 0)
    return (
      <Page session={session}>
        <p className="text-lg">There is nothing to export yet: import audio into the session first.</p>
      </Page>
    )
  return (
    <Page session={session}>
      <div className="grid items-start gap-x-10 lg:grid-cols-[minmax(0,34rem)_minmax(0,1fr)]">
        <div>
          <Choices<What>
            legend="What"
            value={what}
            onValue={setWhat}
            choices={[
              {
                value: 'mix',
                name: 'The mix',
                about: `${showTime(whole.to, session.sampleRate, 1)}, stereo${ranged ? '' : tailWords(settings.tail, mostTail / session.sampleRate)}`,
              },
              {
                value: 'stems',
                name: 'Stems',
                about: 'a file for each strip that feeds the mix, all as long as it',
              },
              ...(selected.length
                ? [
                    {
                      value: 'regions' as const,
                      name:
                        selected.length === 1
                          ? 'The selected region'
                          : `The ${selected.length} selected regions`,
                      about: 'as it leaves its gain and fades',
                    },
                  ]
                : []),
              { value: 'before', name: 'Tracks before their inserts', about: 'their regions summed' },
              { value: 'after', name: 'Tracks after their inserts', about: 'before volume and pan' },
              { value: 'faded', name: 'Tracks after volume and pan', about: 'as they go on to the mix' },
            ]}
          />
          {what === 'regions' && <NewSession session={session} regionIds={selected} />}
          <div className="mb-5 flex flex-wrap gap-x-5 gap-y-3">
            {ofStrips && (
              <Choice label="Which" value={strip} onValue={setStrip}>
                <option value="">All of them</option>
                {rowIds(session).map((id) => (
                  <option key={id} value={id}>
                    {rowOf(session, id)!.name}
                  </option>
                ))}
              </Choice>
            )}
            {range && what !== 'regions' && (
              <Choice label="Range" value={part} onValue={(v) => setPart(v as 'all' | 'range')}>
                <option value="all">The whole session</option>
                <option value="range">
                  The range, {showTime(range.from, session.sampleRate, 1)} to{' '}
                  {showTime(range.to, session.sampleRate, 1)}
                </option>
              </Choice>
            )}
            {what !== 'regions' && what !== 'before' && !ranged && (
              <TailField tail={settings.tail} onTail={(tail) => setSettings({ tail })} />
            )}
            <Choice
              label="Sample rate"
              value={String(sampleRate)}
              onValue={(v) =>
                setSettings({ sampleRate: Number(v) === session.sampleRate ? null : Number(v) })
              }
            >
              {[...new Set([session.sampleRate, ...RATES, sampleRate])]
                .sort((a, b) => a - b)
                .map((rate) => (
                  <option key={rate} value={rate}>
                    {rate / 1000} kHz{rate === session.sampleRate ? ', the session’s' : ''}
                  </option>
                ))}
            </Choice>
          </div>
          <Formats settings={settings} onChange={setSettings} />
          {what === 'mix' && (
            <TargetFields
              session={session}
              settings={settings}
              onSettings={setSettings}
              span={span}
              change={change}
              onChange={(next) => setChosen(next && { of: session, target: targetKey, change: next })}
            />
          )}
          {(differs || listen.unshaped || listen.equal) && (what === 'mix' || what === 'stems') && (
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
          <FileNames
            single={what === 'mix' ? { name: typedName ?? proposed, onName: setName } : null}
            pattern={settings.pattern}
            onPattern={(pattern) => setSettings({ pattern })}
            names={names}
            extension={formatFacts[settings.format].extension}
          />
          <div className="sticky bottom-0 mt-3 flex items-center gap-3 bg-linen py-3">
            <Button kind="solid" className="h-10 px-5" disabled={pieces.length === 0} onClick={render}>
              Render {words}
              {what === 'mix' && change && `, ${changeWords(change)}`}
            </Button>
            <span className="text-sm text-soft">
              {pieces.length === 0
                ? 'Nothing of this kind is there.'
                : `${formatFacts[settings.format].extension === 'flac' || pieces.some(({ tail }) => tail === 'audible' && mostTail > 0) ? 'up to ' : ''}${(bytes / 1e6).toFixed(1)} MB`}
            </span>
          </div>
        </div>
        <FileList session={session} />
      </div>
    </Page>
  )
}

/** Makes a session of its own of what is selected, and goes there. */
function NewSession({ session, regionIds }: { session: Session; regionIds: readonly string[] }) {
  const navigate = useNavigate()
  const make = () =>
    sessionOfRegions(session, regionIds).then(
      ({ id }) => void navigate(`/session/${id}`),
      (error: unknown) => toast({ text: `No session was made: ${(error as Error).message}` }),
    )
  return (
    <p className="-mt-2 mb-5 flex items-center gap-3 text-sm text-soft">
      <Button onClick={() => void make()}>Make a new session of the selection</Button>
      with its tracks, inserts and lanes, at its place in time
    </p>
  )
}

function Page({ session, children }: { session: Session; children: ReactNode }) {
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
        <h1 className="min-w-0 flex-1 truncate text-base font-bold">Export “{session.title}”</h1>
        <Link
          to={`/session/${session.id}/report`}
          className="inline-flex h-8 items-center gap-1.5 rounded-lg px-2 text-sm font-medium hover:bg-fold"
        >
          <FileText size={16} />
          Report
        </Link>
      </header>
      <Notices />
      <main className="mx-auto w-full max-w-6xl px-6 py-6">{children}</main>
    </div>
  )
}

/** The formats, by kind and depth. */
function Formats({
  settings,
  onChange,
}: {
  settings: ExportSettings
  onChange(change: Partial<ExportSettings>): void
}) {
  return (
    <fieldset className="mb-5">
      <legend className="mb-2 text-lg font-bold">Format</legend>
      <div className="rounded-2xl border border-seam bg-cloth/60 p-3">
        <div className="flex justify-between gap-x-2">
          {(['wav', 'flac', 'aiff'] as const).map((kind) => (
            <div key={kind} className="flex flex-col gap-1.5">
              {soundFormats
                .filter((format) => formatFacts[format].extension === kind)
                .map((format) => (
                  <label key={format} className="flex cursor-pointer items-center gap-2 whitespace-nowrap">
                    <input
                      type="radio"
                      name="Format"
                      checked={settings.format === format}
                      onChange={() => onChange({ format })}
                      className="h-4 w-4 accent-oak"
                    />
                    <span className="font-semibold">{formatFacts[format].name}</span>
                  </label>
                ))}
            </div>
          ))}
        </div>
        <p className="mt-2 text-sm text-soft">
          {formatFacts[settings.format].name}: {FORMAT_WORDS[settings.format]}.
        </p>
      </div>
    </fieldset>
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
            className="flex cursor-pointer items-center gap-3 border-b border-seam px-4 py-1.5 last:border-b-0 hover:bg-white has-checked:bg-white"
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
              <span className="text-sm text-soft">{c.about}</span>
            </span>
          </label>
        ))}
      </div>
    </fieldset>
  )
}
