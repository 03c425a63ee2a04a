import { clamp } from '../../units/clamp'
import {
  BYPASSED,
  insertKindOf,
  insertParameter,
  type InsertKindName,
} from '../../model/inserts/insert-kinds'
import { insertValue, settableValue, type InsertValue } from '../../model/inserts/insert-values'
import { insertLaneKey } from '../../model/parameters'
import { canTakeKey } from '../../model/sidechain'
import { LIMITS, type Insert, type Session } from '../../model/session'
import { insertsOf, lastInsertsOf, stripOf, type Strip } from '../../model/strips'
import { showNumber } from '../../units/number-scale'
import { changeWords, defineEdit } from '../shared/edit'
import { withStrip } from '../shared/with-strip'
import { freshId } from '../shared/span'
import { stripWords } from '../automation/thread'

/** The two chains of a strip: that before the fader, and, of the mix, that after its pan. */
export type Chain = 'inserts' | 'lastInserts'

/** The inserts of a chain of a strip. */
export const chainOf = (strip: Strip, chain: Chain): readonly Insert[] =>
  chain === 'inserts' ? strip.inserts : lastInsertsOf(strip)

/** An insert of a strip, with null as id of the mix; undefined where there is none. */
export const insertOf = (session: Session, id: string | null, insertId: string): Insert | undefined => {
  const strip = stripOf(session, id)
  return strip && insertsOf(strip).find((i) => i.id === insertId)
}

const insertWords = (session: Session, id: string | null, insertId: string) => {
  const insert = insertOf(session, id, insertId)
  const name = insert ? insertKindOf(insert.kind).name.toLowerCase() : 'insert'
  return `the ${name} of ${stripWords(session, id)}`
}

/** The session with the insert changed, whichever chain it is in. */
export function withInsert(
  session: Session,
  id: string | null,
  insertId: string,
  change: (insert: Insert) => Insert,
): Session {
  const strip = stripOf(session, id)
  if (!strip) return session
  for (const chain of ['inserts', 'lastInserts'] as const) {
    const list = chainOf(strip, chain)
    const at = list.findIndex((i) => i.id === insertId)
    if (at < 0) continue
    const changed = change(list[at]!)
    return changed === list[at]
      ? session
      : withStrip(session, id, { [chain]: list.map((insert, i) => (i === at ? changed : insert)) })
  }
  return session
}

/**
 * Adds an insert at the end of a chain of some strips, null being the mix, with the defaults of its kind. Only the mix has last inserts;
 * strips that have no room are left as they are.
 */
export const addInsert = defineEdit<{ ids: readonly (string | null)[]; chain: Chain; kind: InsertKindName }>({
  name: 'addInsert',
  label(session, { ids, kind }) {
    const to = ids.length === 1 ? stripWords(session, ids[0]!) : `${ids.length} strips`
    return `Add ${withArticle(insertKindOf(kind).name.toLowerCase())} to ${to}`
  },
  apply: (session, { ids, chain, kind }) =>
    ids.reduce((now, id) => withNewInsert(now, id, chain, kind), session),
})

function withNewInsert(session: Session, id: string | null, chain: Chain, kind: InsertKindName): Session {
  const strip = stripOf(session, id)
  if (!strip || (chain === 'lastInserts' && id !== null)) return session
  const list = chainOf(strip, chain)
  if (list.length >= LIMITS.inserts) return session
  const taken = Object.fromEntries(insertsOf(strip).map((i) => [i.id, i]))
  const insert: Insert = { id: freshId(taken, kind), kind, bypassed: false, values: {} }
  return withStrip(session, id, { [chain]: [...list, insert] })
}

const withArticle = (name: string) => `${/^[aeiou]/.test(name) ? 'an' : 'a'} ${name}`

/**
 * Copies inserts of a strip with their values and lanes: behind them where they are copied to their own strip, else to the end of the
 * other's inserts. null is the mix. Strips that have no room for all of them are left as they are.
 */
