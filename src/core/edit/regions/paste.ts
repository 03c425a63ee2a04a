import type { Clip } from '../../model/clip'
import { createTrack } from '../../model/create'
import { LIMITS, type Session, type Source } from '../../model/session'
import { counted, defineEdit } from '../shared/edit'
import { coversLocked, resolveOverlaps } from './resolve-overlaps'
import { least } from '../../units/extremes'
import { freshId } from '../shared/span'

/** Copies regions out of a session; null when there are none. */
export function copyRegions(session: Session, regionIds: readonly string[]): Clip | null {
  const regions = regionIds.flatMap((id) => session.regions[id] ?? [])
  if (regions.length === 0) return null
  const from = least(regions, (r) => r.start)
  const firstRow = least(regions, (r) => session.trackIds.indexOf(r.trackId))
  return {
    sampleRate: session.sampleRate,
    regions: regions.map((r) => {
      const track = session.tracks[r.trackId]!
      return {
        region: { ...r, start: r.start - from },
        row: session.trackIds.indexOf(r.trackId) - firstRow,
        channels: track.channels,
        trackName: track.name,
      }
    }),
    sources: [...new Set(regions.map((r) => r.sourceId))].map((id) => session.sources[id]!),
    gainThreads: [...new Set(regions.flatMap((r) => r.gainThreadId ?? []))].map(
      (id) => session.gainThreads[id]!,
    ),
  }
}

/** The id under which a source is, or is to be, in the session: the same sound is there once. */
function sourceIdIn(session: Session, source: Source): string {
  if (session.sources[source.id]?.sha256 === source.sha256) return source.id
  const same = Object.values(session.sources).find((s) => s.sha256 === source.sha256)
  return same
    ? same.id
    : Object.hasOwn(session.sources, source.id)
      ? freshId(session.sources, source.id)
      : source.id
}

/**
 * Puts copied regions at a frame, the topmost ones on the given track and the others as far below as they
 * were; where there is no track with their channels a new one is made. Copies that shared a gain thread share
 * a new one. They cover what they lie on. Throws a RangeError for a clip of another sample rate.
 */
export const pasteRegions = defineEdit<{ clip: Clip; at: number; trackId: string | null }>({
  name: 'pasteRegions',
  label: (_session, { clip }) =>
    clip.regions.length === 1
      ? `Paste “${clip.regions[0]!.region.name}”`
      : `Paste ${counted(clip.regions.length, 'region')}`,
  apply(session, { clip, at, trackId }) {
    if (clip.sampleRate !== session.sampleRate)
      throw new RangeError(
        `regions of ${clip.sampleRate} Hz cannot be pasted into a session of ${session.sampleRate} Hz`,
      )
    const firstRow = Math.max(0, session.trackIds.indexOf(trackId ?? ''))
    let next = session
    const sourceIds = new Map<string, string>()
    for (const source of clip.sources) {
      const id = sourceIdIn(next, source)
      sourceIds.set(source.id, id)
      if (!(id in next.sources)) next = { ...next, sources: { ...next.sources, [id]: { ...source, id } } }
    }
    const threadIds = new Map<string, string>()
    for (const thread of clip.gainThreads) {
      const id = freshId(next.gainThreads, thread.id)
      threadIds.set(thread.id, id)
      next = { ...next, gainThreads: { ...next.gainThreads, [id]: { ...thread, id } } }
    }
    const madeTracks = new Map<string, string>()
    const made: string[] = []
    for (const { region, row, channels, trackName } of clip.regions) {
      const start = Math.round(at) + region.start
      if (start < 0 || start + region.length > LIMITS.frames) continue
      let target = session.trackIds[firstRow + row]
      if (target === undefined || session.tracks[target]!.channels !== channels) {
        const key = `${row}/${channels}`
        target = madeTracks.get(key)
        if (target === undefined) {
          target = freshId(next.tracks, 'track')
          madeTracks.set(key, target)
          next = {
            ...next,
            trackIds: [...next.trackIds, target],
            tracks: {
              ...next.tracks,
              [target]: createTrack(target, trackName, channels, next.trackIds.length),
            },
          }
        }
      }
      const id = freshId(next.regions, region.id)
      const { locked: _, ...rest } = region
      const gainThreadId = region.gainThreadId === null ? null : threadIds.get(region.gainThreadId)!
      next = {
        ...next,
        regions: {
          ...next.regions,
          [id]: {
            ...rest,
            id,
            trackId: target,
            sourceId: sourceIds.get(region.sourceId)!,
            start,
            gainThreadId,
          },
        },
      }
      made.push(id)
    }
    return made.length && !coversLocked(next, made) ? resolveOverlaps(next, made) : session
  },
})
