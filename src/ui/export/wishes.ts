import { sessionLength } from '../../core/model/queries'
import type { Session } from '../../core/model/session'
import { isBus, rowIds, rowOf } from '../../core/model/strips'
import { planSession, soundingLength, stemIds } from '../../core/render'
import type { ExportPart } from '../../engine/export-sound'

/** What can be exported, as the page offers it. */
export type What = 'mix' | 'stems' | 'regions' | 'before' | 'after' | 'faded'

/** A file that what is chosen comes to: what it holds, and its session frames. */
export interface Piece {
  what: string
  part: ExportPart
  from: number
  to: number
}

/** The files of a choice: the mix or stems over a span, the regions that are selected, or strips. */
export function piecesOf(
  session: Session,
  what: What,
  span: { from: number; to: number },
  regionIds: readonly string[],
  stripIds: readonly string[],
): Piece[] {
  switch (what) {
    case 'mix':
      return [{ what: 'mix', part: { kind: 'mix' }, ...span }]
    case 'stems':
      return stemIds(planSession(session)).map((id) => ({
        what: rowOf(session, id)!.name,
        part: { kind: 'stem', id },
        ...span,
      }))
    case 'regions':
      return regionIds
        .flatMap((id) => session.regions[id] ?? [])
        .sort(
          (a, b) =>
            rowIds(session).indexOf(a.trackId) - rowIds(session).indexOf(b.trackId) || a.start - b.start,
        )
        .map(({ id, name, start, length }) => ({
          what: name,
          part: { kind: 'region', id },
          from: start,
          to: start + length,
        }))
    default: {
      const stage = ({ before: 'clip', after: 'insert', faded: 'track' } as const)[what]
      return stripIds
        .filter((id) => rowOf(session, id) && !(what === 'before' && isBus(session, id)))
        .map((id) => ({
          what: rowOf(session, id)!.name,
          part: { kind: 'strip', id, stage },
          ...span,
        }))
    }
  }
}

/** The whole of a session, with what sounds on after its last region. */
export const wholeSpan = (session: Session): { from: number; to: number; soundsOn: number } => {
  const to = soundingLength(session)
  return { from: 0, to, soundsOn: to - sessionLength(session) }
}
