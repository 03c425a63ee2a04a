import type { Session } from '../../model/session'
import { rowOf } from '../../model/strips'
import { planSession } from './plan'

/** What of a session goes into a file. */
export type ExportPart =
  | { kind: 'mix' }
  /** What a strip leads to the mix, through the fader and pan of the mix. */
  | { kind: 'stem'; id: string }
  /** A strip before or after its inserts, or after its fader and pan. */
  | { kind: 'strip'; id: string; stage: 'clip' | 'insert' | 'track' }
  /** A region as it leaves its gain and fades. */
  | { kind: 'region'; id: string }

/** How many channels a part has in its file: what is behind a pan has two. */
export function partChannels(session: Session, part: ExportPart): 1 | 2 {
  if (part.kind === 'mix' || part.kind === 'stem' || (part.kind === 'strip' && part.stage === 'track'))
    return 2
  const trackId = part.kind === 'region' ? session.regions[part.id]!.trackId : part.id
  if (part.kind === 'region' || part.stage === 'clip') return rowOf(session, trackId)!.channels
  return planSession(session).tracks.find(({ id }) => id === trackId)!.channels
}
