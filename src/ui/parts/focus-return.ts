/*
 * Where the focus goes when a field is done or a dialog closes: back to what was edited, never to the page's body, where keys
 * have lost their place.
 */

/** What lies over the page for a while. */
const OVER = '[role="dialog"], [role="menu"], [role="listbox"], [role="alert"]'

const isSeen = (element: HTMLElement | null | undefined): element is HTMLElement =>
  element !== null && element !== undefined && element.isConnected && element.getClientRects().length > 0

let lastPlace: HTMLElement | null = null
let returnedTo: HTMLElement | null = null
let findCurrent: () => HTMLElement | null = () => null

if (typeof document !== 'undefined')
  document.addEventListener('focusin', ({ target }) => {
    const element = target as HTMLElement
    if (element !== returnedTo) returnedTo = null
    if (!element.matches('input, select, textarea') && !element.closest(OVER)) lastPlace = element
  })

/** Says how the element of what is current is found; returns what takes that back. */
export function setCurrentElement(find: () => HTMLElement | null): () => void {
  findCurrent = find
  return () => {
    if (findCurrent === find) findCurrent = () => null
  }
}

const focusOn = (element: HTMLElement) => {
  returnedTo = element
  element.focus({ preventScroll: true })
}

/**
 * After a value was taken or given up in a field. In a dialog the focus stays in the field, in the head of a track it goes to
 * the head, elsewhere to what is current, so that arrow keys and Space go on with it.
 */
export function leaveField(field: HTMLInputElement): void {
  if (field.closest(OVER)) return field.select()
  const to = [field.closest<HTMLElement>('[data-head]'), findCurrent(), lastPlace].find(isSeen)
  if (to) focusOn(to)
  else field.blur()
}

/** Whether an element has the focus because a field or a dialog gave it back: nobody pressed it. */
export const wasReturnedTo = (element: Element): boolean => returnedTo === element

/** For `onCloseAutoFocus` of dialogs: back to where they were opened, else to what is current; never out of another dialog. */
export function returnFocus(event: Event): void {
  event.preventDefault()
  if (isSeen(document.activeElement as HTMLElement) && document.activeElement !== document.body) return
  const to = [lastPlace, findCurrent()].find(isSeen)
  if (to) focusOn(to)
}

/** For `onCloseAutoFocus` of menus and popovers: to what opened them, unless they have opened a dialog. */
export function unlessInDialog(event: Event): void {
  if (document.activeElement?.closest('[role="dialog"]')) event.preventDefault()
}
