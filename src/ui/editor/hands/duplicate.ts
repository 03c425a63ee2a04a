import { duplicateSelected } from '../../../store/actions/region-actions'
import type { Thunk } from '../../../store/store'
import { toast } from '../../parts/messages/toast'

/** Duplicates the selected regions; where they had to go further on, the message offers to insert them instead. */
export const duplicateHere =
  (linked: boolean, times = 1): Thunk =>
  (dispatch) => {
    const placed = dispatch(duplicateSelected(linked, times))
    if (placed)
      toast({
        text: `${times === 1 ? 'The copy went' : 'The copies went'} to the next free place.`,
        action: { label: 'Insert instead, the rest moves on', run: () => placed.insert() },
        stays: 8000,
      })
  }
