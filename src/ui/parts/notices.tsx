import { X } from 'lucide-react'
import type { ReactNode } from 'react'
import { noticeDropped } from '../../store/transport-slice'
import { Button } from './button'
import { useAppDispatch, useAppFields, useAppSelector } from './hooks'
import { saveCopyOf } from './session-copy'

const READ_ONLY =
  'This session is open in another tab, which may change it. Here it can be looked at, played and delivered; ' +
  'close the other tab and reload to edit.'

/** Sentences about sound and storage that stay until they are put away. */
export function Notices() {
  const notices = useAppSelector((s) => s.transport.notices)
  const failure = useAppSelector((s) => s.session.saved.failure)
  const session = useAppFields((s) => ({
    id: s.session.session?.id ?? '',
    title: s.session.session?.title ?? '',
  }))
  const readOnly = useAppSelector((s) => s.session.readOnly)
  const dispatch = useAppDispatch()
  return (
    <div aria-live="polite">
      {readOnly && <Line text={READ_ONLY} />}
      {failure && (
        <Line text={`Not saved: ${failure}`}>
          <Button onClick={() => void dispatch(saveCopyOf(session.id, session.title))}>Save a copy…</Button>
        </Line>
      )}
      {notices.map((n) => (
        <Line key={n.id} text={n.text} onDrop={() => dispatch(noticeDropped(n.id))} />
      ))}
    </div>
  )
}

function Line({ text, onDrop, children }: { text: string; onDrop?: () => void; children?: ReactNode }) {
  return (
    <div className="flex items-center gap-3 border-b border-seam bg-white px-4 py-1.5 text-sm">
      <span className="h-2 w-2 shrink-0 rotate-45 bg-madder" aria-hidden />
      <span className="flex-1">{text}</span>
      {children}
      {onDrop && (
        <button
          type="button"
          aria-label="Put this notice away"
          onClick={onDrop}
          className="rounded p-1 text-soft hover:bg-cloth"
        >
          <X size={15} />
        </button>
      )}
    </div>
  )
}
