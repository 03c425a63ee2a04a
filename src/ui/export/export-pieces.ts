import { sessionLength } from '../../core/model/queries'
import type { Session } from '../../core/model/session'
import { isBus, rowIds, rowOf } from '../../core/model/strips'
import { latestEnd, planSession, stemIds, type Tail } from '../../core/render'
import type { ExportPart } from '../../engine/export'

/** What can be exported, as the page offers it. */
export type What = 'mix' | 'stems' | 'regions' | 'before' | 'after' | 'faded'

/** A file that what is chosen comes to: what it holds, and its session frames. */
export interface Piece extends Span {
  what: string
  part: ExportPart
}

/** A stretch of the session; with a tail it ends with the last region, and the tail comes after it. */
export interface Span {
  from: number
  to: number
  tail: Tail | null
}

/** The files of a choice: the mix or stems over a span, the regions that are selected, or strips. */
export function piecesOf(
  session: Session,
  what: What,
  span: Span,
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
          tail: null,
        }))
    default: {
      const stage = ({ before: 'clip', after: 'insert', faded: 'track' } as const)[what]
      return stripIds
        .filter((id) => rowOf(session, id) && !(what === 'before' && isBus(session, id)))
        .map((id) => ({
          what: rowOf(session, id)!.name,
          part: { kind: 'strip', id, stage },
          ...span,
          // Before the inserts nothing rings.
          tail: stage === 'clip' ? null : span.tail,
        }))
    }
  }
}

/** The whole of a session with a tail, and how many frames that may be at most. */
export function wholeSpan(session: Session, tail: Tail): Span & { mostTail: number } {
  const to = sessionLength(session)
  return { from: 0, to, tail, mostTail: to ? latestEnd(planSession(session), tail) - to : 0 }
}
