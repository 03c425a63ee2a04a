/** What a tab asks of the one that holds a session. */
type Request = { kind: 'rename'; id: string; title: string } | { kind: 'release'; id: string }

/** What the holder says: done, or why not, as a sentence. */
interface Answer {
  question: string
  refused: string | null
}

export type TabMessage = (Request & { question: string }) | (Answer & { kind: 'answer' })

/** Where tabs talk to each other. */
export const TAB_CHANNEL = 'oaken-thread/tabs'

/** How long another tab may take to answer, in milliseconds. */
const ANSWER_MS = 3000

/** Asks the tab that holds a session; null when none answered within three seconds. */
function askHolder(request: Request): Promise<Answer | null> {
  const channel = new BroadcastChannel(TAB_CHANNEL)
  const question = crypto.randomUUID()
  return new Promise<Answer | null>((resolve) => {
    channel.onmessage = ({ data }: MessageEvent<TabMessage>) =>
      data.kind === 'answer' && data.question === question && resolve(data)
    setTimeout(() => resolve(null), ANSWER_MS)
    channel.postMessage({ ...request, question } satisfies TabMessage)
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
