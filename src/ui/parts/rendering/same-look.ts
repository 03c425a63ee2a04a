import type { Lane, Session } from '../../../core/model/session'

/**
 * Whether two states of a track or the mix look the same to components that do not draw threads: of lanes
 * they show only which ones are active and what made them.
 */
export function sameLook<T extends { lanes: Record<string, Lane> }>(a: T, b: T): boolean {
  if (a === b) return true
  const fields = Object.keys(b) as (keyof T)[]
  const lanes = Object.keys(b.lanes)
  return (
    fields.every((field) => field === 'lanes' || a[field] === b[field]) &&
    lanes.length === Object.keys(a.lanes).length &&
    lanes.every((key) => a.lanes[key] !== undefined && sameLane(a.lanes[key], b.lanes[key]!))
  )
}

const sameLane = (a: Lane, b: Lane) =>
  a === b ||
  (a.bypassed === b.bypassed && a.giveWay === b.giveWay && a.knots.length > 0 === b.knots.length > 0)

/** The same of two states of a session. */
export function sameSessionLook(a: Session, b: Session): boolean {
  if (a === b) return true
  const others = (Object.keys(b) as (keyof Session)[]).filter((part) => part !== 'tracks' && part !== 'mix')
  return (
    others.every((part) => a[part] === b[part]) &&
    sameLook(a.mix, b.mix) &&
    (a.tracks === b.tracks || b.trackIds.every((id) => a.tracks[id] && sameLook(a.tracks[id], b.tracks[id]!)))
  )
}
