import { Dialog } from 'radix-ui'
import { useState } from 'react'
import type { MissingSound } from '../../../engine/import'
import { chooseFile } from '../../../store/actions/choose-file'
import { Button } from '../button'
import { useObservable } from '../hooks'
import { Question, Tick } from '../panel'
import { copyQuestion, type CopyQuestion } from './copy-question'
import { bytesWords } from './size-words'

/** Asks what is to be known about a copy that is being saved or opened. */
export function CopyQuestionDialog() {
  const question = useObservable(copyQuestion)
  if (question?.kind === 'clash') return <ClashQuestion {...question} />
  if (question?.kind === 'missing') return <MissingQuestion {...question} />
  if (question?.kind === 'notes') return <NotesQuestion {...question} />
  return null
}

function ClashQuestion({ title, answer }: Extract<CopyQuestion, { kind: 'clash' }>) {
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

function MissingQuestion({ file, missing, answer }: Extract<CopyQuestion, { kind: 'missing' }>) {
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

function NotesQuestion({ title, unused, versions, answer }: Extract<CopyQuestion, { kind: 'notes' }>) {
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