export const copyInserts = defineEdit<{
  id: string | null
  insertIds: readonly string[]
  to: readonly (string | null)[]
}>({
  name: 'copyInserts',
  label(session, { id, insertIds, to }) {
    const what =
      insertIds.length === 1
        ? insertWords(session, id, insertIds[0]!)
        : `${insertIds.length} inserts of ${stripWords(session, id)}`
    if (to.length === 1 && to[0] === id) return `Duplicate ${what}`
    return `Copy ${what} to ${to.length === 1 ? stripWords(session, to[0]!) : `${to.length} strips`}`
  },
  apply(session, { id, insertIds, to }) {
    const strip = stripOf(session, id)
    if (!strip) return session
    const copied = insertsOf(strip).filter((insert) => insertIds.includes(insert.id))
    if (copied.length === 0) return session
    return to.reduce((now, target) => withCopies(now, target, copied, strip.lanes), session)
  },
})

function withCopies(
  session: Session,
  id: string | null,
  copied: readonly Insert[],
  lanesFrom: Strip['lanes'],
): Session {
  const strip = stripOf(session, id)
  if (!strip) return session
  const taken: Record<string, Insert> = Object.fromEntries(insertsOf(strip).map((i) => [i.id, i]))
  const lanes = { ...strip.lanes }
  const copies = copied.map((insert): Insert => {
    const copy = { ...insert, id: freshId(taken, insert.kind) }
    // What it listens to may be behind the strip that it is copied to.
    if (insert.key && !canTakeKey(session, id, insert, insert.key)) copy.key = null
    taken[copy.id] = copy
    const own = insertLaneKey(insert.id, '')
    for (const [key, lane] of Object.entries(lanesFrom))
      if (key.startsWith(own)) lanes[insertLaneKey(copy.id, key.slice(own.length))] = lane
    return copy
  })
  const last = copied.at(-1)!.id
  const chain: Chain = lastInsertsOf(strip).some((i) => i === copied.at(-1)) ? 'lastInserts' : 'inserts'
  const list = chainOf(strip, chain)
  if (list.length + copies.length > LIMITS.inserts) return session
  const behind = list.findIndex((i) => i.id === last && copied.includes(i)) + 1
  const at = behind || list.length
  return withStrip(session, id, { [chain]: [...list.slice(0, at), ...copies, ...list.slice(at)], lanes })
}

/** Removes an insert with its lanes. */
export const removeInsert = defineEdit<{ id: string | null; insertId: string }>({
  name: 'removeInsert',
  label: (session, { id, insertId }) => `Remove ${insertWords(session, id, insertId)}`,
  apply(session, { id, insertId }) {
    const strip = stripOf(session, id)
    if (!strip || !insertOf(session, id, insertId)) return session
    const own = insertLaneKey(insertId, '')
    const kept = (list: readonly Insert[]) => list.filter((i) => i.id !== insertId)
    return withStrip(session, id, {
      inserts: kept(strip.inserts),
      ...('lastInserts' in strip ? { lastInserts: kept(lastInsertsOf(strip)) } : {}),
      lanes: Object.fromEntries(Object.entries(strip.lanes).filter(([key]) => !key.startsWith(own))),
    })
  },
})

/** Moves an insert earlier or later in its chain past so many others. */
export const moveInsert = defineEdit<{ id: string | null; insertId: string; by: number }>({
  name: 'moveInsert',
  label: (session, { id, insertId, by }) =>
    `Move ${insertWords(session, id, insertId)} ${by < 0 ? 'earlier' : 'later'}`,
  apply(session, { id, insertId, by }) {
    const strip = stripOf(session, id)
    if (!strip) return session
    for (const chain of ['inserts', 'lastInserts'] as const) {
      const list = chainOf(strip, chain)
      const from = list.findIndex((i) => i.id === insertId)
      if (from < 0) continue
      const rest = list.filter((_, i) => i !== from)
      const to = clamp(from + by, 0, rest.length)
      if (to === from) return session
      return withStrip(session, id, { [chain]: [...rest.slice(0, to), list[from]!, ...rest.slice(to)] })
    }
    return session
  },
})

