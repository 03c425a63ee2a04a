import type { Opening } from './use-session'
import { SilentStorage } from './silent-storage'
import { NotFound } from './not-found'
import { ProgressBar } from '../messages/progress-bar'
import { UnsavedPage } from './unsaved-page'

/** What is shown until a session is open, and when it cannot be. */
export function OpeningPage({ opening }: { opening: Opening }) {
  if (opening.state === 'missing') return <NotFound what="There is no session at this address." />
  if (opening.state === 'unsaved') return <UnsavedPage {...opening} />
  if (opening.state === 'failed') return <NotFound what={opening.message} />
  return (
    <main className="mx-auto flex h-full max-w-xl flex-col justify-center p-8">
      <h1 className="mb-4 text-lg font-bold">Opening the session</h1>
      {opening.state === 'opening' && opening.progress && <ProgressBar progress={opening.progress} />}
      {opening.state === 'opening' && opening.silent && <SilentStorage />}
    </main>
  )
}
