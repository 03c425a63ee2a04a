import { Copy, Download, EllipsisVertical, PenLine, Trash2 } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { sessionLength } from '../../core/model/queries'
import { showTime } from '../../core/units/typed'
import type { SoundSize } from '../../engine/storage'
import type { SessionRecord } from '../../engine/storage'
import { dyeClass } from '../look/colours'
import { copyWords } from './copy-words'
import { sizeWords } from '../parts/copies/size-words'
import { unlessInDialog } from '../parts/focus-return'

const changed = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

/** What can be done to a session of the list. */
export interface SessionActions {
  onRename(): void
  onSaveCopy(): void
  onDuplicate(): void
  onDelete(): void
}

/** One session of the list. */
export function SessionRow({
  record,
  copiedAt,
  size,
  actions,
}: {
  record: SessionRecord
  /** When the last copy was saved, in milliseconds since 1970; null for never. */
  copiedAt: number | null
  size: SoundSize | undefined
  actions: SessionActions
}) {
  const { session } = record
  const tracks = session.trackIds.length
  return (
    <li className="group relative flex items-center gap-4 border-b border-seam px-4 py-3 last:border-b-0 hover:bg-white">
      <span className="flex h-9 w-8 shrink-0 flex-col justify-center gap-0.5" aria-hidden>
        {session.trackIds.slice(0, 6).map((id) => (
          <span key={id} className={`h-1 rounded-full ${dyeClass[session.tracks[id]!.colour]}`} />
        ))}
        {tracks === 0 && <span className="h-1 rounded-full bg-seam" />}
      </span>
      <div className="min-w-0 flex-1">
        <Link
          to={`/session/${session.id}`}
          className="block truncate text-base font-semibold after:absolute after:inset-0"
        >
          {session.title}
        </Link>
        <p className="truncate text-sm text-soft">
          {tracks === 0 ? 'no tracks yet' : `${tracks} ${tracks === 1 ? 'track' : 'tracks'}`} ·{' '}
          {session.sampleRate / 1000} kHz{size ? ` · ${sizeWords(size)}` : ''} ·{' '}
          {copyWords(record.changedAt, copiedAt, Date.now())}
        </p>
      </div>
      <span className="w-20 text-right font-mono text-sm">
        {showTime(sessionLength(session), session.sampleRate, 0)}
      </span>
      <time className="w-44 text-right text-sm text-soft" dateTime={new Date(record.changedAt).toISOString()}>
        {changed.format(record.changedAt)}
      </time>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          aria-label={`What to do with ${session.title}`}
          className="relative z-10 rounded-lg p-1.5 text-soft hover:bg-fold"
        >
          <EllipsisVertical size={18} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            onCloseAutoFocus={unlessInDialog}
            align="end"
            className="z-50 min-w-40 rounded-xl border border-seam bg-white p-1 shadow-lg"
          >
            <Item icon={<PenLine size={15} />} text="Rename…" onSelect={actions.onRename} />
            <Item icon={<Download size={15} />} text="Save a copy…" onSelect={actions.onSaveCopy} />
            <Item icon={<Copy size={15} />} text="Duplicate" onSelect={actions.onDuplicate} />
            <Item icon={<Trash2 size={15} />} text="Delete" onSelect={actions.onDelete} />
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </li>
  )
}

function Item({ icon, text, onSelect }: { icon: ReactNode; text: string; onSelect(): void }) {
  return (
    <DropdownMenu.Item
      onSelect={onSelect}
      className="flex cursor-pointer items-center gap-2 rounded-lg px-3 py-1.5 text-sm outline-none data-highlighted:bg-cloth"
    >
      {icon}
      {text}
    </DropdownMenu.Item>
  )
}
