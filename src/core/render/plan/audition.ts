import { panMono } from '../../dsp/pan'
import { gainToDb } from '../../units/decibel'
import { createBus } from '../../model/create'
import { insertLaneKey } from '../../model/parameters'
import {
  TO_MIX,
  type Bus,
  type Crossfade,
  type Insert,
  type Lane,
  type Region,
  type Session,
} from '../../model/session'
import { insertsOf, isBus, lastInsertsOf, rowOf, stripOf, type Row, type Strip } from '../../model/strips'

/** A place of the Path: a stage of regions, an insert by its id, the volume, or the pan. */
export type HeardPlace = 'clip-gain' | 'gain-thread' | 'fades' | 'volume' | 'pan' | { insertId: string }

/** How a session is listened to, besides as it is; null as `stripId` is the mix. */
export type Heard =
  /** Without some inserts of a strip, or with null of all strips without all of theirs. */
  | { kind: 'without'; stripId: string | null; insertIds: readonly string[] | null }
  /** A strip as its sound leaves a place; alone, or in the mix with what comes after its inserts. */
  | { kind: 'at'; stripId: string | null; place: HeardPlace; alone: boolean }
  /** A strip alone as it leaves an insert with other values than its own, such as those that leave one band of it. */
  | { kind: 'values'; stripId: string | null; insertId: string; values: Insert['values'] }
  /** Only what some inserts of a strip add to the sound, or take away from it. */
  | { kind: 'difference'; stripId: string | null; insertIds: readonly string[] }

/**
 * The session that is rendered to hear a session so. It is never stored; what is heard comes from the one renderer, so that it is
 * exact, latencies included. What is not there any more changes nothing.
 */
export function heardSession(session: Session, heard: Heard): Session {
  switch (heard.kind) {
    case 'without':
      return heard.insertIds === null
        ? withoutAll(session)
        : withStrip(session, heard.stripId, (strip) => without(strip, new Set(heard.insertIds)))
    case 'at':
      return heardAt(session, heard)
    case 'values': {
      const { stripId, insertId, values } = heard
      const changed = withStrip(session, stripId, (strip) => withValues(strip, insertId, values))
      return heardAt(changed, { kind: 'at', stripId, place: { insertId }, alone: true })
    }
    case 'difference':
      return difference(session, heard.stripId, heard.insertIds)
  }
}

function withStrip(session: Session, id: string | null, change: <S extends Strip>(strip: S) => S): Session {
  if (id === null) return { ...session, mix: change(session.mix) }
  const track = session.tracks[id]
  if (track) return { ...session, tracks: { ...session.tracks, [id]: change(track) } }
  const bus = session.buses[id]
  return bus ? { ...session, buses: { ...session.buses, [id]: change(bus) } } : session
}

/** A strip with its inserts chosen anew; the lanes of those that are left stay. */
function withInserts<S extends Strip>(strip: S, keep: (insert: Insert) => boolean): S {
  return {
    ...strip,
    inserts: strip.inserts.filter(keep),
    ...('lastInserts' in strip ? { lastInserts: lastInsertsOf(strip).filter(keep) } : {}),
  }
}

/** A strip in which an insert has other values, without its lanes. */
function withValues<S extends Strip>(strip: S, insertId: string, values: Insert['values']): S {
  const change = (list: readonly Insert[]) =>
    list.map((insert) => (insert.id === insertId ? { ...insert, values, bypassed: false } : insert))
  return {
    ...strip,
    inserts: change(strip.inserts),
    ...('lastInserts' in strip ? { lastInserts: change(lastInsertsOf(strip)) } : {}),
    lanes: Object.fromEntries(
      Object.entries(strip.lanes).filter(([key]) => !key.startsWith(insertLaneKey(insertId, ''))),
    ),
  }
}

const without = <S extends Strip>(strip: S, ids: ReadonlySet<string>): S =>
  withInserts(strip, ({ id }) => !ids.has(id))

const mapRows = <S>(rows: Readonly<Record<string, S>>, change: (row: S) => S): Record<string, S> =>
  Object.fromEntries(Object.entries(rows).map(([id, row]) => [id, change(row)]))

function withoutAll(session: Session): Session {
  const bare = <S extends Strip>(strip: S): S => withInserts(strip, () => false)
  return {
    ...session,
    tracks: mapRows(session.tracks, bare),
    buses: mapRows(session.buses, bare),
    mix: bare(session.mix),
  }
}

