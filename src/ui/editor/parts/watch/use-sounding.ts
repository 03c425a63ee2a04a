import { useState } from 'react'
import type { Session } from '../../../../core/model/session'
import { useAppSelector } from '../../../parts/hooks'

/**
 * The session, unchanged while only lanes of its tracks change: those are drawn over the pictures of sound
 * and do not affect them.
 */
export function useSounding(): Session {
  const [last] = useState<{ session: Session | null }>({ session: null })
  return useAppSelector((s) => {
    const now = s.session.session!
    const before = last.session
    const parts = [
      'id',
      'trackIds',
      'regions',
      'sources',
      'gainThreads',
      'crossfades',
      'tempo',
      'sampleRate',
    ] as const
    const heads = ['colour', 'muted', 'soloed'] as const
    const same =
      before &&
      parts.every((part) => before[part] === now[part]) &&
      before.buses === now.buses &&
      (before.tracks === now.tracks ||
        now.trackIds.every(
          (id) =>
            before.tracks[id] === now.tracks[id] ||
            heads.every((h) => before.tracks[id]?.[h] === now.tracks[id]![h]),
        ))
    return same ? before : (last.session = now)
  })
}
