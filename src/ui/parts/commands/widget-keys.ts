import type { FormEvent, KeyboardEvent, MouseEvent, PointerEvent } from 'react'

/** For sliders: consumes only the keys that move it; all others, such as Space, stay the editor's. */
export const keepSliderKeys = (event: KeyboardEvent): void => {
  if (/^(Arrow|Page|Home$|End$)/.test(event.key)) event.stopPropagation()
}

/**
 * Handlers for the whole editor: after a press with the pointer the keys return to the editor, so that Space
 * plays whatever was pressed. Elements focused by keyboard keep the focus; so do handles, which can then be
 * shaped by keys.
 */
export const returnKeysToEditor = {
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
