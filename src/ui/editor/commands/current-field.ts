import { current } from '../../../store/current'
import type { RootState } from '../../../store/store'

/** The field that Enter focuses at a bead of regions; that of a parameter is named after its bead. */
const regionFields: Readonly<Record<string, string>> = {
  'clip-gain': 'clip-gain',
  'gain-thread': 'knot-level',
  fades: 'fade-in',
}

/** The name of the field in which the value of what is current is typed. */
export function currentField(state: RootState): string {
  const { bead, keys } = current(state)
  return keys?.kind === 'knots'
    ? 'knot-level'
    : keys?.kind === 'weave'
      ? 'weave-high'
      : (regionFields[bead] ?? bead)
}
