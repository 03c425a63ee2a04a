/** The project's root. */
export const root: string
/** The path of a command that a dependency brings. */
export function bin(name: string): string
/** Builds the application unless it is up to date. */
export function ensureBuilt(): void
