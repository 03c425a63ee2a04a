import { clamp } from '../../units/clamp'
import { createTrack } from '../../model/create'
import { withoutKeys } from '../../model/sidechain'
import { LIMITS, type Crossfade, type Lane, type Session, type Track } from '../../model/session'
import { rowIds, rowOf } from '../../model/strips'
import { counted, defineEdit } from '../shared/edit'
import { withoutGroupsOf } from '../regions/groups'
import { withTrack } from '../shared/with-strip'
import { withoutUnusedThreads } from '../regions/resolve-overlaps'
import { freshId } from '../shared/span'

const tracksInWords = (session: Session, trackIds: readonly string[]) => {
  const only = trackIds.length === 1 ? rowOf(session, trackIds[0]!) : undefined
  return only ? `“${only.name}”` : counted(trackIds.length, 'track')
}

/** Those of some tracks that are there, in the order of the session. */
const inOrder = (session: Session, trackIds: readonly string[]) => {
  const wanted = new Set(trackIds)
  return session.trackIds.filter((id) => wanted.has(id))
}

/** Adds an empty track below another one, or with null as `after` at the end. */
export const addTrack = defineEdit<{ name: string; channels: 1 | 2; after: string | null }>({
  name: 'addTrack',
  label: (_session, { name, channels }) => `Add the ${channels === 1 ? 'mono' : 'stereo'} track “${name}”`,
  apply(session, { name, channels, after }) {
    if (session.trackIds.length >= LIMITS.tracks) return session
    const id = freshId({ ...session.tracks, ...session.buses }, 'track')
    const row = after === null ? -1 : session.trackIds.indexOf(after)
    const at = row < 0 ? session.trackIds.length : row + 1
    return {
      ...session,
      tracks: { ...session.tracks, [id]: createTrack(id, name, channels, session.trackIds.length) },
      trackIds: [...session.trackIds.slice(0, at), id, ...session.trackIds.slice(at)],
    }
  },
})

/**
 * Duplicates tracks with their settings and lanes, each below the last of them; with `regions` also what lies on them,
 * whose copies have gain threads of their own. A copy is neither soloed nor gives it way to anybody.
 */
export const duplicateTracks = defineEdit<{ trackIds: readonly string[]; regions: boolean }>({
  name: 'duplicateTracks',
  label: (session, { trackIds, regions }) =>
    `Duplicate ${tracksInWords(session, trackIds)}${regions ? '' : ' without regions'}`,
  apply(session, { trackIds, regions: withRegions }) {
    const originals = inOrder(session, trackIds)
    if (originals.length === 0 || session.trackIds.length + originals.length > LIMITS.tracks) return session
    const [tracks, regions] = [{ ...session.tracks }, { ...session.regions }]
    const [gainThreads, crossfades] = [{ ...session.gainThreads }, { ...session.crossfades }]
    const made: string[] = []
    for (const original of originals) {
      const track = tracks[original]!
      const id = freshId({ ...tracks, ...session.buses }, original)
      made.push(id)
      const lanes = Object.fromEntries(
        Object.entries(track.lanes).map(([key, { giveWay: _, ...lane }]): [string, Lane] => [key, lane]),
      )
      tracks[id] = {
        ...track,
        id,
        name: `${track.name} copy`.slice(0, LIMITS.nameLength),
        soloed: false,
        lanes,
      }
      if (!withRegions) continue
      const copies = new Map<string, string>()
      const threads = new Map<string, string>()
      for (const region of Object.values(session.regions)) {
        if (region.trackId !== original) continue
        const copy = freshId(regions, region.id)
        copies.set(region.id, copy)
        let { gainThreadId } = region
        if (gainThreadId !== null) {
          // Copies that shared a thread share one again.
          const own = threads.get(gainThreadId) ?? freshId(gainThreads, gainThreadId)
          threads.set(gainThreadId, own)
          gainThreads[own] = { id: own, knots: session.gainThreads[gainThreadId]!.knots }
          gainThreadId = own
        }
        regions[copy] = { ...region, id: copy, trackId: id, gainThreadId }
      }
      for (const fade of Object.values(session.crossfades)) {
        const [leftId, rightId] = [copies.get(fade.leftId), copies.get(fade.rightId)]
        if (leftId === undefined || rightId === undefined) continue
        const copy = freshId(crossfades, fade.id)
        crossfades[copy] = { ...fade, id: copy, leftId, rightId } satisfies Crossfade
      }
    }
    const at = session.trackIds.indexOf(originals.at(-1)!) + 1
    return {
      ...session,
      tracks,
      regions,
      gainThreads,
      crossfades,
      trackIds: [...session.trackIds.slice(0, at), ...made, ...session.trackIds.slice(at)],
    }
  },
})

