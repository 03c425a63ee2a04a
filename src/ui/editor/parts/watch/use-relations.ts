import { useMemo, useState, useSyncExternalStore } from 'react'
import type { Relation } from '../../../../core/curve/crossfade'
import type { Session } from '../../../../core/model/session'
import { measuredVersion, onMeasured, relationFor } from '../../../../engine/background'

/**
 * How the two sides of the session's crossfades relate, by id, as far as measured. Covers crossfades by the
 * level law, or also all of `also`.
 */
export function useRelations(
  session: Session,
  also: readonly string[] = NONE,
): ReadonlyMap<string, Relation> {
  const version = useSyncExternalStore(onMeasured, measuredVersion)
  return useMemo(() => {
    const map = new Map<string, Relation>()
    for (const fade of Object.values(session.crossfades)) {
      const relation = fade.law === 'level' || also.includes(fade.id) ? relationFor(session, fade.id) : null
      if (relation) map.set(fade.id, relation)
    }
    return map
    // What was measured meanwhile counts too.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [session, also, version])
}

const NONE: readonly string[] = []

/** Only the correlations, as planning needs them; the same map while they are equal. */
export function useCorrelations(session: Session): ReadonlyMap<string, number> {
  const relations = useRelations(session)
  const [last] = useState<{ map: ReadonlyMap<string, number> }>({ map: new Map() })
  return useMemo(() => {
    const map = new Map([...relations].map(([id, r]) => [id, r.correlation]))
    const same =
      map.size === last.map.size && [...map].every(([id, correlation]) => last.map.get(id) === correlation)
    return same ? last.map : (last.map = map)
  }, [relations, last])
}
