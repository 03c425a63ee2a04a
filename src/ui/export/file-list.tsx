import { Check, CircleAlert, Download, FolderDown, RotateCcw, X } from 'lucide-react'
import type { ReactNode } from 'react'
import { judge } from '../../core/measure/target'
import type { Session } from '../../core/model/session'
import { gainToDb } from '../../core/units/decibel'
import { showDb, showMeasured, showTime } from '../../core/units/typed'
import { formatFacts } from '../../formats/sound-write'
import {
  canPickFolder,
  dropExport,
  exportAgain,
  saveIntoFolder,
  zipExports,
  fileStem,
} from '../../store/actions/export-actions'
import type { ExportItem, RenderedFile } from '../../store/jobs-slice'
import type { ReceivingRules } from '../../engine/export'
import { Button } from '../parts/button'
import { downloadFile } from '../parts/copies/download'
import { useAppDispatch, useAppSelector } from '../parts/hooks'
import { JobBar } from '../parts/messages/running-jobs'
import { toast } from '../parts/messages/toast'
import { DropOff, useReceiving } from './drop-off'
import { changeWords, Requirements } from './file-change'

/** The files that were asked for, the newest first: those that wait, the one that is rendered, and what became of the others. */
export function FileList({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const items = useAppSelector((s) => s.jobs.exports).filter((item) => item.session.id === session.id)
  const zipping = useAppSelector((s) => s.jobs.running.find(({ kind }) => kind === 'zip'))
  const done = items.filter(({ file }) => file)
  const rules = useReceiving()
  const zip = async () => {
    const outcome = await dispatch(zipExports(done))
    if (outcome.done) downloadFile(outcome.value, `${fileStem(session.title, 'files')}.zip`)
    else if (!outcome.cancelled) toast({ text: outcome.message })
  }
  const save = () =>
    saveIntoFolder(done).then(
      (count) => toast({ text: `${count} ${count === 1 ? 'file was' : 'files were'} put into the folder.` }),
      (error: unknown) => {
        if ((error as DOMException).name !== 'AbortError')
          toast({ text: `The folder does not take the files: ${(error as Error).message}` })
      },
    )
  return (
    <section aria-label="Files" className="max-lg:mt-8">
      <div className="mb-2 flex min-h-8 flex-wrap items-center gap-2">
        <h2 className="flex-1 text-lg font-bold">Files</h2>
        {done.length > 1 && (
          <Button onClick={() => void zip()} disabled={zipping !== undefined}>
            All as one ZIP
          </Button>
        )}
        {done.length > 0 && canPickFolder() && (
          <Button onClick={() => void save()}>
            <FolderDown size={16} aria-hidden />
            {done.length === 1 ? 'Into a folder…' : 'All into a folder…'}
          </Button>
        )}
      </div>
      {zipping && <JobBar job={zipping} />}
      {items.length === 0 ? (
        <p className="rounded-2xl border border-dashed border-seam p-5 text-soft">
          What you render appears here. Each file is read again when it is done: its checksum, its peaks and
          its loudness are told before you take it home. You can go back and edit meanwhile; what is rendered
          is the session as it was when you asked.
        </p>
      ) : (
        <ul className="flex flex-col gap-3">
          {[...items].reverse().map((item) => (
            <li key={item.id}>
              <Item item={item} rules={rules} />
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

function Item({ item, rules }: { item: ExportItem; rules: ReceivingRules | null }) {
  const dispatch = useAppDispatch()
  const job = useAppSelector((s) => s.jobs.running.find(({ kind }) => kind === 'export'))
  const drop = (words: string): ReactNode => (
    <Button
      kind="quiet"
      aria-label={`${words} ${item.name}`}
      title={words}
      onClick={() => dispatch(dropExport(item.id))}
    >
      <X size={16} />
    </Button>
  )
  const again = (
    <Button kind="quiet" onClick={() => void dispatch(exportAgain(item.id))}>
      <RotateCcw size={15} aria-hidden />
      Render again
    </Button>
  )
  if (item.file)
    return (
      <Rendered item={item} rules={rules} file={item.file} actions={[again, drop('Take off the list:')]} />
    )
  if (item.state === 'running')
    return (
      <div className="rounded-2xl border border-oak bg-white p-4">
        <p className="mb-1 font-semibold">{item.name}</p>
        {job && <JobBar job={job} />}
      </div>
    )
  return (
    <div className="flex items-center gap-2 rounded-2xl border border-seam bg-cloth/60 py-2 pr-2 pl-4">
      <div className="min-w-0 flex-1">
        <p className="truncate font-semibold">{item.name}</p>
        {item.state === 'waiting' && <p className="text-sm text-soft">waits for its turn</p>}
        {item.state === 'cancelled' && <p className="text-sm text-soft">cancelled; nothing was written</p>}
        {item.failure && (
          <p role="alert" className="text-sm text-madder">
            {item.failure}
          </p>
        )}
      </div>
      {item.state !== 'waiting' && again}
      {drop(item.state === 'waiting' ? 'Do not render' : 'Take off the list:')}
    </div>
  )
}

const rounded = (db: number) => Math.round(db * 10) / 10
const peakWords = (gain: number) => showDb(Math.round(gainToDb(gain) * 100) / 100).replace(' dB', ' dBFS')

/** A finished file: peaks, loudness and clipping, said before it is taken home. */
function Rendered({
  item,
  rules,
  file,
  actions,
}: {
  item: ExportItem
  rules: ReceivingRules | null
  file: RenderedFile
  actions: readonly ReactNode[]
}) {
  const over = file.clipped > 0
  const clippedWords = file.clipped === 1 ? '1 sample' : `${file.clipped} samples`
  const clipWords = !over
    ? 'Nothing clipped.'
    : item.format === 'wav32f'
      ? `${file.clipped} samples pass 0 dBFS. The float file keeps them whole, but they will clip where it is played or converted.`
      : `${clippedWords} clipped: the sound reached +${gainToDb(file.renderedPeak).toFixed(1)} dBFS. Lower the mix by ${gainToDb(file.renderedPeak).toFixed(1)} dB or more and render again.`
  const faults = file.faults.length
    ? ` The insert ${file.faults.join(', ')} output NaN and was left out there.`
    : ''
  const { check } = file
  const good = check.faults.length === 0
  return (
    <section
      aria-label={`Rendered: ${item.name}`}
      className="rounded-2xl border border-seam bg-white p-4"
      role="status"
    >
      <div className="flex items-start gap-2">
        <div className="min-w-0 flex-1">
          <h3 className="truncate font-bold">{item.name}</h3>
          <p className="text-sm text-soft">
            {item.what}
            {item.change && `, ${changeWords(item.change)}`},{' '}
            {showTime(item.to - item.from + file.tailFrames, item.session.sampleRate, 1)}
            {item.tail !== null &&
              item.tail !== 'none' &&
              ` including ${(file.tailFrames / item.session.sampleRate).toFixed(2)} s of tail`}
            , {formatFacts[item.format].name}, {item.sampleRate / 1000} kHz,{' '}
            {file.channels === 1 ? 'mono' : 'stereo'}
          </p>
        </div>
        {actions[1]}
      </div>
      <p className="mt-2 text-sm">
        Highest peak{' '}
        <span className={`font-mono ${over ? 'font-bold text-fault' : ''}`}>
          {peakWords(file.measure.peak)}
        </span>
        . {clipWords}
        {faults}
      </p>
      <p className="mt-1 text-sm">
        True peak <span className="font-mono">{showMeasured(rounded(gainToDb(check.truePeak)), 'dBTP')}</span>
        , loudness <span className="font-mono">{showMeasured(rounded(check.integrated), 'LUFS')}</span>{' '}
        integrated, range <span className="font-mono">{check.range.toFixed(1)} LU</span>.
      </p>
      {item.target && (
        <div className="mt-2">
          <Requirements
            list={judge(item.target, {
              loudness: { ...file.measure.loudness, integrated: check.integrated },
              truePeak: check.truePeak,
            })}
          />
        </div>
      )}
      <p className={`mt-2 flex items-start gap-1.5 text-sm ${good ? 'text-pine' : 'text-fault'}`}>
        {good ? (
          <Check size={16} className="mt-0.5 shrink-0" />
        ) : (
          <CircleAlert size={16} className="mt-0.5 shrink-0" />
        )}
        {good
          ? 'Read again: it is what was rendered.'
          : `Read again, it is not what was rendered: ${check.faults.join('; ')}.`}
      </p>
      <p
        className="mt-0.5 truncate font-mono text-2xs text-soft"
        title={`SHA-256 of the file: ${check.sha256}`}
      >
        SHA-256 {check.sha256}
      </p>
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <a
          href={file.url}
          download={item.name}
          className="inline-flex h-9 max-w-full min-w-0 items-center gap-2 rounded-lg bg-oak px-4 font-medium text-white hover:bg-oak-deep"
        >
          <Download size={17} className="shrink-0" />
          <span className="truncate">
            Download {item.name} ({(file.size / 1e6).toFixed(1)} MB)
          </span>
        </a>
        {actions[0]}
      </div>
      {rules && <DropOff item={item} rules={rules} />}
    </section>
  )
}
