import type { Session, Track } from '../../core/model/session'

/** Whether two states of a track look the same to whoever does not draw its threads: of its lanes they show only which of them move something. */
export function sameLook(a: Track, b: Track): boolean {
  if (a === b) return true
  const fields = Object.keys(b) as (keyof Track)[]
  const lanes = Object.keys(b.lanes)
  return fields.every((field) => field === 'lanes' || a[field] === b[field]) && lanes.length === Object.keys(a.lanes).length
    && lanes.every((key) => a.lanes[key]?.bypassed === b.lanes[key]!.bypassed && a.lanes[key]!.knots.length > 0 === b.lanes[key]!.knots.length > 0)
}

/** The same of two states of a session. */
export const sameSessionLook = (a: Session, b: Session): boolean =>
  a === b || ((Object.keys(b) as (keyof Session)[]).every((part) => part === 'tracks' || a[part] === b[part]) && (a.tracks === b.tracks || b.trackIds.every((id) => a.tracks[id] && sameLook(a.tracks[id], b.tracks[id]!))))
