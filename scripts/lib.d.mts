import type { ChildProcess } from 'node:child_process'

/** Builds the application unless it is up to date. */
export function ensureBuilt(): void
/** Serves the built application on a port, until it is killed. */
export function serveBuilt(port: number): Promise<ChildProcess>
