import { setTitle } from '../core/edit'
import { commit } from './edits'
import type { Store } from './store'

/** What tabs tell each other. Answers carry the number of the question. */
type Message =
  { kind: 'rename'; id: string; title: string; question: string } | { kind: 'done'; question: string }

const CHANNEL = 'oaken-thread/tabs'

/** How long another tab may take to answer, in milliseconds. */
const ANSWER_MS = 3000

/**
 * Has the tab that holds a session give it another title, as a step of its history. Resolves to whether it
 * did within three seconds.
 */
export function renameInItsTab(id: string, title: string): Promise<boolean> {
  const channel = new BroadcastChannel(CHANNEL)
  const question = crypto.randomUUID()
  return new Promise<boolean>((resolve) => {
    channel.onmessage = ({ data }: MessageEvent<Message>) =>
      data.kind === 'done' && data.question === question && resolve(true)
    setTimeout(() => resolve(false), ANSWER_MS)
    channel.postMessage({ kind: 'rename', id, title, question } satisfies Message)
  }).finally(() => channel.close())
}

/** Does what other tabs ask of the session that this one holds; `whenSaved` resolves when its steps are saved. */
export function startAnsweringTabs(store: Store, whenSaved: () => Promise<void>): void {
  if (!('BroadcastChannel' in window)) return
  const channel = new BroadcastChannel(CHANNEL)
  channel.onmessage = ({ data }: MessageEvent<Message>) => {
    const { session, readOnly } = store.getState().session
    if (data.kind !== 'rename' || session?.id !== data.id || readOnly) return
    store.dispatch(commit(setTitle, { title: data.title }))
    void whenSaved().then(() =>
      channel.postMessage({ kind: 'done', question: data.question } satisfies Message),
    )
  }
}
