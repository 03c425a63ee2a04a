import { ChevronRight, Trash2, Undo2 } from 'lucide-react'
import { KEEP_DELETED } from '../../engine/storage'
import type { SoundSize } from '../../engine/storage'
import type { SessionRecord } from '../../engine/storage'
import { Button } from '../parts/button'
import { sizeWords } from '../parts/copies/size-words'

const DAY = 86_400_000

/** How long a session stays in the trash yet, in words. */
const daysLeft = (deletedAt: number, now: number): string => {
  const days = Math.max(0, Math.ceil((deletedAt + KEEP_DELETED - now) / DAY))
  return days === 1 ? '1 more day' : `${days} more days`
}

/** The deleted sessions, which can be restored until their time is over or the trash is emptied. */
export function Trash({
  records,
  sizes,
  onRestore,
  onEmpty,
}: {
  records: readonly SessionRecord[]
  sizes: ReadonlyMap<string, SoundSize>
  onRestore(record: SessionRecord): void
  onEmpty(): void
}) {
  if (records.length === 0) return null
  return (
    <details className="group mt-6 rounded-2xl border border-seam bg-cloth/60">
      <summary className="flex cursor-pointer items-center gap-2 px-4 py-3 text-sm font-medium">
        <ChevronRight size={16} className="transition-transform group-open:rotate-90" aria-hidden />
        <Trash2 size={16} aria-hidden />
        Trash: {records.length} {records.length === 1 ? 'session' : 'sessions'}
      </summary>
      <ul aria-label="Trash" className="border-t border-seam">
        {records.map((record) => (
          <li
            key={record.session.id}
            className="flex items-center gap-4 border-b border-seam px-4 py-2 last:border-b-0"
          >
            <span className="min-w-0 flex-1 truncate font-medium">{record.session.title}</span>
            <span className="text-sm text-soft">
              {sizeWords(sizes.get(record.session.id) ?? { own: 0, shared: 0 })} · stays{' '}
              {daysLeft(record.deletedAt!, Date.now())}
            </span>
            <Button aria-label={`Restore ${record.session.title}`} onClick={() => onRestore(record)}>
              <Undo2 size={15} />
              Restore
            </Button>
          </li>
        ))}
      </ul>
      <div className="flex justify-end border-t border-seam px-4 py-2">
        <Button onClick={onEmpty}>Empty the trash…</Button>
      </div>
    </details>
  )
}
