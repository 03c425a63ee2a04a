import { refKey } from '../../../core/edit'
import { current } from '../../../store/current'
import type { RootState } from '../../../store/store'

/** The element that stands for what is current: a knot, a weave, a track’s head, a bead of the Path or a region; null while it is not on the screen. */
export function currentElement(state: RootState): HTMLElement | null {
  const { keys } = current(state)
  /** The first that is there. */
  const find = (...selectors: string[]): HTMLElement | null =>
    selectors.map((s) => document.querySelector<HTMLElement>(s)).find((element) => element !== null) ?? null
  const picked = '[data-area="path"] [data-lead]'
  switch (keys?.kind) {
    case 'knots':
      return find(
        ...keys.indices.map(
          (i) => `[data-handle="knot"][data-ref="${CSS.escape(refKey(keys.ref))}"][data-knot="${i}"]`,
        ),
      )
    case 'weave':
      return find(
        `[data-handle="weave"][data-part="move"][data-ref="${CSS.escape(refKey(keys.weave.ref))}"][data-from="${keys.weave.from}"]`,
      )
    case 'parameter':
    case 'insert':
      return state.selection.lead.kind === 'tracks'
        ? find('[data-head][aria-current="true"]', picked)
        : find(picked)
    case 'regions':
      return find(...state.selection.regionIds.map((id) => `[role="group"][data-region="${CSS.escape(id)}"]`))
    default:
      return find(picked)
  }
}
