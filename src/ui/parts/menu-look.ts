/** How every menu looks: its sheet, and a line of it. */
export const MENU =
  'z-50 max-h-[min(90vh,var(--radix-dropdown-menu-content-available-height,90vh))] min-w-60 overflow-auto rounded-xl border border-seam bg-white p-1 text-sm shadow-lg'

/** What every line of a menu has; `MENU_ITEM` is one with something at its right end. */
export const MENU_LINE =
  'cursor-pointer rounded-lg px-3 py-1 outline-none data-disabled:opacity-45 data-highlighted:bg-cloth ' +
  'data-[state=open]:bg-cloth items-center justify-between gap-6'
export const MENU_ITEM = `flex ${MENU_LINE}`
