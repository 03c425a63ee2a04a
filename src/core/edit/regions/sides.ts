import type { Session, SidesChange } from '../../model/session'
import { sidesOf, withSides } from '../../model/sides'
import { rowOf, type Row } from '../../model/strips'
import { counted, defineEdit, groupRegions, mapRegions, regionWords } from '../shared/edit'

/** How far a side can be turned up or down, in dB. */
export const SIDE_DB = { min: -24, max: 24 } as const

function expectInRange({ gainDb }: SidesChange): void {
  for (const db of gainDb)
    if (!(db >= SIDE_DB.min && db <= SIDE_DB.max))
      throw new RangeError(`a side of ${db} dB is outside ${SIDE_DB.min}…${SIDE_DB.max}`)
}

function withRow(session: Session, id: string, change: <R extends Row>(row: R) => R): Session {
  const track = session.tracks[id]
  if (track) return { ...session, tracks: { ...session.tracks, [id]: change(track) } }
  const bus = session.buses[id]
  return bus ? { ...session, buses: { ...session.buses, [id]: change(bus) } } : session
}

/** What is left out of a change stays as it is. */
const changed = (before: SidesChange, change: Partial<SidesChange>): SidesChange => ({ ...before, ...change })

/** Changes left and right of stereo regions: gains of -24…+24 dB, polarities. Throws a RangeError for others. */
export const setRegionSides = defineEdit<{ regionIds: readonly string[]; change: Partial<SidesChange> }>({
  name: 'setRegionSides',
  together: groupRegions,
  label: (session, { regionIds }) => `Left and right of ${regionWords(session, regionIds)}`,
  apply: (session, { regionIds, change }) =>
    mapRegions(session, regionIds, (region) => {
      const sides = changed(sidesOf(region), change)
      expectInRange(sides)
      const same = JSON.stringify(sides) === JSON.stringify(sidesOf(region))
      return same || session.sources[region.sourceId]!.channels === 1 ? region : withSides(region, sides)
    }),
})

/** The same of stereo tracks and buses. */
export const setTrackSides = defineEdit<{ trackIds: readonly string[]; change: Partial<SidesChange> }>({
  name: 'setTrackSides',
  label: (session, { trackIds }) =>
    `Left and right of ${trackIds.length === 1 ? `“${rowOf(session, trackIds[0]!)?.name ?? ''}”` : counted(trackIds.length, 'track')}`,
  apply: (session, { trackIds, change }) =>
    trackIds.reduce<Session>((next, id) => {
      const row = rowOf(next, id)
      if (!row || row.channels === 1) return next
      const sides = changed(sidesOf(row), change)
      expectInRange(sides)
      if (JSON.stringify(sides) === JSON.stringify(sidesOf(row))) return next
      return withRow(next, id, (of) => withSides(of, sides))
    }, session),
})
