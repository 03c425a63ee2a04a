import { Dialog } from 'radix-ui'
import { chooseFile, openSessionCopy, saveSessionCopy, type CopyAnswer } from '../../store/copy-actions'
import { observable } from '../../store/observable'
import type { Thunk } from '../../store/store'
import { Button } from './button'
import { downloadFile } from './download'
import { useObservable } from './hooks'
import { Question } from './panel'
import { toast } from './toast'

/**
 * Saves a copy of a session where the person says, and tells what became of it. Call it in the press that
 * asks for it.
 */
export const saveCopyOf =
  (id: string, title: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    const target = await chooseFile(title)
    if (!target) return
    const outcome = await dispatch(saveSessionCopy(id, target))
    if (!outcome.done) return toast({ text: outcome.message })
    const { name, file } = outcome.value
    if (file) downloadFile(file, name)
    toast({ text: `A copy of “${title}” was saved as “${name}”.` })
  }

/** A copy whose session is here already, and how the person is answered. */
const asked = observable<{ title: string; answer(answer: CopyAnswer): void } | null>(null)

const ask = (title: string): Promise<CopyAnswer> =>
  new Promise((resolve) =>
    asked.set({
      title,
      answer(answer) {
        asked.set(null)
        resolve(answer)
      },
    }),
  )

/** Opens a copy and tells what went wrong; resolves to the id of the session to show, null for none. */
export const openCopy =
  (file: File): Thunk<Promise<string | null>> =>
  async (dispatch) => {
    const outcome = await dispatch(openSessionCopy(file, ask))
    if (!outcome.done) toast({ text: outcome.message, stays: 20_000 })
    return outcome.done ? (outcome.value?.id ?? null) : null
  }

/** Asks what to do with a copy of a session that is here already. */
export function CopyQuestion() {
  const question = useObservable(asked)
  return (
    question && (
      <Question
        title="This session is here already"
        about={`“${question.title}” is in this browser. Replacing overwrites its state and its history; keeping both adds the copy beside it.`}
        onClose={() => question.answer(null)}
      >
        <div className="mt-5 flex justify-end gap-2">
          <Dialog.Close asChild>
            <Button>Cancel</Button>
          </Dialog.Close>
          <Button onClick={() => question.answer('replace')}>Replace</Button>
          <Button kind="solid" onClick={() => question.answer('keep both')}>
            Keep both
          </Button>
        </div>
      </Question>
    )
  )
}
