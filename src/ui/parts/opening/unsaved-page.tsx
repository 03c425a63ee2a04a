import { Link } from 'react-router'
import { Button } from '../button'
import { useAppDispatch } from '../hooks'
import { saveCopyOf } from '../copies/session-copy'

/** Shown in place of a session while another one is open with changes that could not be saved. */
export function UnsavedPage({ id, title, giveUp }: { id: string; title: string; giveUp(): void }) {
  const dispatch = useAppDispatch()
  return (
    <main className="mx-auto flex h-full max-w-xl flex-col justify-center gap-4 p-8">
      <h1 className="text-xl font-bold">“{title}” has changes that are not saved</h1>
      <p>
        This browser could not store them; they are still in memory. Go back and try again, save a copy, or
        give them up to open another session.
      </p>
      <div className="flex flex-wrap items-center gap-2">
        <Link
          to={`/session/${id}`}
          className="rounded-lg border border-oak bg-oak px-4 py-1.5 font-medium text-white hover:bg-oak-deep"
        >
          Back to “{title}”
        </Link>
        <Button onClick={() => void dispatch(saveCopyOf(id, title))}>Save a copy…</Button>
        <Button onClick={giveUp}>Give them up</Button>
      </div>
    </main>
  )
}
