import { keepSessionAgain } from '../../../store/opening/autosave'
import { noticeDropped } from '../../../store/transport-slice'
import { Button } from '../button'
import { useAppDispatch, useAppFields, useAppSelector } from '../hooks'
import { MissingNotice } from '../import/missing-notice'
import { NoticeLine } from './notice-line'
import { ReadOnlyNotice } from './read-only-notice'
import { saveCopyOf } from '../copies/session-copy'

/** Sentences about sound and storage that stay until they are put away. */
export function Notices() {
  const notices = useAppSelector((s) => s.transport.notices)
  const { failure, vanished } = useAppSelector((s) => s.session.saved)
  const session = useAppFields((s) => ({
    id: s.session.session?.id ?? '',
    title: s.session.session?.title ?? '',
  }))
  const dispatch = useAppDispatch()
  return (
    <div aria-live="polite">
      <ReadOnlyNotice />
      {failure && (
        <NoticeLine text={`Not saved: ${failure}`}>
          {vanished && <Button onClick={() => void keepSessionAgain()}>Keep it here again</Button>}
          <Button onClick={() => void dispatch(saveCopyOf(session.id, session.title))}>Save a copy…</Button>
        </NoticeLine>
      )}
      <MissingNotice />
      {notices.map((n) => (
        <NoticeLine key={n.id} text={n.text} onDrop={() => dispatch(noticeDropped(n.id))} />
      ))}
    </div>
  )
}