/** Leaves an insert out, or lets it act again. */
export const bypassInsert = defineEdit<{ id: string | null; insertId: string; bypassed: boolean }>({
  name: 'bypassInsert',
  label: (session, { id, insertId, bypassed }) =>
    `${bypassed ? 'Bypass' : 'Let act'} ${insertWords(session, id, insertId)}`,
  apply: (session, { id, insertId, bypassed }) =>
    withInsert(session, id, insertId, (insert) =>
      insert.bypassed === bypassed ? insert : { ...insert, bypassed },
    ),
})

/**
 * Sets a value of an insert in the unit of its parameter; switches are true or false, null is no note value. What is the
 * default is not kept. Throws a RangeError for a key that the kind does not have, and for a value out of its range.
 */
export const setInsertValue = defineEdit<{
  id: string | null
  insertId: string
  key: string
  value: InsertValue
}>({
  name: 'setInsertValue',
  label(session, { id, insertId, key, value }) {
    const insert = insertOf(session, id, insertId)
    const parameter = insert && insertParameter(insert.kind, key)
    if (!insert || !parameter) return `Set ${key}`
    const { type, range, label, choices } = parameter
    const shown = (x: InsertValue) =>
      choices
        ? (choices.find((c) => c.value === x)?.label.toLowerCase() ?? String(x))
        : type === 'switch'
          ? x
            ? 'on'
            : 'off'
          : x === null || x === 0
            ? 'off'
            : showNumber(Number(x), range)
    const before = insertValue(insert, key)
    const words =
      type === 'number'
        ? changeWords(showNumber(before, range), showNumber(Number(value), range))
        : `→ ${shown(value)}`
    return `${label} of ${insertWords(session, id, insertId)} ${words}`
  },
  apply: (session, { id, insertId, key, value }) =>
    withInsert(session, id, insertId, (insert) => {
      const parameter = key === BYPASSED.key ? undefined : insertParameter(insert.kind, key)
      if (!parameter) throw new RangeError(`a ${insert.kind} has no value “${key}”`)
      const { type, range, choices } = parameter
      if (choices && !choices.some((c) => c.value === value))
        throw new RangeError(`a ${key} of ${value} is none of ${choices.map((c) => c.value).join(', ')}`)
      if (
        !choices &&
        (type === 'switch'
          ? typeof value !== 'boolean'
          : value === null
            ? type !== 'beats'
            : !inRange(value, range))
      )
        throw new RangeError(`a ${key} of ${value} is outside ${range.min}…${range.max}`)
      const { [key]: before, ...others } = insert.values
      const plain =
        type === 'switch'
          ? false
          : type === 'beats'
            ? null
            : choices
              ? choices[range.defaultValue]!.value
              : range.defaultValue
      if (typeof value === 'number') value = settableValue(insert, key, value)
      if (value === plain) return before === undefined ? insert : { ...insert, values: others }
      return before === value ? insert : { ...insert, values: { ...insert.values, [key]: value } }
    }),
})

/** Sets several values of an insert at once, as one step: those of a band, or all of a preset. Throws as `setInsertValue` does. */
export const setInsertValues = defineEdit<{
  id: string | null
  insertId: string
  values: Readonly<Record<string, InsertValue>>
  /** What is set, in words: "Band 2". */
  what: string
}>({
  name: 'setInsertValues',
  label: (session, { id, insertId, what }) => `${what} of ${insertWords(session, id, insertId)}`,
  apply: (session, { id, insertId, values }) =>
    Object.entries(values).reduce(
      (now, [key, value]) => setInsertValue.apply(now, { id, insertId, key, value }),
      session,
    ),
})

const inRange = (value: InsertValue, { min, max }: { min: number; max: number }) =>
  typeof value === 'number' && value >= min && value <= max
