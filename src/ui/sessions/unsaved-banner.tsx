import { Link } from 'react-router'
import { Button } from '../parts/button'
import { useAppDispatch, useAppFields, useAppSelector } from '../parts/hooks'
import { hasUnsavedWork } from '../../store/selectors'
import { saveCopyOf } from '../parts/copies/session-copy'

/** Says that the session that is still open has changes that could not be saved. */
export function UnsavedBanner() {
  const dispatch = useAppDispatch()
  const unsaved = useAppSelector(hasUnsavedWork)
  const { id, title, failure } = useAppFields(({ session: { session, saved } }) => ({
    id: session?.id ?? '',
    title: session?.title ?? '',
    failure: saved.failure,
  }))
  if (!unsaved) return null
  return (
    <div role="alert" className="mb-4 flex items-center gap-3 rounded-xl border border-madder bg-white p-4">
      <p className="flex-1">
        “{title}” has changes that are not saved; they are still in memory. {failure}
      </p>
      <Button onClick={() => void dispatch(saveCopyOf(id, title))}>Save a copy…</Button>
      <Link
        to={`/session/${id}`}
        className="rounded-lg border border-oak bg-oak px-3 py-1 font-medium whitespace-nowrap text-white hover:bg-oak-deep"
      >
        Back to it
      </Link>
    </div>
  )
}
