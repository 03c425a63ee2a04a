import { withFadeLength } from '../../curve/fade'
import { regionEnd } from '../../model/queries'
import type { Fade, FadeCurve, GainFade, Region, Session } from '../../model/session'
import { showLength } from '../../units/typed'
import { defineEdit, groupRegions, mapRegions, regionWords } from '../shared/edit'

export type FadeEdge = 'in' | 'out'

/** What of a fade is changed; a length of 0 removes it. A new fade is linear, from silence. */
export interface FadeChange {
  lengthFrames?: number
  /** Instead of a length: so many frames more (or less) than each fade has. */
  byFrames?: number
  /** Instead of a length: a part 0…1 of each region. */
  proportion?: number
  curve?: FadeCurve
  /** -1…1; for a tape fade it is kept for later. */
  bend?: number
  /** Start level of a fade in, end level of a fade out, as a factor 0…1. */
  level?: number
  kind?: Fade['kind']
  /** How a tape slows, 0.5…4. */
  k?: number
}

const newFade = (length: number): GainFade => ({ kind: 'gain', length, curve: 'linear', bend: 0, level: 0 })

/** Frames that crossfades take at each end of a region. */
export function crossfadeRoom(session: Session, regionId: string): { in: number; out: number } {
  const room = { in: 0, out: 0 }
  for (const fade of Object.values(session.crossfades)) {
    if (fade.leftId !== regionId && fade.rightId !== regionId) continue
    const overlap = regionEnd(session.regions[fade.leftId]!) - session.regions[fade.rightId]!.start
    room[fade.leftId === regionId ? 'out' : 'in'] = overlap
  }
  return room
}

/** A region whose fade out gives way to its fade in (or the other way round), so that both fit into `length` frames. */
function fitted(region: Region, first: FadeEdge, length: number): Region {
  const kept = first === 'in' ? region.fadeIn : region.fadeOut
  const pushed = first === 'in' ? region.fadeOut : region.fadeIn
  if (!pushed) return region
  const room = length - (kept?.length ?? 0)
  if (pushed.length <= room) return region
  const shorter = room > 0 ? withFadeLength(pushed, room) : null
  return first === 'in' ? { ...region, fadeOut: shorter } : { ...region, fadeIn: shorter }
}

/**
 * A fade with some of it changed, at a length; the parts that its kind does not use stay for when the kind
 * changes back.
 */
function changed(before: Fade | null, length: number, change: FadeChange): Fade {
  const base = before ?? newFade(length)
  const kind = change.kind ?? base.kind
  const shape = {
    length,
    curve: change.curve ?? base.curve ?? 'linear',
    bend: change.bend ?? base.bend ?? 0,
    level: change.level ?? base.level ?? 0,
  }
  const piece = base.kind === 'gain' && base.length === length ? base.piece : undefined
  if (kind === 'gain') return { kind, ...shape, ...(piece ? { piece } : {}) }
  return { kind, ...shape, k: change.k ?? (base.kind === 'tape' ? base.k : undefined) ?? 1 }
}

const same = (a: Fade | null, b: Fade) => a !== null && JSON.stringify(a) === JSON.stringify(b)

/** One region with one of its fades changed; the region itself when nothing changes. */
function withFade(session: Session, region: Region, edge: FadeEdge, change: FadeChange): Region {
  const taken = crossfadeRoom(session, region.id)
  if (taken[edge] > 0) return region
  const room = region.length - taken.in - taken.out
  const key = edge === 'in' ? 'fadeIn' : 'fadeOut'
  const before = region[key]
  const wanted =
    change.lengthFrames ??
    (change.proportion === undefined
      ? (before?.length ?? 0) + (change.byFrames ?? 0)
      : region.length * change.proportion)
  const length = Math.min(room, Math.max(0, Math.round(wanted)))
  if (length === 0) return before ? { ...region, [key]: null } : region
  const fade = changed(before, length, change)
  return same(before, fade) ? region : fitted({ ...region, [key]: fade }, edge, room)
}

function check({ bend, level, k, proportion }: FadeChange): void {
  if (bend !== undefined && !(bend >= -1 && bend <= 1))
    throw new RangeError(`a bend of ${bend} is outside -1…1`)
  if (level !== undefined && !(level >= 0 && level <= 1))
    throw new RangeError(`a level of ${level} is outside 0…1`)
  if (k !== undefined && !(k >= 0.5 && k <= 4)) throw new RangeError(`a k of ${k} is outside 0.5…4`)
  if (proportion !== undefined && !(proportion >= 0 && proportion <= 1))
    throw new RangeError(`a proportion of ${proportion} is outside 0…1`)
}

/** What of a fade is changed, in words behind its name: ": 120 ms", ": bend 30 %". */
function fadeWords(session: Session, { lengthFrames, curve, bend, level }: FadeChange): string {
  const words = [
    ...(lengthFrames ? [showLength(lengthFrames, session.sampleRate)] : []),
    ...(curve ? [curve.replace('-', ' ')] : []),
    ...(bend === undefined ? [] : [`bend ${Math.round(bend * 100)} %`]),
    ...(level === undefined ? [] : [`level ${Math.round(level * 100)} %`]),
  ]
  return words.length ? `: ${words.join(', ')}` : ''
}

/**
 * Makes, changes or removes the fade in or out of regions. A fade is at most as long as its region (less its
 * crossfades); a longer one pushes the other. An edge that a crossfade takes has no fade and stays as it is.
 * Throws a RangeError for values out of range.
 */
export const setFade = defineEdit<{ regionIds: readonly string[]; edge: FadeEdge; change: FadeChange }>({
  name: 'setFade',
  together: groupRegions,
  label: (session, { regionIds, edge, change }) =>
    `${change.lengthFrames === 0 ? 'Remove fade' : change.kind === 'tape' ? `Tape ${edge === 'in' ? 'start' : 'stop'},` : 'Fade'} ` +
    `${edge} of ${regionWords(session, regionIds)}${fadeWords(session, change)}`,
  apply(session, { regionIds, edge, change }) {
    check(change)
    return mapRegions(session, regionIds, (region) => withFade(session, region, edge, change))
  },
})

/** The same for both fades of regions, as one step. */
export const setFades = defineEdit<{
  regionIds: readonly string[]
  edges: readonly FadeEdge[]
  change: FadeChange
}>({
  name: 'setFades',
  together: groupRegions,
  label: (session, { regionIds, edges, change }) =>
    `${change.lengthFrames === 0 ? 'Remove fades' : `Fades ${edges.join(' and ')}`} of ${regionWords(session, regionIds)}`,
  apply: (session, { regionIds, edges, change }) =>
    edges.reduce((next, edge) => setFade.apply(next, { regionIds, edge, change }), session),
})

/** Gives regions the fades of another one, both or one; they are cut where a region is too short. */
export const copyFades = defineEdit<{
  fromId: string
  regionIds: readonly string[]
  edges: readonly FadeEdge[]
}>({
  name: 'copyFades',
  together: groupRegions,
  label: (session, { fromId, regionIds }) =>
    `Fades of “${session.regions[fromId]?.name ?? ''}” to ${regionWords(session, regionIds)}`,
  apply(session, { fromId, regionIds, edges }) {
    const from = session.regions[fromId]
    if (!from) return session
    const others = regionIds.filter((id) => id !== fromId)
    return edges.reduce((next, edge) => {
      const fade = edge === 'in' ? from.fadeIn : from.fadeOut
      return setFade.apply(next, {
        regionIds: others,
        edge,
        change: fade ? { lengthFrames: fade.length, ...fade } : { lengthFrames: 0 },
      })
    }, session)
  },
})
