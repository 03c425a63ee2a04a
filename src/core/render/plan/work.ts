import { insertKindOf, type InsertKindName } from '../../model/inserts/insert-kinds'
import type { Session } from '../../model/session'
import { insertsOf, rowIds, rowOf } from '../../model/strips'
import { isAudible } from '../../model/queries'

/** Roughly how long placing and adding a strip takes: processor cycles a stereo frame, as `work` of a kind of insert. */
export const STRIP_WORK = 40

/** The kind of insert that takes most of the work of a session, how many of it act, and their part of all work, 0…1. */
export interface MostWork {
  kind: InsertKindName
  count: number
  part: number
}

/** What takes most of the work of a session's audible strips and its mix; null where no insert acts. */
export function mostWork(session: Session): MostWork | null {
  const rows = rowIds(session).filter((id) => isAudible(session, id))
  const strips = [...rows.map((id) => rowOf(session, id)!), session.mix]
  const counts = new Map<InsertKindName, number>()
  for (const { kind, bypassed } of strips.flatMap(insertsOf))
    if (!bypassed) counts.set(kind, (counts.get(kind) ?? 0) + 1)
  const all = [...counts].map(([kind, count]) => ({ kind, count, work: count * insertKindOf(kind).work }))
  const whole = all.reduce((sum, { work }) => sum + work, strips.length * STRIP_WORK)
  const most = all.sort((a, b) => b.work - a.work)[0]
  return most ? { kind: most.kind, count: most.count, part: most.work / whole } : null
}
