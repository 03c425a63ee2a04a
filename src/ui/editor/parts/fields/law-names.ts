import type { CrossfadeLaw } from '../../../../core/model/session'

/** Crossfade laws as they stand within a sentence. */
export const lawNames: Record<CrossfadeLaw, string> = {
  'equal-gain': 'equal gain',
  'equal-power': 'equal power',
  level: 'level',
  free: 'free',
}
