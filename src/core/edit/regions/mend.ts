import type { CrossfadeLaw, Session } from '../../model/session'
import { crossfadeJoins } from './crossfade'
import { counted, defineEdit } from '../shared/edit'
import { setFade, type FadeEdge } from './fade'

/**
 * What keeps a seam from clicking: a fade at a bare edge, a crossfade at a join, or where there is no sound
 * for one a fade on both sides.
 */
export type Cure =
  | { kind: 'fade'; regionId: string; edge: FadeEdge; lengthFrames: number }
  | { kind: 'crossfade'; leftId: string; rightId: string; lengthFrames: number; law: CrossfadeLaw }
  | { kind: 'fades'; leftId: string; rightId: string; lengthFrames: number }

function cured(session: Session, cure: Cure): Session {
  const fade = (regionId: string, edge: FadeEdge) => ({
    regionIds: [regionId],
    edge,
    change: { kind: 'gain' as const, lengthFrames: cure.lengthFrames, level: 0 },
  })
  switch (cure.kind) {
    case 'fade':
      return setFade.apply(session, fade(cure.regionId, cure.edge))
    case 'crossfade':
      return crossfadeJoins.apply(session, { joins: [cure], lengthFrames: cure.lengthFrames, law: cure.law })
    case 'fades':
      return setFade.apply(setFade.apply(session, fade(cure.leftId, 'out')), fade(cure.rightId, 'in'))
  }
}

/** Mends seams by their cures, all as one step. */
export const mendSeams = defineEdit<{ cures: readonly Cure[] }>({
  name: 'mendSeams',
  label: (_session, { cures }) => `Mend ${counted(cures.length, 'seam')}`,
  apply: (session, { cures }) => cures.reduce(cured, session),
})
