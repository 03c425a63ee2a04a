import * as z from 'zod/mini'
import { createSession, createTrack } from './create'
import { SessionError } from './check/open'
import { breachLine, brokenParts } from './check/rules'
import { LIMITS } from './session'
import { gainThreadSchema, regionSchema, sourceSchema, trackSchema } from './session-schema'
import { integer, list } from './schema-fields'
import { issueWords } from './check/shape-words'

/**
 * Regions that were copied, with all they need: starts count from the first; `row` and `channels` tell of
 * their tracks.
 */
export const clipSchema = z.strictObject({
  sampleRate: sourceSchema.shape.sampleRate,
  regions: list(
    z.strictObject({
      region: regionSchema,
      row: integer(0, LIMITS.tracks),
      channels: trackSchema.shape.channels,
      trackName: trackSchema.shape.name,
    }),
    LIMITS.regions,
    1,
  ),
  sources: list(sourceSchema, LIMITS.sources),
  gainThreads: list(gainThreadSchema, LIMITS.regions),
})

export type Clip = z.infer<typeof clipSchema>

const byId = <T extends { id: string }>(entities: readonly T[]): Record<string, T> =>
  Object.fromEntries(entities.map((entity) => [entity.id, entity]))

/** The parts of a clip as a session, for checking them by the rules that hold for these. */
function sessionOf({ sampleRate, regions, sources, gainThreads }: Clip) {
  return {
    ...createSession('clip', 'clip', sampleRate),
    trackIds: ['t'],
    tracks: { t: createTrack('t', 't', 1, 0) },
    regions: byId(regions.map(({ region }) => ({ ...region, trackId: 't' }))),
    sources: byId(sources),
    gainThreads: byId(gainThreads),
  }
}

/**
 * Copied regions from the text in which they were kept, checked like everything that is read. Throws
 * `SessionError` with a sentence where it is none, or breaks a rule of its parts.
 */
export function openClip(text: string): Clip {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    throw new SessionError('What was copied cannot be read. Copy the regions again.')
  }
  const parsed = clipSchema.safeParse(json)
  const wrong = parsed.success
    ? brokenParts(sessionOf(parsed.data)).map(breachLine)[0]
    : parsed.error.issues.map((issue) => `${issue.path.join('.').slice(0, 80)} ${issueWords(issue)}`)[0]
  if (!parsed.success || wrong !== undefined)
    throw new SessionError(`What was copied cannot be pasted (${wrong}). Copy the regions again.`)
  return parsed.data
}