/** A lane that no longer gives way to tracks that are gone; one that gives way to none keeps its knots. */
function withoutOthers(lane: Lane, gone: ReadonlySet<string>): Lane {
  const { giveWay, ...rest } = lane
  if (!giveWay?.others.some((id) => gone.has(id))) return lane
  const others = giveWay.others.filter((id) => !gone.has(id))
  return others.length ? { ...rest, giveWay: { ...giveWay, others } } : rest
}

/** Solos just these tracks and buses of all. */
export const setSolos = defineEdit<{ trackIds: readonly string[] }>({
  name: 'setSolos',
  label: (session, { trackIds }) =>
    trackIds.length === 0 ? 'Clear all solos' : `Solo only ${tracksInWords(session, trackIds)}`,
  apply(session, { trackIds }) {
    const wanted = new Set(trackIds)
    const others = rowIds(session).filter((id) => rowOf(session, id)!.soloed !== wanted.has(id))
    return others.reduce((next, id) => withTrack(next, id, { soloed: wanted.has(id) }), session)
  },
})

/** Deletes tracks with their regions. */
export const deleteTracks = defineEdit<{ trackIds: readonly string[] }>({
  name: 'deleteTracks',
  label: (session, { trackIds }) => `Delete ${tracksInWords(session, trackIds)}`,
  apply(whole, { trackIds }) {
    const gone = new Set(inOrder(whole, trackIds))
    if (gone.size === 0) return whole
    const session = withoutKeys(whole, (id) => gone.has(id))
    const regions = Object.fromEntries(
      Object.entries(session.regions).filter(([, r]) => !gone.has(r.trackId)),
    )
    const tracks: Session['tracks'] = {}
    for (const [id, track] of Object.entries(session.tracks)) {
      if (gone.has(id)) continue
      const changes = Object.values(track.lanes).some((l) =>
        l.giveWay?.others.some((other) => gone.has(other)),
      )
      tracks[id] = changes
        ? {
            ...track,
            lanes: Object.fromEntries(
              Object.entries(track.lanes).map(([key, lane]) => [key, withoutOthers(lane, gone)]),
            ),
          }
        : track
    }
    return withoutUnusedThreads({
      ...withoutGroupsOf(session, trackIds),
      tracks,
      regions,
      crossfades: Object.fromEntries(
        Object.entries(session.crossfades).filter(([, x]) => regions[x.leftId] && regions[x.rightId]),
      ),
      trackIds: session.trackIds.filter((id) => !gone.has(id)),
    })
  },
})

/** Moves tracks, together and in their order, up or down past so many others; they stop at the first and the last row. */
export const moveTracks = defineEdit<{ trackIds: readonly string[]; byRows: number }>({
  name: 'moveTracks',
  label: (session, { trackIds, byRows }) =>
    `Move ${tracksInWords(session, trackIds)} ${byRows < 0 ? 'up' : 'down'}`,
  apply(session, { trackIds, byRows }) {
    const moved = inOrder(session, trackIds)
    const [first] = moved
    if (first === undefined || byRows === 0) return session
    const chosen = new Set(moved)
    const rest = session.trackIds.filter((id) => !chosen.has(id))
    const before = session.trackIds
      .slice(0, session.trackIds.indexOf(first))
      .filter((id) => !chosen.has(id)).length
    const at = clamp(before + byRows, 0, rest.length)
    const next = [...rest.slice(0, at), ...moved, ...rest.slice(at)]
    return next.every((id, i) => id === session.trackIds[i]) ? session : { ...session, trackIds: next }
  },
})

/**
 * Makes tracks mono or stereo. A stereo region on a mono track is the mean of its sides, a mono one on a stereo track
 * sounds on both.
 */
export const setTrackChannels = defineEdit<{ trackIds: readonly string[]; channels: 1 | 2 }>({
  name: 'setTrackChannels',
  label: (session, { trackIds, channels }) =>
    `Make ${tracksInWords(session, trackIds)} ${channels === 1 ? 'mono' : 'stereo'}`,
  apply(session, { trackIds, channels }) {
    const changed = inOrder(session, trackIds).filter((id) => session.tracks[id]!.channels !== channels)
    return changed.length === 0
      ? session
      : {
          ...session,
          tracks: {
            ...session.tracks,
            ...Object.fromEntries(
              changed.map((id): [string, Track] => [id, { ...session.tracks[id]!, channels }]),
            ),
          },
        }
  },
})
