import { rowOf } from '../../core/model/strips'
import type { RootState } from '../store'

/**
 * The strips that something put on one of them is for: all whose heads are selected, where it is one of those, else itself
 * alone; null is the mix.
 */
export function headsWith(state: RootState, id: string | null): readonly (string | null)[] {
  const { session } = state.session
  const { trackIds } = state.selection
  if (id === null || !session || !trackIds.includes(id)) return [id]
  return [id, ...trackIds.filter((other) => other !== id && rowOf(session, other))]
}
