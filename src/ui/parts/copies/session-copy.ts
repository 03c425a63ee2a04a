import { listVersions } from '../../../engine/storage'
import { chooseFile } from '../../../store/actions/choose-file'
import type { Thunk } from '../../../store/store'
import { downloadFile } from './download'
import { toast } from '../messages/toast'
import { loadPart } from '../opening/load-part'
import { copyQuestion, type CopyQuestion, type SavedAs } from './copy-question'

const loadActions = () => loadPart(() => import('../../../store/actions/copy-actions'))

/** Shows a question and resolves to its answer. */
const ask = <T>(question: (answer: (value: T) => void) => CopyQuestion): Promise<T> =>
  new Promise((resolve) =>
    copyQuestion.set(
      question((value) => {
        copyQuestion.set(null)
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
    const actions = await loadActions()
    if (!actions) return
    const [unused, versions] = await Promise.all([
      dispatch(actions.unusedSounds(id)).catch(() => null),
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
    const outcome = await dispatch(actions.saveSessionCopy(id, choice.target, choice.withUnused))
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
    const actions = await loadActions()
    if (!actions) return null
    const outcome = await dispatch(
      actions.openSessionCopy(file, {
        onClash: (title) => ask((answer) => ({ kind: 'clash', title, answer })),
        onMissing: (name, missing) => ask((answer) => ({ kind: 'missing', file: name, missing, answer })),
      }),
    )
    if (!outcome.done) toast({ text: outcome.message, stays: 20_000 })
    return outcome.done ? (outcome.value?.id ?? null) : null
  }
