import { insertKnot } from '../../curve/knots'
import type { Knot, Lane, Session, Track } from '../../model/session'
import { defineEdit } from '../shared/edit'
import { withTrack } from '../shared/with-strip'
import { threadOf } from './thread'

/**
 * The place of one channel that is nearest to a balance -1…1: the channel from whose side the balance turns away goes
 * along, up to the other side; the other stays where it is.
 */
const placeOf = (side: 'left' | 'right', balance: number) =>
  side === 'left' ? -1 + 2 * Math.max(0, balance) : 1 + 2 * Math.min(0, balance)

/** A balance lane with knots where it passes the centre: there the way of a channel has a corner. */
function withCentres(session: Session, trackId: string, knots: readonly Knot[]): readonly Knot[] {
  const { kind } = threadOf(session, { kind: 'lane', trackId, lane: 'pan' })!
  let out = knots
  for (let i = 0; i + 1 < knots.length; i++) {
    const [a, b] = [knots[i]!, knots[i + 1]!]
    if (a.shape === 'hold' || a.value * b.value >= 0 || b.frame <= a.frame) continue
    // The frame at which the stretch passes 0, by halves: it may be bent.
    let [low, high] = [a.frame, b.frame]
    const value = (frame: number) => {
      const made = insertKnot([a, b], frame, undefined, kind)
      return made.knots[made.index]!.value
    }
    while (high - low > 1) {
      const middle = (low + high) >> 1
      if (value(middle) * a.value > 0) low = middle
      else high = middle
    }
    out = insertKnot(out, high, 0, kind).knots
  }
  return out
}

/** The lanes of both channels, made from the balance; those that have knots already stay. */
function channelLanes(session: Session, track: Track): Track['lanes'] {
  const balance = track.lanes.pan
  const moves = balance !== undefined && balance.knots.length > 0
  if (!moves && track.pan === 0) return track.lanes
  const knots: readonly Knot[] = moves
    ? withCentres(session, track.id, balance.knots)
    : [{ frame: 0, value: track.pan, shape: 'line', bend: 0 }]
  const made = (side: 'left' | 'right'): Lane => ({
    knots: knots.map((k) => ({ ...k, value: placeOf(side, k.value) })),
    bypassed: moves && balance.bypassed,
    visible: true,
  })
  const kept = (key: string) => (track.lanes[key]?.knots.length ? track.lanes[key] : null)
  return {
    ...track.lanes,
    panLeft: kept('panLeft') ?? made('left'),
    panRight: kept('panRight') ?? made('right'),
  }
}

/**
 * Chooses how a stereo track is placed: by balance, or each channel with a pan of its own. Separate channels begin at
 * the places nearest to the balance; they sound the same only in the centre, since balance lowers one side and placing
 * keeps each side's power. The lanes of the other way are kept, and act again when it is chosen again.
 */
export const setPanMode = defineEdit<{ trackId: string; panMode: 'balance' | 'pair' }>({
  name: 'setPanMode',
  label: (session, { trackId, panMode }) =>
    `${panMode === 'pair' ? 'Pan both channels' : 'Balance'} of “${session.tracks[trackId]?.name ?? ''}”`,
  apply(session, { trackId, panMode }) {
    const track = session.tracks[trackId]
    if (!track || track.panMode === panMode) return session
    return withTrack(session, trackId, {
      panMode,
      ...(panMode === 'pair' && track.channels === 2 ? { lanes: channelLanes(session, track) } : {}),
    })
  },
})