/** A row that goes straight to the mix at the level that it has, whatever its fader, pan and sends say. */
function straight<R extends Row>(session: Session, row: R, keepVolume = false, keepPan = false): R {
  const lanes: Record<string, Lane> = {}
  for (const [key, lane] of Object.entries(row.lanes)) {
    const ofFader = key === 'volume' ? keepVolume : key.startsWith('pan') ? keepPan : !key.startsWith('send:')
    if (ofFader) lanes[key] = lane
  }
  // What is placed in the middle comes to both sides as it is.
  const centre = row.channels === 1 && !keepPan ? -gainToDb(panMono(session.panLaw, 0).left) : 0
  return {
    ...row,
    lanes,
    output: TO_MIX,
    sends: [],
    muted: false,
    soloed: true,
    volumeDb: keepVolume ? row.volumeDb : centre,
    trimDb: keepVolume && !keepPan ? row.trimDb + centre : row.trimDb,
    pan: keepPan ? row.pan : 0,
    panMode: keepPan ? row.panMode : 'balance',
  }
}

/** The mix as it passes what comes in. */
const plainMix = (): Session['mix'] => ({ trimDb: 0, volumeDb: 0, inserts: [], lanes: {} })

const unsoloed = <R extends Row>(row: R): R => (row.soloed ? { ...row, soloed: false } : row)

/** A session in which only one row sounds, through a mix that changes nothing. */
const alone = (session: Session, row: Row): Session => ({
  ...session,
  tracks: {
    ...mapRows(session.tracks, unsoloed),
    ...(isBus(session, row.id) ? {} : { [row.id]: row }),
  },
  buses: {
    ...mapRows(session.buses, unsoloed),
    ...(isBus(session, row.id) ? { [row.id]: row as Bus } : {}),
  },
  mix: plainMix(),
})

/** The inserts of a strip up to a place; those after it are left out. */
function upTo<S extends Strip>(strip: S, place: HeardPlace): S {
  if (place === 'volume' || place === 'pan') return strip
  if (typeof place === 'string') return withInserts(strip, () => false)
  const all = insertsOf(strip).map(({ id }) => id)
  const end = all.indexOf(place.insertId)
  if (end < 0) return strip
  const before = new Set(all.slice(0, end + 1))
  return withInserts(strip, ({ id }) => before.has(id))
}

/** Regions as they leave a stage: without what comes after it. */
function regionsUpTo(session: Session, trackId: string, place: HeardPlace): Session['regions'] {
  if (place !== 'clip-gain' && place !== 'gain-thread') return session.regions
  return mapRows(session.regions, (region) =>
    region.trackId !== trackId
      ? region
      : {
          ...region,
          fadeIn: null,
          fadeOut: null,
          ...(place === 'clip-gain' ? { gainThreadId: null } : {}),
        },
  )
}

function heardAt(session: Session, { stripId, place, alone: only }: Extract<Heard, { kind: 'at' }>): Session {
  const strip = stripOf(session, stripId)
  if (!strip) return session
  if (stripId === null) {
    const cut = upTo(session.mix, place)
    const before = typeof place === 'object' && cut.inserts.some(({ id }) => id === place.insertId)
    // Before its fader the mix has neither volume nor pan.
    const mix = before ? { ...cut, volumeDb: 0, lanes: ofInserts(cut.lanes), lastInserts: [] } : cut
    return { ...session, mix }
  }
  const row = upTo(rowOf(session, stripId)!, place)
  const cut: Session = {
    ...withStrip(session, stripId, () => row as never),
    regions: regionsUpTo(session, stripId, place),
  }
  if (!only) return cut
  return alone(cut, straight(session, row, place === 'volume' || place === 'pan', place === 'pan'))
}

const ofInserts = (lanes: Readonly<Record<string, Lane>>): Record<string, Lane> =>
  Object.fromEntries(Object.entries(lanes).filter(([key]) => key.startsWith('insert:')))

/** What is appended to the ids of copies. Ids of a session are short, so that none is the same. */
const COPY = '~without'

/** Whether a row is there only for what is heard, and is none of the session. */
export const isOnlyHeard = (id: string): boolean => id.endsWith(COPY) || id.startsWith('mix~')

