/** For dialogs that Escape closes: the first Escape in a field with typed text belongs to the field. */
export const unlessTyped = (event: Event) => {
  if ((event.target as Element).closest('[data-typed]')) event.preventDefault()
}
