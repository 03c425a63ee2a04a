import { X } from 'lucide-react'
import type { ReactNode } from 'react'

/** A sentence across the page that stays, with what can be done about it. */
export function NoticeLine({
  text,
  onDrop,
  children,
}: {
  text: string
  onDrop?: () => void
  children?: ReactNode
}) {
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
