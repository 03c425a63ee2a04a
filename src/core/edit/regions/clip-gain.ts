import { clamp } from '../../units/clamp'
import { CLIP_GAIN_DB } from '../../units/decibel'
import { together } from '../../model/groups'
import type { Session } from '../../model/session'
import { showDb } from '../../units/typed'
import { changeWords, defineEdit, groupRegions, mapRegions, regionWords } from '../shared/edit'

const rounded = (db: number) => Math.round(db * 100) / 100 + 0

/** How far the clip gains of regions can move together, in dB, before one of them leaves -72…+36 dB. */
export function clipGainRoom(session: Session, regionIds: readonly string[]): { down: number; up: number } {
  const gains = regionIds.flatMap((id) => session.regions[id]?.clipGainDb ?? [])
  if (gains.length === 0) return { down: 0, up: 0 }
  let [low, high] = [Infinity, -Infinity]
  for (const db of gains) [low, high] = [Math.min(low, db), Math.max(high, db)]
  return { down: CLIP_GAIN_DB.min - low, up: CLIP_GAIN_DB.max - high }
}

/** Sets the clip gain of regions to one value in dB. Throws a RangeError outside -72…+36. */
export const setClipGain = defineEdit<{ regionIds: readonly string[]; db: number }>({
  name: 'setClipGain',
  together: groupRegions,
  label(session, { regionIds, db }) {
    const only = regionIds.length === 1 ? session.regions[regionIds[0]!] : undefined
    const words = only ? changeWords(showDb(only.clipGainDb), showDb(db)) : `→ ${showDb(db)}`
    return `Clip gain of ${regionWords(session, regionIds)} ${words}`
  },
  apply(session, { regionIds, db }) {
    if (!(db >= CLIP_GAIN_DB.min && db <= CLIP_GAIN_DB.max))
      throw new RangeError(`a clip gain of ${db} dB is outside ${CLIP_GAIN_DB.min}…${CLIP_GAIN_DB.max}`)
    return mapRegions(session, regionIds, (r) => (r.clipGainDb === db ? r : { ...r, clipGainDb: db }))
  },
})

/** So much of a change as all of the regions can make. */
function possible(session: Session, regionIds: readonly string[], byDb: number): number {
  const room = clipGainRoom(session, regionIds)
  return clamp(byDb, room.down, room.up)
}

/**
 * Moves the clip gains of regions by so many dB together; they keep their differences and stop when the first
 * reaches a limit.
 */
export const changeClipGain = defineEdit<{ regionIds: readonly string[]; byDb: number }>({
  name: 'changeClipGain',
  together: groupRegions,
  label(session, { regionIds, byDb }) {
    const by = possible(session, regionIds, byDb)
    const only = regionIds.length === 1 ? session.regions[regionIds[0]!] : undefined
    const words = only
      ? changeWords(showDb(only.clipGainDb), showDb(rounded(only.clipGainDb + by)))
      : showDb(rounded(by))
    return `Clip gain of ${regionWords(session, regionIds)} ${words}`
  },
  apply(session, { regionIds, byDb }) {
    const by = possible(session, regionIds, byDb)
    return by === 0
      ? session
      : mapRegions(session, regionIds, (r) => ({ ...r, clipGainDb: rounded(r.clipGainDb + by) }))
  },
})

/** Sets the clip gain of regions back to 0 dB. */
export const resetClipGain = defineEdit<{ regionIds: readonly string[] }>({
  name: 'resetClipGain',
  together: groupRegions,
  label: (session, { regionIds }) => `Reset clip gain of ${regionWords(session, regionIds)}`,
  apply: (session, { regionIds }) => setClipGain.apply(session, { regionIds, db: 0 }),
})

/**
 * Gives each of several regions a clip gain of its own, in dB, as one step. `what` names it. Throws a
 * RangeError outside -72…+36.
 */
export const setClipGains = defineEdit<{ gains: Readonly<Record<string, number>>; what: string }>({
  name: 'setClipGains',
  // Regions that go along keep their difference to the one that they go with.
  together(session, { gains, what }) {
    const { follows, missing } = together(session, Object.keys(gains))
    const also: Record<string, number> = {}
    for (const [id, leader] of follows) {
      const db = session.regions[id]!.clipGainDb + gains[leader]! - session.regions[leader]!.clipGainDb
      also[id] = clamp(db, CLIP_GAIN_DB.min, CLIP_GAIN_DB.max)
    }
    return { args: { gains: { ...gains, ...also }, what }, missing }
  },
  label: (session, { gains, what }) => `${what} ${regionWords(session, Object.keys(gains))}`,
  apply: (session, { gains }) =>
    Object.entries(gains).reduce(
      (next, [id, db]) => setClipGain.apply(next, { regionIds: [id], db: rounded(db) }),
      session,
    ),
})
