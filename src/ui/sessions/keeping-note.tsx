import { useEffect, useState } from 'react'
import { isPersisted } from '../../engine/storage'

/** Says how safe sessions are in this browser, and what to do. `version` grows when that may have changed. */
export function KeepingNote({ version }: { version: number }) {
  const [persisted, setPersisted] = useState<boolean | null>(null)
  useEffect(() => void isPersisted().then(setPersisted), [version])
  if (persisted === null) return null
  return (
    <p className="mt-3 px-1 text-sm text-soft">
      {persisted
        ? 'This browser has promised to keep your sessions until you delete them.'
        : 'This browser may remove sessions when the disk is nearly full. Keep copies of those that matter.'}
    </p>
  )
}
