import { breach, type Breach } from './breach'
import { insertKindOf, insertParameter } from '../inserts/insert-kinds'
import { noteValueSeconds, tooLongWords } from '../inserts/delay-time'
import { insertValue } from '../inserts/insert-values'
import { TO_MIX, type Insert, type Session } from '../session'
import { insertsOf, rowOf, sortedRows, type Row, type Strip } from '../strips'

/** Whether a record has an entity of its own under an id; what every object inherits does not count. */
export const has = (record: object, id: string) => Object.hasOwn(record, id)

/** The broken rules of the ids of buses. */
export function* busIdBreaches({ busIds, buses, tracks }: Session): Generator<Breach> {
  const listed = new Set(busIds)
  if (listed.size !== busIds.length) yield breach('ids', 'busIds', busIds, 'lists a bus twice')
  for (const id of busIds) if (!has(buses, id)) yield breach('ids', 'busIds', id, 'is not a bus')
  for (const id of Object.keys(buses)) {
    if (!listed.has(id)) yield breach('ids', `buses.${id}`, id, 'is missing from busIds')
    if (has(tracks, id)) yield breach('ids', `buses.${id}`, id, 'is the id of a track, too')
    if (id === TO_MIX) yield breach('ids', `buses.${id}`, id, 'is what the mix is called')
  }
  if (has(tracks, TO_MIX)) yield breach('ids', `tracks.${TO_MIX}`, TO_MIX, 'is what the mix is called')
}

/** Where strips lead, and the circles that they form. */
export function* wayBreaches(session: Session): Generator<Breach> {
  let whole = true
  const ownerOf = (id: string) => `${has(session.tracks, id) ? 'tracks' : 'buses'}.${id}`
  for (const id of [...session.trackIds, ...session.busIds]) {
    const row: Row | undefined = has(session.tracks, id)
      ? session.tracks[id]
      : has(session.buses, id)
        ? session.buses[id]
        : undefined
    if (!row) return
    const owner = ownerOf(id)
    if (row.output !== TO_MIX && !has(session.buses, row.output)) {
      whole = false
      yield breach('ways', `${owner}.output`, row.output, 'is neither "mix" nor a bus')
    }
    const sends = new Set<string>()
    for (const send of row.sends) {
      if (sends.has(send.id)) yield breach('ids', `${owner}.sends`, send.id, 'names two sends')
      sends.add(send.id)
      if (has(session.buses, send.to)) continue
      whole = false
      yield breach('ways', `${owner}.sends.${send.id}.to`, send.to, 'is not a bus')
    }
    for (const { key } of row.inserts)
      if (key && !has(session.tracks, key) && !has(session.buses, key)) whole = false
  }
  if (!whole) return
  const sorted = sortedRows(session)
  if ('circle' in sorted) {
    const names = sorted.circle.map((id) => rowOf(session, id)!.name)
    yield breach(
      'ways',
      ownerOf(sorted.circle[0]!),
      [...names, names[0]!].join(' → '),
      'forms a circle: sound cannot go back to where it came from',
    )
  }
}

/** The broken rules of the other version of a strip's chain. What its inserts listen to is looked at when it is put in place. */
export function* otherChainBreaches(owner: string, strip: Strip): Generator<Breach> {
  const ids = new Set<string>()
  for (const insert of strip.chainB?.inserts ?? []) {
    const at = `${owner}.chainB.inserts.${insert.id}`
    if (ids.has(insert.id)) yield breach('ids', `${owner}.chainB`, insert.id, 'names two inserts')
    if (insert.id.includes(':')) yield breach('ids', `${owner}.chainB`, insert.id, 'has a colon in it')
    ids.add(insert.id)
    yield* insertValueBreaches(insert, `${at}.values`)
  }
}

/** The broken rules of the inserts of a strip. */
export function* insertBreaches(session: Session, owner: string, strip: Strip): Generator<Breach> {
  const ids = new Set<string>()
  for (const insert of insertsOf(strip)) {
    const at = `${owner}.inserts.${insert.id}`
    if (ids.has(insert.id)) yield breach('ids', `${owner}.inserts`, insert.id, 'names two inserts')
    if (insert.id.includes(':')) yield breach('ids', `${owner}.inserts`, insert.id, 'has a colon in it')
    ids.add(insert.id)
    if (insert.key && !insertKindOf(insert.kind).takesKey)
      yield breach(
        'inserts',
        `${at}.key`,
        insert.key,
        `steers a ${insert.kind}, which listens to no other strip`,
      )
    else if (insert.key && !has(session.tracks, insert.key) && !has(session.buses, insert.key))
      yield breach('inserts', `${at}.key`, insert.key, 'is neither a track nor a bus')
    yield* insertValueBreaches(insert, `${at}.values`)
    const tooLong = tooLongWords(noteValueSeconds(insert, session.tempo))
    if (tooLong) yield breach('values', `${at}.values.noteValue`, insertValue(insert, 'noteValue'), tooLong)
  }
}

/** The broken rules of the values of an insert, crossovers included. */
export function* insertValueBreaches(insert: Pick<Insert, 'kind' | 'values'>, at: string): Generator<Breach> {
  yield* valueBreaches(insert, at)
  if (insert.kind !== 'four-bands') return
  const [one, two, three] = [1, 2, 3].map((n) => insertValue(insert, `crossover${n}Hz`))
  if (one! < two! && two! < three!) return
  yield breach(
    'inserts',
    at,
    `${one}, ${two}, ${three}`,
    'has crossovers that do not rise from the first to the third',
  )
}

function* valueBreaches({ kind, values }: Pick<Insert, 'kind' | 'values'>, at: string): Generator<Breach> {
  for (const [key, value] of Object.entries(values)) {
    const parameter = key === 'bypassed' ? undefined : insertParameter(kind, key)
    if (!parameter) {
      yield breach('inserts', `${at}.${key}`, value, `is not a value of a ${kind}`)
      continue
    }
    const { type, range, choices } = parameter
    if (type === 'switch') {
      if (typeof value !== 'boolean') yield breach('inserts', `${at}.${key}`, value, 'must be true or false')
    } else if (choices) {
      if (!choices.some((choice) => choice.value === value))
        yield breach(
          'inserts',
          `${at}.${key}`,
          value,
          `must be one of ${choices.map((c) => c.value).join(', ')}`,
        )
    } else if (value === null && type === 'beats') continue
    else if (typeof value !== 'number' || value < range.min || value > range.max)
      yield breach('inserts', `${at}.${key}`, value, `must be a number in ${range.min}…${range.max}`)
  }
}