const INVERTED: Insert = {
  id: 'inverted~',
  kind: 'gain',
  bypassed: false,
  values: { invertLeft: true, invertRight: true },
}

/** A row twice: as it leaves the last of some inserts, and as it would without them, upside down. */
function difference(session: Session, stripId: string | null, insertIds: readonly string[]): Session {
  if (stripId === null) return differenceOfMix(session, insertIds)
  const row = rowOf(session, stripId)
  const last = row?.inserts.filter(({ id }) => insertIds.includes(id)).at(-1)
  if (!row || !last) return session
  const straightened = straight(session, upTo(row, { insertId: last.id }))
  const ids = new Set(insertIds)
  const id = stripId + COPY
  const bare = without(straightened, ids)
  const copy = { ...bare, id, inserts: [...bare.inserts, INVERTED] }
  const both = alone(session, straightened)
  if (isBus(session, stripId)) {
    const feeding = <R extends Row>(feeder: R): R => alsoTo(feeder, stripId, id)
    return {
      ...both,
      tracks: mapRows(both.tracks, feeding),
      buses: { ...mapRows(both.buses, feeding), [id]: copy as Bus },
      busIds: [...session.busIds, id],
    }
  }
  const copied: Record<string, Region> = {}
  for (const region of Object.values(session.regions))
    if (region.trackId === stripId)
      copied[region.id + COPY] = { ...region, id: region.id + COPY, trackId: id }
  const crossfades: Record<string, Crossfade> = {}
  for (const fade of Object.values(session.crossfades))
    if (copied[fade.leftId + COPY])
      crossfades[fade.id + COPY] = {
        ...fade,
        id: fade.id + COPY,
        leftId: fade.leftId + COPY,
        rightId: fade.rightId + COPY,
      }
  return {
    ...both,
    trackIds: [...session.trackIds, id],
    tracks: { ...both.tracks, [id]: copy as Session['tracks'][string] },
    regions: { ...session.regions, ...copied },
    crossfades: { ...session.crossfades, ...crossfades },
  }
}

/** A row that goes to another bus, too, wherever it goes to one. */
function alsoTo<R extends Row>(row: R, busId: string, otherId: string): R {
  const sends = row.sends.filter((send) => send.to === busId)
  if (row.output !== busId && sends.length === 0) return row
  const lanes = { ...row.lanes }
  const added = sends.map((send) => {
    const lane = row.lanes[`send:${send.id}:level`]
    if (lane) lanes[`send:${send.id}${COPY}:level`] = lane
    return { ...send, id: send.id + COPY, to: otherId }
  })
  const output =
    row.output === busId
      ? [{ id: `output${COPY}`, to: otherId, levelDb: 0, muted: false, point: 'post' as const }]
      : []
  return { ...row, lanes, sends: [...row.sends, ...added, ...output] }
}

/** The mix as two buses, so that the same can be done with it as with a strip. */
function differenceOfMix(session: Session, insertIds: readonly string[]): Session {
  const { mix } = session
  const inLast = lastInsertsOf(mix).some(({ id }) => insertIds.includes(id))
  const ofMix = (id: string, more: Partial<Bus>): Bus => ({ ...createBus(id, 'mix', 0), ...more })
  const first = ofMix('mix~first', {
    inserts: mix.inserts,
    trimDb: mix.trimDb ?? 0,
    volumeDb: mix.volumeDb,
    pan: mix.pan ?? 0,
    lanes: mix.lanes,
  })
  const second = ofMix('mix~last', { inserts: [...lastInsertsOf(mix)], lanes: ofInserts(mix.lanes) })
  const toFirst = <R extends Row>(row: R): R => (row.output === TO_MIX ? { ...row, output: first.id } : row)
  const rows = { tracks: mapRows(session.tracks, toFirst), buses: mapRows(session.buses, toFirst) }
  const whole: Session = {
    ...session,
    ...rows,
    buses: {
      ...rows.buses,
      [first.id]: inLast ? { ...first, output: second.id } : first,
      ...(inLast ? { [second.id]: second } : {}),
    },
    busIds: [...session.busIds, first.id, ...(inLast ? [second.id] : [])],
    mix: plainMix(),
  }
  return difference(whole, inLast ? second.id : first.id, insertIds)
}
