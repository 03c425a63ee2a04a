import { withoutKeys } from './sidechain'
import { TO_MIX, type Session } from './session'

const pick = <T>(record: Readonly<Record<string, T>>, ids: Iterable<string>): Record<string, T> => {
  const out: Record<string, T> = {}
  for (const id of ids) if (record[id]) out[id] = record[id]
  return out
}

/**
 * A session with only some of its regions and all they need: their tracks, sources, gain threads, and the
 * crossfades at their ends with the regions on the other side. Small enough to be sent to a worker with every
 * question.
 */
export function excerpt(session: Session, regionIds: readonly string[]): Session {
  const part = onlyRegions(session, regionIds)
  return withoutKeys(part, (id) => session.tracks[id] !== undefined && !part.tracks[id])
}

function onlyRegions(session: Session, regionIds: readonly string[]): Session {
  const wanted = new Set(regionIds.filter((id) => session.regions[id]))
  const crossfades = Object.values(session.crossfades).filter(
    (x) => wanted.has(x.leftId) || wanted.has(x.rightId),
  )
  const ids = new Set([...wanted, ...crossfades.flatMap((x) => [x.leftId, x.rightId])])
  const regions = pick(session.regions, ids)
  const list = Object.values(regions)
  const trackIds = new Set(list.map((r) => r.trackId))
  const { groups: _, ...rest } = session
  return {
    ...rest,
    regions,
    trackIds: session.trackIds.filter((id) => trackIds.has(id)),
    tracks: pick(session.tracks, trackIds),
    sources: pick(
      session.sources,
      list.map((r) => r.sourceId),
    ),
    gainThreads: pick(
      session.gainThreads,
      list.flatMap((r) => r.gainThreadId ?? []),
    ),
    crossfades: Object.fromEntries(crossfades.map((x) => [x.id, x])),
    markers: [],
  }
}

/**
 * The same for what is measured of regions and of where they meet, before anything that is done to their
 * tracks: without lanes, which may be long, and without inserts and buses.
 */
export function soundExcerpt(session: Session, regionIds: readonly string[]): Session {
  const part = excerpt(session, regionIds)
  return {
    ...part,
    busIds: [],
    buses: {},
    tracks: Object.fromEntries(
      Object.entries(part.tracks).map(([id, track]) => [
        id,
        { ...track, lanes: {}, inserts: [], sends: [], output: TO_MIX },
      ]),
    ),
    mix: { ...part.mix, lanes: {}, inserts: [], lastInserts: [] },
  }
}
