import * as z from 'zod/mini'
import { openSession, SESSION_VERSION, type Migration } from './check/open'
import type { Patch } from './patch'
import type { Session } from './session'

/** One step of a session's history: what it is called, when it was made, and the patches both ways. */
export interface Step {
  label: string
  /** Milliseconds since 1970. */
  at: number
  forward: Patch[]
  inverse: Patch[]
}

const count = z.int().check(z.minimum(0))
const patchSchema = z.strictObject({
  path: z.array(z.union([z.string(), z.number()])),
  value: z.optional(z.unknown()),
  removed: z.optional(z.literal(true)),
  items: z.optional(z.strictObject({ at: count, remove: count, insert: z.array(z.unknown()) })),
})

/** The shape of a kept step. */
export const stepSchema = z.strictObject({
  label: z.string(),
  at: z.number(),
  forward: z.array(patchSchema),
  inverse: z.array(patchSchema),
})

/** A session with the history of earlier visits, as it was kept: anything, until it has been looked at. */
export interface KeptSession {
  session: unknown
  /** The steps in order; null for one that is missing. */
  steps: readonly unknown[]
  /** How many of them are in effect. */
  done: number
}

/** A session that may be worked on, with the steps that can be undone and done again. */
export interface OpenedSession {
  session: Session
  steps: Step[]
  done: number
  /** Why the history was left out, in a sentence; null where it is whole. */
  historyDropped: string | null
}

const versionOf = (session: unknown) => (session as { version?: unknown } | null)?.version

/** Why the steps of a kept session cannot be walked by a program of a version, in a sentence; null when they can. */
export function historyProblem({ session, steps, done }: KeptSession, version: number): string | null {
  if (steps.length > 0 && versionOf(session) !== version)
    return 'The history was made by an earlier version of Oaken Thread and cannot be undone here. The session itself is whole.'
  if (steps.includes(null))
    return 'A step of the history is missing, so it cannot be undone. The session itself is whole.'
  const fits = done >= 0 && done <= steps.length && steps.every((step) => stepSchema.safeParse(step).success)
  return fits ? null : 'The history is not in order, so it was left out. The session itself is whole.'
}

/**
 * A session as it was kept in this browser, opened like a file: shape, limits, migrations and rules (see
 * `openSession`). A history that belongs to another version, or that is not in order, is left out, and
 * `historyDropped` says why. Throws `SessionError` for a session that cannot be opened.
 */
export function openKept(kept: KeptSession, migrations?: readonly Migration[]): OpenedSession {
  const version = migrations ? migrations.length + 1 : SESSION_VERSION
  const historyDropped = historyProblem(kept, version)
  const session = openSession(kept.session, migrations)
  return historyDropped === null
    ? { session, steps: kept.steps as Step[], done: kept.done, historyDropped }
    : { session, steps: [], done: 0, historyDropped }
}
