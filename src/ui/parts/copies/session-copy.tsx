import { Dialog } from 'radix-ui'
import { useState } from 'react'
import type { MissingSound } from '../../../engine/import'
import { listVersions } from '../../../engine/storage'
import {
  chooseFile,
  openSessionCopy,
  saveSessionCopy,
  unusedSounds,
  type CopyAnswer,
  type UnusedSounds,
} from '../../../store/actions/copy-actions'
import { observable } from '../../../store/observable'
import type { Thunk } from '../../../store/store'
import { Button } from '../button'
import { downloadFile } from './download'
import { useObservable } from '../hooks'
import { Question, Tick } from '../panel'
import { bytesWords } from './size-words'
import { toast } from '../messages/toast'

/** What a person is asked about a copy; one question at a time. */
type Asked =
  | { kind: 'clash'; title: string; answer(answer: CopyAnswer): void }
  | { kind: 'missing'; file: string; missing: readonly MissingSound[]; answer(open: boolean): void }
  | {
      kind: 'notes'
      title: string
      unused: UnusedSounds | null
      versions: number
      answer(choice: SavedAs | null): void
    }

/** Where a copy goes, and whether with sounds that no region uses. */
interface SavedAs {
  target: FileSystemFileHandle | 'download'
  withUnused: boolean
}

const asked = observable<Asked | null>(null)

/** Shows a question and resolves to its answer. */
const ask = <T,>(question: (answer: (value: T) => void) => Asked): Promise<T> =>
  new Promise((resolve) =>
    asked.set(
      question((value) => {
        asked.set(null)
        resolve(value)
      }),
    ),
  )

/**
 * Saves a copy of a session where the person says, and tells what became of it. Call it in the press that
 * asks for it.
 */
export const saveCopyOf =
  (id: string, title: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    const [unused, versions] = await Promise.all([
      dispatch(unusedSounds(id)).catch(() => null),
      listVersions(id).then(
        (list) => list.length,
        () => 0,
      ),
    ])
    const asks = unused !== null || versions > 0
    const target = asks ? null : await chooseFile(title)
    const choice: SavedAs | null = asks
      ? await ask((answer) => ({ kind: 'notes', title, unused, versions, answer }))
      : target && { target, withUnused: true }
    if (!choice) return
    const outcome = await dispatch(saveSessionCopy(id, choice.target, choice.withUnused))
    if (!outcome.done) return toast({ text: outcome.message })
    const { name, file, without } = outcome.value
    if (file) downloadFile(file, name)
    const missing = without.length
      ? ` It is without ${without.map((n) => `“${n}”`).join(', ')}, which ${without.length === 1 ? 'is' : 'are'} missing here.`
      : ''
    toast({ text: `A copy of “${title}” was saved as “${name}”.${missing}`, stays: missing ? 20_000 : 8000 })
  }

/** Opens a copy and tells what went wrong; resolves to the id of the session to show, null for none. */
export const openCopy =
  (file: File): Thunk<Promise<string | null>> =>
  async (dispatch) => {
    const outcome = await dispatch(
      openSessionCopy(file, {
        onClash: (title) => ask((answer) => ({ kind: 'clash', title, answer })),
        onMissing: (name, missing) => ask((answer) => ({ kind: 'missing', file: name, missing, answer })),
      }),
    )
    if (!outcome.done) toast({ text: outcome.message, stays: 20_000 })
    return outcome.done ? (outcome.value?.id ?? null) : null
  }

/** Asks what is to be known about a copy that is being saved or opened. */
export function CopyQuestion() {
  const question = useObservable(asked)
  if (question?.kind === 'clash') return <ClashQuestion {...question} />
  if (question?.kind === 'missing') return <MissingQuestion {...question} />
  if (question?.kind === 'notes') return <NotesQuestion {...question} />
  return null
}

function ClashQuestion({ title, answer }: Extract<Asked, { kind: 'clash' }>) {
  return (
    <Question
      title="This session is here already"
      about={`“${title}” is in this browser. Replacing overwrites its state and its history; keeping both adds the copy beside it.`}
      onClose={() => answer(null)}
    >
      <div className="mt-5 flex justify-end gap-2">
        <Dialog.Close asChild>
          <Button>Cancel</Button>
        </Dialog.Close>
        <Button onClick={() => answer('replace')}>Replace</Button>
        <Button kind="solid" onClick={() => answer('keep both')}>
          Keep both
        </Button>
      </div>
    </Question>
  )
}

/** How many of the missing sounds are named. */
const NAMED = 3

const missingWords = (file: string, missing: readonly MissingSound[]) => {
  const names = missing.slice(0, NAMED).map(({ name }) => `“${name}”`)
  const rest = missing.length - names.length
  const list = rest > 0 ? `${names.join(', ')} and ${rest} more` : names.join(', ')
  return `“${file}” lacks sound: ${list} ${missing.length === 1 ? 'is' : 'are'} missing or damaged in it. It can be opened with silence there; the sounds can be found again later from their files.`
}

function MissingQuestion({ file, missing, answer }: Extract<Asked, { kind: 'missing' }>) {
  return (
    <Question
      title={missing.length === 1 ? 'A sound is missing' : `${missing.length} sounds are missing`}
      about={missingWords(file, missing)}
      onClose={() => answer(false)}
    >
      <details className="mt-3 text-sm">
        <summary className="cursor-pointer text-soft">What was found</summary>
        <ul className="mt-1 max-h-40 space-y-1 overflow-auto wrap-anywhere">
          {missing.map(({ sourceId, name, why }) => (
            <li key={sourceId}>
              “{name}”: {why}
            </li>
          ))}
        </ul>
      </details>
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={() => answer(false)}>Do not open it</Button>
        <Button kind="solid" onClick={() => answer(true)}>
          Open with silence there
        </Button>
      </div>
    </Question>
  )
}

function NotesQuestion({ title, unused, versions, answer }: Extract<Asked, { kind: 'notes' }>) {
  const [withUnused, setWithUnused] = useState(true)
  const sounds = unused?.count === 1 ? 'One sound is' : `${unused?.count} sounds are`
  const notes = [
    ...(versions
      ? [
          `${versions === 1 ? 'The version that was kept is' : `The ${versions} versions that were kept are`} not in the copy. To take one along, open it beside and save a copy of that.`,
        ]
      : []),
    ...(unused
      ? [`${sounds} used by no region, though steps of the history may be: ${bytesWords(unused.bytes)}.`]
      : []),
  ]
  const save = async () => {
    const target = await chooseFile(title)
    if (target) answer({ target, withUnused })
  }
  return (
    <Question title="Save a copy" about={notes.join(' ')} onClose={() => answer(null)}>
      {unused && (
        <div className="mt-4">
          <Tick checked={!withUnused} onChange={(left) => setWithUnused(!left)}>
            Leave out {unused.count === 1 ? 'the unused sound' : 'unused sounds'}
          </Tick>
        </div>
      )}
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={() => answer(null)}>Cancel</Button>
        <Button kind="solid" onClick={() => void save()}>
          Save…
        </Button>
      </div>
    </Question>
  )
}
