import { createRegion, createTrack } from '../../model/create'
import { regionEnd, regionsOf } from '../../model/queries'
import { LIMITS, type Lane, type Session, type Source, type Track } from '../../model/session'
import { least, most } from '../../units/extremes'
import { splitRegions } from './split-join'
import { counted, defineEdit } from '../shared/edit'
import { resolveOverlaps, withoutUnusedThreads } from './resolve-overlaps'
import { deleteTracks } from '../strips/tracks'

/** Lanes that stay where inserts are in the sound already. */
const withoutInserts = (lanes: Readonly<Record<string, Lane>>): Record<string, Lane> =>
  Object.fromEntries(Object.entries(lanes).filter(([key]) => !key.startsWith('insert:')))

/** A track that goes on as one does after its inserts: its fader, pan, ways and lanes, for a sound that has been through them. */
function afterInserts(track: Track, id: string, name: string, channels: 1 | 2): Track {
  const { chainB: _, moved: __, sides: ___, ...rest } = track
  return {
    ...rest,
    id,
    name,
    channels,
    trimDb: 0,
    polarity: 1,
    inserts: [],
    lanes: withoutInserts(track.lanes),
    panMode: channels === track.channels ? track.panMode : 'balance',
  }
}

/** The session with a track put in at a place. */
function withTrack(session: Session, track: Track, at: number): Session {
  if (session.trackIds.length >= LIMITS.tracks)
    throw new RangeError(`a session has at most ${LIMITS.tracks} tracks`)
  const { trackIds } = session
  return {
    ...session,
    trackIds: [...trackIds.slice(0, at), track.id, ...trackIds.slice(at)],
    tracks: { ...session.tracks, [track.id]: track },
  }
}

/** Crossfades hold together what is on one track. */
const withoutTornCrossfades = (session: Session): Session => {
  const entries = Object.entries(session.crossfades)
  const kept = entries.filter(
    ([, { leftId, rightId }]) => session.regions[leftId]?.trackId === session.regions[rightId]?.trackId,
  )
  return kept.length === entries.length ? session : { ...session, crossfades: Object.fromEntries(kept) }
}

/** What is rendered: a session in which a track has only that, from and to where it lies. */
export interface PartToRender {
  session: Session
  from: number
  to: number
}

/** A session in which a track has no regions but some. */
function withOnly(session: Session, trackId: string, regionIds: readonly string[]): PartToRender {
  const taken = regionIds.map((id) => session.regions[id]!)
  const regions = Object.fromEntries(
    Object.entries(session.regions).filter(([id, r]) => r.trackId !== trackId || regionIds.includes(id)),
  )
  const crossfades = Object.fromEntries(
    Object.entries(session.crossfades).filter(([, x]) => regions[x.leftId] && regions[x.rightId]),
  )
  return {
    session: { ...session, regions, crossfades },
    from: least(taken, (r) => r.start),
    to: most(taken, regionEnd),
  }
}

/**
 * What is to be rendered of a track: some regions, or all that lies between two frames; null when there is nothing. Regions are divided at the
 * frames, so that what is rendered and what stays are the whole together, with what each leaves in the inserts; where they cannot be, as
 * inside a crossfade, the range grows to their ends.
 */
export function partToRender(
  session: Session,
  trackId: string,
  what: { regionIds: readonly string[] } | { from: number; to: number },
): PartToRender | null {
  if ('regionIds' in what) return what.regionIds.length ? withOnly(session, trackId, what.regionIds) : null
  let { from, to } = what
  for (;;) {
    const [begin, end] = [from, to]
    const inside = (s: Session) => regionsOf(s, trackId).filter((r) => r.start < end && regionEnd(r) > begin)
    const regionIds = inside(session).map(({ id }) => id)
    const split = splitRegions.apply(session, { regionIds, frames: [from, to] })
    const pieces = inside(split)
    if (pieces.length === 0) return null
    from = Math.min(
      from,
      least(pieces, (r) => r.start),
    )
    to = Math.max(to, most(pieces, regionEnd))
    if (from === begin && to === end)
      return {
        ...withOnly(
          split,
          trackId,
          pieces.map(({ id }) => id),
        ),
        from,
        to,
      }
  }
}

