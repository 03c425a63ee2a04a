import type { GiveWay, Session } from '../../model/session'

/** 32 bits of a text, by FNV-1a (G. Fowler, L. C. Noll, P. Vo), from a start of one's own. */
function hash(text: string, start: number): number {
  let h = start
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193)
  return h >>> 0
}

/** All of a track that decides when and how loud it sounds, but for mute and solo, names and colours. */
function soundOf(session: Session, trackId: string): unknown {
  const track = session.tracks[trackId]
  if (!track) return null
  const regions = Object.values(session.regions).filter((r) => r.trackId === trackId)
  const threads = regions.map((r) =>
    r.gainThreadId === null ? null : session.gainThreads[r.gainThreadId]!.knots,
  )
  const fades = Object.values(session.crossfades).filter(
    (x) => session.regions[x.leftId]?.trackId === trackId,
  )
  return [
    track.trimDb,
    track.sides,
    track.volumeDb,
    track.lanes.volume?.bypassed ? null : track.lanes.volume?.knots,
    regions.map((r) => [
      r.sourceId,
      r.start,
      r.offset,
      r.length,
      r.clipGainDb,
      r.sides,
      r.reversed,
      r.muted,
      r.fadeIn,
      r.fadeOut,
    ]),
    threads,
    fades.map((x) => [x.law, x.out, x.in]),
  ]
}

/** Marks that were made of a session. */
const known = new WeakMap<Session, Map<string, string>>()

/** A mark of how tracks sound: the same as long as nothing of that is changed. */
export function markOfTracks(session: Session, trackIds: readonly string[]): string {
  let marks = known.get(session)
  if (!marks) known.set(session, (marks = new Map()))
  const key = trackIds.join(' ')
  const before = marks.get(key)
  if (before !== undefined) return before
  const mark = newMark(session, trackIds)
  marks.set(key, mark)
  return mark
}

function newMark(session: Session, trackIds: readonly string[]): string {
  const text = JSON.stringify(trackIds.map((id) => soundOf(session, id)))
  return [0x811c9dc5, 0x2f0b4c47].map((start) => hash(text, start).toString(16)).join('-')
}

/** Whether the tracks to which a lane gives way sound otherwise than when it was made; false where that is not known. */
export const isOutOfDate = (session: Session, { others, made }: GiveWay): boolean =>
  made !== undefined && made !== markOfTracks(session, others)
