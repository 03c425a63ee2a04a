import type { Relation } from '../../core/curve/crossfade'
import type { Session } from '../../core/model/session'
import { overlapKey, overlapRelation, overlapSpans } from '../../core/render'
import type { SoundCache } from './audio-store'

const known = new Map<string, Relation>()
const MOST_KNOWN_RELATIONS = 2000

/**
 * How the two sides of a crossfade relate, shaped or unshaped. The result is cached by content. The cache
 * must know the session's sources.
 */
export async function relationOf(
  session: Session,
  crossfadeId: string,
  cache: SoundCache,
  unshaped = false,
): Promise<Relation> {
  const fade = session.crossfades[crossfadeId]!
  const key = overlapKey(session, fade, unshaped)
  const before = known.get(key)
  if (before) return before
  const relation = await cache.using(overlapSpans(session, fade, unshaped), () =>
    overlapRelation(session, fade, cache, unshaped),
  )
  if (known.size > MOST_KNOWN_RELATIONS) known.clear()
  known.set(key, relation)
  return relation
}

/** The ρ of all crossfades by the level law, for planning what is heard shaped or unshaped. */
export async function correlationsOf(
  session: Session,
  cache: SoundCache,
  unshaped = false,
): Promise<Map<string, number>> {
  const map = new Map<string, number>()
  for (const fade of Object.values(session.crossfades))
    if (fade.law === 'level')
      map.set(fade.id, (await relationOf(session, fade.id, cache, unshaped)).correlation)
  return map
}
