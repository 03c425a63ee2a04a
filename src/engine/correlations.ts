import { overlapKey, overlapRelation, overlapSpans } from '../core/render/overlap'
import type { Relation } from '../core/curve/crossfade'
import type { Session } from '../core/model/session'
import type { ChunkCache } from './audio-store'

const known = new Map<string, Relation>()
const MOST = 2000

/** How the sides of one crossfade relate, measured once for the same content. The cache must know the session's sources. */
export async function relationOf(
  session: Session,
  crossfadeId: string,
  cache: ChunkCache,
): Promise<Relation> {
  const fade = session.crossfades[crossfadeId]!
  const key = overlapKey(session, fade)
  const before = known.get(key)
  if (before) return before
  for (
    let wait = cache.ensure(overlapSpans(session, fade));
    wait;
    wait = cache.ensure(overlapSpans(session, fade))
  )
    await wait
  const relation = overlapRelation(session, fade, cache)
  if (known.size > MOST) known.clear()
  known.set(key, relation)
  return relation
}

/** The ρ of all crossfades by the level law, for planning. */
export async function correlationsOf(session: Session, cache: ChunkCache): Promise<Map<string, number>> {
  const map = new Map<string, number>()
  for (const fade of Object.values(session.crossfades))
    if (fade.law === 'level') map.set(fade.id, (await relationOf(session, fade.id, cache)).correlation)
  return map
}
