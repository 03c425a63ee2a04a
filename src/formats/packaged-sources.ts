import type { Session, Source } from '../core/model/session'

/** The sources of a session that share a sound count once: packages file sound by its hash. */
export const packagedSources = (session: Session): Source[] => [
  ...new Map(Object.values(session.sources).map((s) => [s.sha256, s])).values(),
]

/** The session without sources that no region uses. */
export function withoutUnusedSources(session: Session): Session {
  const used = new Set(Object.values(session.regions).map((r) => r.sourceId))
  return {
    ...session,
    sources: Object.fromEntries(Object.entries(session.sources).filter(([id]) => used.has(id))),
  }
}
