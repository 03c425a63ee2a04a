import { setTitle } from '../../core/edit'
import { commit, dropPreview } from '../edits'
import { TAB_CHANNEL, type TabMessage } from './ask-other-tab'
import { giveAway } from './open-session'
import { getPlayer } from '../playback/playback'
import type { Store } from '../store'

/** Does what other tabs ask of the session that this one holds; `whenSaved` resolves when its steps are saved. */
export function startAnsweringTabs(store: Store, whenSaved: () => Promise<void>): void {
  if (!('BroadcastChannel' in window)) return
  const channel = new BroadcastChannel(TAB_CHANNEL)
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
  channel.onmessage = async ({ data }: MessageEvent<TabMessage>) => {
    const { session, readOnly } = store.getState().session
    if (data.kind === 'answer' || session?.id !== data.id || readOnly) return
    let refused: string | null = null
    if (data.kind === 'release') refused = await release()
    else {
      store.dispatch(commit(setTitle, { title: data.title }))
      await whenSaved()
    }
    channel.postMessage({ kind: 'answer', question: data.question, refused } satisfies TabMessage)
  }
}