/**
 * Puts a rendered sound in place of what it was made from: regions of a track, or, with null, all that lies between two frames. What
 * it was made from goes on a muted track below, and comes back by `putBackRendered`. With `newTrackId` the sound has been through
 * the inserts, and lies on a track of its own that goes on as theirs does after them. Throws a RangeError when there is no room for
 * another track.
 */
export const renderInPlace = defineEdit<{
  source: Source
  regionId: string
  trackId: string
  keptId: string
  newTrackId: string | null
  from: number
  to: number
  name: string
  regionIds: readonly string[] | null
}>({
  name: 'renderInPlace',
  label: (_session, { name, regionIds, newTrackId }) =>
    `Render ${regionIds ? counted(regionIds.length, 'region') : 'the range'} in place, ${newTrackId ? 'after' : 'before'} the inserts: “${name}”`,
  apply(session, { source, regionId, trackId, keptId, newTrackId, from, to, name, regionIds }) {
    const track = session.tracks[trackId]
    if (!track) return session
    const of = (s: Session) =>
      regionsOf(s, trackId).filter((r) =>
        regionIds ? regionIds.includes(r.id) : r.start < to && regionEnd(r) > from,
      )
    const split = regionIds
      ? session
      : splitRegions.apply(session, { regionIds: of(session).map(({ id }) => id), frames: [from, to] })
    const taken = of(split)
    const at = split.trackIds.indexOf(trackId)
    let next = withTrack(
      split,
      {
        ...createTrack(
          keptId,
          `${track.name}, before rendering`.slice(0, LIMITS.nameLength),
          track.channels,
          at,
        ),
        colour: track.colour,
        muted: true,
      },
      at + 1,
    )
    if (newTrackId)
      next = withTrack(
        next,
        afterInserts(track, newTrackId, name.slice(0, LIMITS.nameLength), source.channels),
        at,
      )
    const regions = { ...next.regions }
    for (const region of taken) regions[region.id] = { ...region, trackId: keptId }
    regions[regionId] = {
      ...createRegion(regionId, newTrackId ?? trackId, source, from, name),
      madeFrom: { trackId, keptId },
    }
    next = withoutTornCrossfades({ ...next, sources: { ...next.sources, [source.id]: source }, regions })
    return withoutUnusedThreads(resolveOverlaps(next, [regionId]))
  },
})

/** Whether what a rendered region was made from is still there. */
export const canPutBack = (session: Session, regionId: string): boolean => {
  const made = session.regions[regionId]?.madeFrom
  return (
    made !== undefined &&
    session.tracks[made.keptId] !== undefined &&
    session.tracks[made.trackId] !== undefined
  )
}

/** Puts back what a rendered region was made from, and takes it away with the tracks that were made for it. */
export const putBackRendered = defineEdit<{ regionId: string }>({
  name: 'putBackRendered',
  label: (session, { regionId }) => `Put back what “${session.regions[regionId]?.name ?? ''}” was made from`,
  apply(session, { regionId }) {
    if (!canPutBack(session, regionId)) return session
    const { trackId: on, madeFrom } = session.regions[regionId]!
    const { trackId, keptId } = madeFrom!
    const regions = { ...session.regions }
    delete regions[regionId]
    const back = regionsOf(session, keptId).map(({ id }) => id)
    for (const id of back) regions[id] = { ...regions[id]!, trackId }
    const crossfades = Object.fromEntries(
      Object.entries(session.crossfades).filter(([, x]) => x.leftId !== regionId && x.rightId !== regionId),
    )
    const next = resolveOverlaps({ ...session, regions, crossfades }, back)
    const emptied = on !== trackId && regionsOf(next, on).length === 0 ? [on] : []
    return withoutUnusedThreads(deleteTracks.apply(next, { trackIds: [keptId, ...emptied] }))
  },
})
