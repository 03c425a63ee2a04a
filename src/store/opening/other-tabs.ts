import { setTitle } from '../../core/edit'
import { commit, dropPreview } from '../edits'
import { giveAway } from './open-session'
import { getPlayer } from '../playback/playback'
import type { Store } from '../store'

/** What a tab asks of the one that holds a session. */
type Request = { kind: 'rename'; id: string; title: string } | { kind: 'release'; id: string }

/** What the holder says: done, or why not, as a sentence. */
interface Answer {
  question: string
  refused: string | null
}

type Message = (Request & { question: string }) | (Answer & { kind: 'answer' })

const CHANNEL = 'oaken-thread/tabs'

/** How long another tab may take to answer, in milliseconds. */
const ANSWER_MS = 3000

/** Asks the tab that holds a session; null when none answered within three seconds. */
function askHolder(request: Request): Promise<Answer | null> {
  const channel = new BroadcastChannel(CHANNEL)
  const question = crypto.randomUUID()
  return new Promise<Answer | null>((resolve) => {
    channel.onmessage = ({ data }: MessageEvent<Message>) =>
      data.kind === 'answer' && data.question === question && resolve(data)
    setTimeout(() => resolve(null), ANSWER_MS)
    channel.postMessage({ ...request, question } satisfies Message)
  }).finally(() => channel.close())
}

/**
 * Has the tab that holds a session give it another title, as a step of its history. Resolves to whether it
 * did within three seconds.
 */
export const renameInItsTab = async (id: string, title: string): Promise<boolean> =>
  (await askHolder({ kind: 'rename', id, title }))?.refused === null

/**
 * Asks the tab that holds a session to give it away: it ends its gesture, saves and becomes read-only. Resolves
 * to 'given', to a sentence why not, or to null when it did not answer within three seconds.
 */
export async function askForSession(id: string): Promise<'given' | { refused: string } | null> {
  const answer = await askHolder({ kind: 'release', id })
  if (!answer) return null
  return answer.refused === null ? 'given' : { refused: answer.refused }
}

/** Does what other tabs ask of the session that this one holds; `whenSaved` resolves when its steps are saved. */
export function startAnsweringTabs(store: Store, whenSaved: () => Promise<void>): void {
  if (!('BroadcastChannel' in window)) return
  const channel = new BroadcastChannel(CHANNEL)
  const release = async (): Promise<string | null> => {
    // Riding ends with playing, and is a step.
    getPlayer()?.pause()
    store.dispatch(dropPreview())
    await whenSaved()
    const { saved, readOnly } = store.getState().session
    // It may have been taken while this tab was waiting for the storage.
    if (readOnly) return null
    if (saved.failure !== null) return `The other tab cannot save its latest steps: ${saved.failure}`
    store.dispatch(giveAway())
    return null
  }
  channel.onmessage = async ({ data }: MessageEvent<Message>) => {
    const { session, readOnly } = store.getState().session
    if (data.kind === 'answer' || session?.id !== data.id || readOnly) return
    let refused: string | null = null
    if (data.kind === 'release') refused = await release()
    else {
      store.dispatch(commit(setTitle, { title: data.title }))
      await whenSaved()
    }
    channel.postMessage({ kind: 'answer', question: data.question, refused } satisfies Message)
  }
}
