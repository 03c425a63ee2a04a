import { useState } from 'react'
import { showTime } from '../../../core/units/typed'
import { factsOf, proposedRate, type FileFacts } from '../../../engine/import'
import { titleOf, type Placement } from '../../../store/opening/new-session'
import { Button } from '../button'
import { useObservable } from '../hooks'
import { Question } from '../panel'
import { askedImport, type AskedImport, type ImportChoice, type ImportContext } from './asked-import'
import { kilohertz, TitleAndRate } from '../fields/title-and-rate'

/** Asks where files go, where there is a choice; resolves to null when the person decides against them. */
export async function askImport(
  files: readonly File[],
  context: ImportContext,
): Promise<ImportChoice | null> {
  const facts = await factsOf(files)
  const plain = files.length === 1 && facts[0]!.stampSeconds === null
  if (context.kind === 'open' && plain && (context.dropped || context.empty))
    return choiceOf(facts, context, { where: context.dropped ? 'dropped' : 'start', inRow: false })
  return new Promise((resolve) =>
    askedImport.set({
      files: facts,
      context,
      answer(choice) {
        askedImport.set(null)
        resolve(choice)
      },
    }),
  )
}

/** Where files can go. */
type Where = 'dropped' | 'playhead' | 'start' | 'stamps' | 'spaced'

interface Settings {
  where: Where
  inRow: boolean
  title?: string
  sampleRate?: number
}

const stampsOf = (files: readonly FileFacts[]) => files.flatMap((f) => f.stampSeconds ?? [])

function choiceOf(
  files: readonly FileFacts[],
  context: ImportContext,
  { where, inRow, title, sampleRate }: Settings,
): ImportChoice {
  const rate = context.kind === 'open' ? context.sampleRate : (sampleRate ?? proposedRate(files))
  const dropped = context.kind === 'open' && where === 'dropped' ? context.dropped : null
  const playhead = context.kind === 'open' ? context.playhead : 0
  const first = Math.min(...stampsOf(files))
  const placement: Placement = {
    start: dropped ? dropped.at : where === 'playhead' || where === 'spaced' ? playhead : 0,
    stampsFrom: where === 'stamps' ? 0 : where === 'spaced' ? Math.round(first * rate) : null,
    inRow,
    onTrackId: inRow ? undefined : dropped?.onTrackId,
  }
  return { placement, title: title?.trim() || titleOf(files[0]!.name), sampleRate: rate }
}

/** A time of the day or of a session, in words. */
const clock = (seconds: number) => showTime(Math.round(seconds * 1000), 1000)

function placesFor(files: readonly FileFacts[], context: ImportContext): Option<Where>[] {
  const stamps = stampsOf(files)
  const first = Math.min(...stamps)
  const open = context.kind === 'open' ? context : null
  const places: (Option<Where> | null | undefined | false)[] = [
    open?.dropped && {
      value: 'dropped',
      text: `Where dropped, ${showTime(open.dropped.at, open.sampleRate)}`,
    },
    open &&
      !open.empty && {
        value: 'playhead',
        text: `At the playhead, ${showTime(open.playhead, open.sampleRate)}`,
      },
    { value: 'start', text: 'At the start of the session' },
    stamps.length > 0 && { value: 'stamps', text: `At their time stamps, the first at ${clock(first)}` },
    stamps.length > 0 && {
      value: 'spaced',
      text: `Apart as their time stamps are, the first ${open && !open.empty ? 'at the playhead' : 'at the start'}`,
    },
  ]
  return places.filter((place) => !!place)
}

/** The dialog that `askImport` shows; once in the application. */
export function ImportQuestion() {
  const question = useObservable(askedImport)
  return question && <Form key={question.files.map((f) => f.name).join('/')} {...question} />
}

/** How many files are named. */
const NAMED = 5

function Form({ files, context, answer }: AskedImport) {
  const places = placesFor(files, context)
  const [where, setWhere] = useState<Where>(places[0]!.value)
  const [inRow, setInRow] = useState(false)
  const [title, setTitle] = useState(titleOf(files[0]!.name))
  const [sampleRate, setSampleRate] = useState(proposedRate(files))
  const isNew = context.kind === 'new'
  const count = files.length === 1 ? 'one file' : `${files.length} files`
  return (
    <Question title={isNew ? `New session of ${count}` : `Import ${count}`} onClose={() => answer(null)}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          answer(choiceOf(files, context, { where, inRow, title, sampleRate }))
        }}
      >
        <ul className="mt-2 text-sm text-soft" aria-label="Files">
          {files.slice(0, NAMED).map((file, i) => (
            <li key={i} className="flex gap-2">
              <span className="min-w-0 flex-1 truncate text-ink">{file.name}</span>
              <span>
                {[file.sampleRate && kilohertz(file.sampleRate), file.format].filter(Boolean).join(', ')}
              </span>
            </li>
          ))}
          {files.length > NAMED && <li>and {files.length - NAMED} more</li>}
        </ul>
        {isNew && (
          <TitleAndRate title={title} sampleRate={sampleRate} onTitle={setTitle} onRate={setSampleRate} />
        )}
        {places.length > 1 && (
          <Options<Where> label="Where" options={places} value={where} onChange={setWhere} />
        )}
        {files.length > 1 && (
          <Options<'each' | 'row'>
            label="Tracks"
            options={[
              { value: 'each', text: 'A track for each file' },
              { value: 'row', text: 'One track, one after another' },
            ]}
            value={inRow ? 'row' : 'each'}
            onChange={(value) => setInRow(value === 'row')}
          />
        )}
        <div className="mt-5 flex justify-end gap-2">
          <Button onClick={() => answer(null)}>Cancel</Button>
          <Button kind="solid" type="submit" autoFocus>
            {isNew ? 'Make the session' : 'Import'}
          </Button>
        </div>
      </form>
    </Question>
  )
}

/** One of a few choices. */
interface Option<T> {
  value: T
  text: string
}

/** A few choices, one of which is picked. */
function Options<T extends string>({
  label,
  options,
  value,
  onChange,
}: {
  label: string
  options: readonly Option<T>[]
  value: T
  onChange(this: void, value: T): void
}) {
  return (
    <fieldset className="mt-4">
      <legend className="text-xs text-soft">{label}</legend>
      {options.map((option) => (
        <label key={option.value} className="mt-1 flex items-center gap-2 text-sm">
          <input
            type="radio"
            name={label}
            checked={option.value === value}
            onChange={() => onChange(option.value)}
            className="accent-oak"
          />
          {option.text}
        </label>
      ))}
    </fieldset>
  )
}
