import { FADER } from '../../model/parameters'
import { regionsOf } from '../../model/queries'
import type { Lane, MovedGain, Session, Track } from '../../model/session'
import { counted, defineEdit, regionWords } from '../shared/edit'
import { movedGain, type GainMove } from './moved-gain'
import { withTrack } from '../shared/with-strip'
import { withoutUnusedThreads } from './resolve-overlaps'
import { freshId } from '../shared/span'

/** What a move changed of a track, as it was or as it became. */
function stateOf(session: Session, trackId: string, regionIds: readonly string[]): MovedGain['before'] {
  const regions: MovedGain['before']['regions'] = {}
  for (const id of regionIds) {
    const region = session.regions[id]
    if (!region) continue
    const knots = region.gainThreadId === null ? null : session.gainThreads[region.gainThreadId]!.knots
    const { clipGainDb, gainThreadId } = region
    regions[id] = { clipGainDb, gainThreadId, knots }
  }
  return { regions, lane: session.tracks[trackId]!.lanes[FADER] ?? null }
}

/** Moves that are remembered for the way back, of a track. */
const MOST_MOVES = 20

const sameState = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

/** Carries gain to the other side of the inserts, and remembers how it was. Changes nothing where it cannot be. */
export const moveGain = defineEdit<GainMove>({
  name: 'moveGain',
  label: (session, move) =>
    move.what === 'clip-gain'
      ? `Move the clip gain of ${regionWords(session, move.regionIds)} to volume`
      : move.what === 'thread'
        ? `Move the gain thread of ${regionWords(session, move.regionIds)} to volume`
        : `Move volume of “${session.tracks[move.trackId]?.name ?? ''}” to the regions`,
  apply(session, move) {
    const moved = movedGain(session, move)
    if ('problem' in moved) return session
    const { trackId, session: next } = moved
    const ids = regionsOf(session, trackId)
      .map(({ id }) => id)
      .filter((id) => session.regions[id] !== next.regions[id] || threadsDiffer(session, next, id))
    const record: MovedGain = {
      id: freshId(Object.fromEntries((session.tracks[trackId]!.moved ?? []).map((m) => [m.id, m])), 'moved'),
      before: stateOf(session, trackId, ids),
      after: stateOf(next, trackId, ids),
    }
    const before = next.tracks[trackId]!.moved ?? []
    return withTrack(next, trackId, { moved: [...before.slice(1 - MOST_MOVES), record] })
  },
})

function threadsDiffer(a: Session, b: Session, id: string): boolean {
  const knots = (s: Session) => {
    const thread = s.regions[id]?.gainThreadId
    return thread ? s.gainThreads[thread]!.knots : null
  }
  return knots(a) !== knots(b)
}

/** The last move of a track that can be taken back exactly: nothing of what it changed has changed since. */
export function lastMove(session: Session, trackId: string): MovedGain | null {
  const moved = session.tracks[trackId]?.moved ?? []
  return (
    moved.findLast(({ after }) => sameState(stateOf(session, trackId, Object.keys(after.regions)), after)) ??
    null
  )
}

/** Puts back exactly what a track had before gain was moved, where nothing of it has changed since. */
export const moveGainBack = defineEdit<{ trackId: string }>({
  name: 'moveGainBack',
  label: (session, { trackId }) => {
    const move = lastMove(session, trackId)
    const count = move ? Object.keys(move.before.regions).length : 0
    return `Move gain back: ${counted(count, 'region')} of “${session.tracks[trackId]?.name ?? ''}”`
  },
  apply(session, { trackId }) {
    const move = lastMove(session, trackId)
    if (!move) return session
    let next: Session = session
    for (const [id, { clipGainDb, gainThreadId: before, knots }] of Object.entries(move.before.regions)) {
      const region = next.regions[id]
      if (!region) continue
      let gainThreadId = before
      if (before !== null && knots) {
        const there = next.gainThreads[before]
        // Others may have the thread of then by now, with other knots.
        const taken =
          there &&
          !sameState(there.knots, knots) &&
          Object.values(next.regions).some((r) => r.id !== id && r.gainThreadId === before)
        gainThreadId = taken ? freshId(next.gainThreads, before) : before
        if (!there || !sameState(there.knots, knots))
          next = {
            ...next,
            gainThreads: { ...next.gainThreads, [gainThreadId]: { id: gainThreadId, knots } },
          }
      }
      next = { ...next, regions: { ...next.regions, [id]: { ...region, clipGainDb, gainThreadId } } }
    }
    const track: Track = next.tracks[trackId]!
    const { [FADER]: _, ...others } = track.lanes
    const lanes: Record<string, Lane> = move.before.lane
      ? { ...track.lanes, [FADER]: move.before.lane }
      : others
    const moved = track.moved!.filter((m) => m !== move)
    const { moved: __, ...rest } = track
    const restored: Track = { ...rest, lanes, ...(moved.length ? { moved } : {}) }
    return withoutUnusedThreads({ ...next, tracks: { ...next.tracks, [trackId]: restored } })
  },
})
