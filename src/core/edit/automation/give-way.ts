import type { GiveWay, Knot } from '../../model/session'
import { counted, defineEdit } from '../shared/edit'
import { withTrack } from '../shared/with-strip'
import { FADER } from '../../model/parameters'
import { withKnots } from './thread'
import type { LaneRef } from '../shared/thread-ref'

/**
 * Lets the volume lanes of tracks give way to others: new knots, marked with the settings that they follow
 * from and what the lane did without them, so that they can be made anew. With null as settings the mark goes
 * and the knots stay as ordinary ones.
 */
export const setGiveWay = defineEdit<{
  lanes: Readonly<Record<string, { knots: readonly Knot[]; giveWay: GiveWay | null }>>
}>({
  name: 'setGiveWay',
  label(session, { lanes }) {
    const ids = Object.keys(lanes)
    const words = ids.length === 1 ? `“${session.tracks[ids[0]!]?.name ?? ''}”` : counted(ids.length, 'track')
    return Object.values(lanes).every((l) => l.giveWay === null)
      ? `Keep the knots of ${words}`
      : `Let ${words} give way`
  },
  apply(session, { lanes }) {
    let next = session
    for (const [id, { knots, giveWay }] of Object.entries(lanes)) {
      const track = next.tracks[id]
      if (!track) continue
      const ref: LaneRef = { kind: 'lane', trackId: id, lane: FADER }
      const shaped = withKnots(next, ref, knots)
      const { giveWay: _, ...plain } = {
        bypassed: false,
        visible: true,
        knots: [],
        ...shaped.tracks[id]!.lanes[FADER],
      }
      next = withTrack(shaped, id, {
        lanes: { ...shaped.tracks[id]!.lanes, [FADER]: { ...plain, ...(giveWay ? { giveWay } : {}) } },
      })
    }
    return next
  },
})
