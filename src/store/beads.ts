import { laneKeysOf, stripOf } from '../core/edit'
import { FADER, findCommonParameter, type Parameter } from '../core/model/parameters'
import type { Session } from '../core/model/session'

/** The stages of regions that can be picked in the Path. */
export type RegionBead = 'clip-gain' | 'gain-thread' | 'fades'

/**
 * A stage of the Path: one of regions, a parameter of the track ("pan"), or a parameter of the mix ("mix" is
 * its volume, "mix-pan" its pan).
 */
export type Bead = string

const onMix = (key: string) => (key === FADER ? 'mix' : `mix-${key}`)

/** The bead at which a parameter of a track, or with null of the mix, is shown. */
export function beadOf(trackId: string | null, key: string): Bead {
  const shownAt = findCommonParameter(key)?.shownAt ?? key
  return trackId === null ? onMix(shownAt) : shownAt
}

/** The parameter of a key that has a bead of its own. */
function stageParameter(key: string): Parameter | null {
  const parameter = findCommonParameter(key)
  return parameter?.shownAt === key ? parameter : null
}

/** The key of the parameter of the mix that a bead may stand for. */
const keyOnMix = (bead: Bead) => (bead === onMix(FADER) ? FADER : bead.replace(/^mix-/, ''))

/** The parameter that a bead stands for, and whether it is the mix's; null for the beads of regions. */
export function parameterOfBead(bead: Bead): { parameter: Parameter; mix: boolean } | null {
  const ofTrack = stageParameter(bead)
  if (ofTrack) return { parameter: ofTrack, mix: false }
  const ofMix = stageParameter(keyOnMix(bead))
  return ofMix && { parameter: ofMix, mix: true }
}

/** Whether a stage has threads that can be shaped by hand. */
export const hasThreads = (bead: Bead): boolean => bead === 'gain-thread' || parameterOfBead(bead) !== null

/** The keys of the lanes of a strip that are shown at a bead of its own, such as both pans of a pair. */
export const lanesAt = (session: Session, trackId: string | null, bead: Bead): string[] =>
  stripOf(session, trackId) ? laneKeysOf(session, trackId).filter((key) => beadOf(trackId, key) === bead) : []

/** Whether a bead stands for a parameter of tracks. */
export const isTrackBead = (bead: Bead): boolean => stageParameter(bead) !== null
