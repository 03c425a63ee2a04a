import type { Knot, Session } from '../model/session'
import { defineEdit, regionWords } from './edit'
import { freshId } from './span'

/**
 * Gives a region's gain thread other knots (in source frames, sorted, heights 0…1); all linked copies follow. `what` names the step.
 * Throws a RangeError for knots that are out of order or out of range.
 */
export const shapeThread = defineEdit<{ regionId: string; knots: readonly Knot[]; what?: string }>({
  name: 'shapeThread',
  label: (session, { regionId, what }) => `${what ?? 'Gain thread'} of ${regionWords(session, [regionId])}`,
  apply(session, { regionId, knots }) {
    knots.forEach((k, i) => {
      if (!(k.value >= 0 && k.value <= 1)) throw new RangeError(`a knot at height ${k.value} is outside 0…1`)
      if (i > 0 && k.frame < knots[i - 1]!.frame) throw new RangeError(`a knot at frame ${k.frame} comes after one at ${knots[i - 1]!.frame}`)
    })
    const region = session.regions[regionId]
    if (!region) return session
    const before = region.gainThreadId === null ? [] : session.gainThreads[region.gainThreadId]!.knots
    if (before.length === knots.length && before.every((k, i) => k === knots[i])) return session
    const id = region.gainThreadId ?? freshId(session.gainThreads, `thread-${regionId}`)
    return {
      ...session,
      gainThreads: { ...session.gainThreads, [id]: { id, knots: [...knots] } },
      regions: region.gainThreadId === null ? { ...session.regions, [regionId]: { ...region, gainThreadId: id } } : session.regions,
    }
  },
})

/** Takes the shape out of the gain threads of regions; linked copies stay linked. */
export const resetThreads = defineEdit<{ regionIds: readonly string[] }>({
  name: 'resetThreads',
  label: (session, { regionIds }) => `Reset gain thread of ${regionWords(session, regionIds)}`,
  apply(session, { regionIds }) {
    let next: Session = session
    for (const id of regionIds) if (session.regions[id]?.gainThreadId) next = shapeThread.apply(next, { regionId: id, knots: [] })
    return next
  },
})

