import type { FormEvent, KeyboardEvent, MouseEvent, PointerEvent } from 'react'

/** For a slider: only the keys that move it are its own; all others, such as Space, stay the editor's. */
export const onlyItsKeys = (event: KeyboardEvent): void => {
  if (/^(Arrow|Page|Home$|End$)/.test(event.key)) event.stopPropagation()
}

/**
 * Handlers for the editor as a whole: after a press with the pointer the keys are the editor's again, so that
 * Space plays whatever was pressed last. Reached by key, a button or a list keeps the focus; so do handles,
 * which can be shaped by keys then.
 */
export const keysBack = {
  onClick(event: MouseEvent<HTMLElement>): void {
    const button = (event.target as Element).closest('button')
    // What is shown over the editor (menus, dialogs) lies elsewhere in the page and keeps its keys.
    if (event.detail > 0 && button && !button.dataset.handle && event.currentTarget.contains(button))
      button.blur()
  },
  onPointerDown(event: PointerEvent<HTMLElement>): void {
    const list = (event.target as Element).closest('select')
    if (list) list.dataset.pressed = ''
  },
  onChange({ target }: FormEvent<HTMLElement>): void {
    if (!(target instanceof HTMLSelectElement) || target.dataset.pressed === undefined) return
    delete target.dataset.pressed
    target.blur()
  },
}
