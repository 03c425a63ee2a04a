import type { Knot } from '../../model/session'
import { counted, defineEdit } from '../shared/edit'
import { lanesInWords, withKnots } from './thread'
import type { LaneRef } from '../shared/thread-ref'

/** Puts knots that were read from a table in place of all that a lane has. */
export const readLane = defineEdit<{ lane: LaneRef; knots: readonly Knot[] }>({
  name: 'readLane',
  label: (session, { lane, knots }) =>
    `Read ${counted(knots.length, 'knot')} into ${lanesInWords(session, [lane])}`,
  apply: (session, { lane, knots }) => withKnots(session, lane, knots, []),
})
