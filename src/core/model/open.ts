import { breachLine, checkSession, MOST_BREACHES } from './rules'
import { shownValue } from './shown'
import type { Session } from './session'

/** The version of the session file that this program writes. */
export const SESSION_VERSION = 1

/** A session that cannot be opened, with a sentence for the user. */
export class SessionError extends Error {
  override name = 'SessionError'
}

/** Steps from version n to n+1, by n. There is none yet: version 1 is the first. */
const migrations: Record<number, (input: Record<string, unknown>) => Record<string, unknown>> = {}

const rulesCounted = (count: number) =>
  count === 1 ? 'a rule' : count < MOST_BREACHES ? `${count} rules` : `${count} rules or more`

/**
 * A session from parsed JSON: migrated one version at a time, then checked by every rule.
 * Throws `SessionError` for another kind of file, a newer version, or a broken rule; nothing is repaired.
 */
export function openSession(input: unknown): Session {
  if (
    typeof input !== 'object' ||
    input === null ||
    (input as Record<string, unknown>).schema !== 'oaken-thread/session'
  )
    throw new SessionError('This is not an Oaken Thread session: its "schema" is not "oaken-thread/session".')
  let data = input as Record<string, unknown>
  const version = data.version
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    throw new SessionError(
      `The session's version is ${shownValue(version)}; it must be a whole number from 1.`,
    )
  if (version > SESSION_VERSION)
    throw new SessionError(
      `The session was saved by a newer version of Oaken Thread (file version ${version}, this program reads up to ${SESSION_VERSION}). Update the program to open it.`,
    )
  for (let v = version; v < SESSION_VERSION; v++) data = migrations[v]!(data)
  const breaches = checkSession(data)
  if (breaches.length)
    throw new SessionError(
      `The session breaks ${rulesCounted(breaches.length)}, the first: ${breachLine(breaches[0]!)}`,
    )
  return data as unknown as Session
}
