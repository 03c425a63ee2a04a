import type { Insert, Lane, Session } from '../session'
import { insertsOf, lastInsertsOf, rowIds, rowOf, type Row } from '../strips'

/** What keeps a rendering from being the plain mix of all that is in the session. */
export interface MixAside {
  /** Names of the tracks that are soloed, and of those that are muted. */
  soloed: string[]
  muted: string[]
  /** How many inserts are bypassed. */
  bypassedInserts: number
  /** How many regions are muted, and how many lanes with knots are bypassed. */
  mutedRegions: number
  bypassedLanes: number
}

const isBypassed = (lane: Lane) => lane.bypassed && lane.knots.length > 0

/** What is soloed, muted and bypassed in a session. */
export function mixAside(session: Session): MixAside {
  const tracks = rowIds(session).map((id) => rowOf(session, id)!)
  const lanes = [session.mix, ...tracks].flatMap((strip) => Object.values(strip.lanes))
  return {
    soloed: tracks.filter((t) => t.soloed).map((t) => t.name),
    muted: tracks.filter((t) => t.muted).map((t) => t.name),
    bypassedInserts: [session.mix, ...tracks].flatMap(insertsOf).filter((i) => i.bypassed).length,
    mutedRegions: Object.values(session.regions).filter((r) => r.muted).length,
    bypassedLanes: lanes.filter(isBypassed).length,
  }
}

/** Whether a session is rendered as its plain mix. */
export const isPlainMix = ({
  soloed,
  muted,
  mutedRegions,
  bypassedInserts,
  bypassedLanes,
}: MixAside): boolean => soloed.length + muted.length + mutedRegions + bypassedInserts + bypassedLanes === 0

const acting = (lanes: Record<string, Lane>) =>
  Object.fromEntries(
    Object.entries(lanes).map(([key, lane]) => [key, lane.bypassed ? { ...lane, bypassed: false } : lane]),
  )

/** A row with nothing soloed, muted or bypassed. */
const plainRow = <T extends Row>(row: T): T => ({
  ...row,
  soloed: false,
  muted: false,
  lanes: acting(row.lanes),
  inserts: row.inserts.map(actingInsert),
})

const actingInsert = (insert: Insert): Insert => (insert.bypassed ? { ...insert, bypassed: false } : insert)

/** The session with nothing soloed, muted or bypassed. */
export const plainMix = (session: Session): Session => ({
  ...session,
  tracks: Object.fromEntries(Object.entries(session.tracks).map(([id, track]) => [id, plainRow(track)])),
  buses: Object.fromEntries(Object.entries(session.buses).map(([id, bus]) => [id, plainRow(bus)])),
  regions: Object.fromEntries(
    Object.entries(session.regions).map(([id, r]) => [id, r.muted ? { ...r, muted: false } : r]),
  ),
  mix: {
    ...session.mix,
    lanes: acting(session.mix.lanes),
    inserts: session.mix.inserts.map(actingInsert),
    lastInserts: lastInsertsOf(session.mix).map(actingInsert),
  },
})

const some = (count: number, noun: string, verb: string) =>
  `${count} ${noun}${count === 1 ? '' : 's'} ${count === 1 ? 'is' : 'are'} ${verb}`

/** What is said of it before rendering, a sentence for each. */
export function asideWords({
  soloed,
  muted,
  mutedRegions,
  bypassedInserts,
  bypassedLanes,
}: MixAside): string[] {
  return [
    ...(soloed.length
      ? [
          `${some(soloed.length, 'track', 'soloed')} (${soloed.join(', ')}): only ${soloed.length === 1 ? 'it' : 'they'} will be in the file.`,
        ]
      : []),
    ...(muted.length
      ? [`${some(muted.length, 'track', 'muted')} (${muted.join(', ')}) and will not be in the file.`]
      : []),
    ...(mutedRegions ? [`${some(mutedRegions, 'region', 'muted')} and will not be in the file.`] : []),
    ...(bypassedInserts ? [`${some(bypassedInserts, 'insert', 'bypassed')}.`] : []),
    ...(bypassedLanes ? [`${some(bypassedLanes, 'lane', 'bypassed')}: static values hold there.`] : []),
  ]
}
