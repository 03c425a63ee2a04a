import { breachLine, checkSession, MOST_BREACHES } from './rules'
import { shownValue } from './shown'
import { TO_MIX, type Session } from '../session'

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Version 2 has buses; every track goes somewhere, and the mix has a trim and inserts after its pan. */
function withBuses(session: Readonly<Record<string, unknown>>): Record<string, unknown> {
  const { tracks, mix } = session
  return {
    ...session,
    busIds: [],
    buses: {},
    tracks: isObject(tracks)
      ? Object.fromEntries(
          Object.entries(tracks).map(([id, track]) => [
            id,
            isObject(track) ? { ...track, output: TO_MIX } : track,
          ]),
        )
      : tracks,
    mix: isObject(mix) ? { trimDb: 0, lastInserts: [], ...mix } : mix,
  }
}

/** Earlier programs may have written empty `values` of strips: they said nothing, and are dropped. */
function withoutEmptyValues(session: Record<string, unknown>): Record<string, unknown> {
  const { tracks, buses, mix } = session
  const isEmpty = (strip: unknown): strip is { values: object } =>
    isObject(strip) && isObject(strip.values) && Object.keys(strip.values).length === 0
  const strips = [tracks, buses].flatMap((all) => (isObject(all) ? Object.values(all) : []))
  if (![...strips, mix].some(isEmpty)) return session
  const dropped = (strip: unknown): unknown => {
    if (!isEmpty(strip)) return strip
    const { values: _, ...rest } = strip
    return rest
  }
  const each = (all: unknown): unknown =>
    isObject(all) ? Object.fromEntries(Object.entries(all).map(([id, strip]) => [id, dropped(strip)])) : all
  return { ...session, tracks: each(tracks), buses: each(buses), mix: dropped(mix) }
}

/** Turns the plain data of a session of one version into that of the next. */
export type Migration = (session: Readonly<Record<string, unknown>>) => Record<string, unknown>

/** The steps from version 1 to 2, from 2 to 3, and so on. */
const MIGRATIONS: readonly Migration[] = [withBuses]

/** The version of the session file that this program writes. */
export const SESSION_VERSION = MIGRATIONS.length + 1

/** A session that cannot be opened, with a sentence for the user. */
export class SessionError extends Error {
  override name = 'SessionError'
}

const rulesCounted = (count: number) =>
  count === 1 ? 'a rule' : count < MOST_BREACHES ? `${count} rules` : `${count} rules or more`

/**
 * The plain data of a session in the newest version, `migrations.length` + 1. Throws `SessionError` for
 * another kind of data and for a version that is newer.
 */
export function migrated(input: unknown, migrations: readonly Migration[] = MIGRATIONS): unknown {
  if (
    typeof input !== 'object' ||
    input === null ||
    (input as Record<string, unknown>).schema !== 'oaken-thread/session'
  )
    throw new SessionError('This is not an Oaken Thread session: its "schema" is not "oaken-thread/session".')
  const data = input as Record<string, unknown>
  const { version } = data
  const newest = migrations.length + 1
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    throw new SessionError(
      `The session's version is ${shownValue(version)}; it must be a whole number from 1.`,
    )
  if (version > newest)
    throw new SessionError(
      'The session was saved by a newer version of Oaken Thread (file version ' +
        `${version}, this program reads up to ${newest}). Update the program to open it.`,
    )
  const newestData = migrations
    .slice(version - 1)
    .reduce<Record<string, unknown>>(
      (now, migrate, i) => ({ ...migrate(now), version: version + i + 1 }),
      data,
    )
  return withoutEmptyValues(newestData)
}

/**
 * A session from plain data, wherever it comes from: migrated one version at a time, then checked by its
 * shape, its limits and every rule. Throws `SessionError` for another kind of data, a newer version, or a
 * broken rule; nothing is repaired.
 */
export function openSession(input: unknown, migrations?: readonly Migration[]): Session {
  const data = migrated(input, migrations)
  const breaches = checkSession(data)
  if (breaches.length)
    throw new SessionError(
      `The session breaks ${rulesCounted(breaches.length)}, the first: ${breachLine(breaches[0]!)}`,
    )
  return data as Session
}
