import { canTakeKey } from '../../model/sidechain'
import { insertLaneKey } from '../../model/parameters'
import { presetWords, type Preset, type PresetInsert } from '../../model/inserts/presets'
import { LIMITS, type Insert, type Lane, type Session } from '../../model/session'
import { insertsOf, stripOf, type Strip } from '../../model/strips'
import { defineEdit } from '../shared/edit'
import { chainOf, withInsert, type Chain } from './inserts'
import { insertKindOf } from '../../model/inserts/insert-kinds'
import { withStrip } from '../shared/with-strip'
import { freshId } from '../shared/span'
import { stripWords } from '../automation/thread'

/** Whether a lane is that of one of some inserts. */
const isOf = (inserts: readonly Insert[]) => (key: string) =>
  inserts.some(({ id }) => key.startsWith(insertLaneKey(id, '')))

const lanesWhere = (lanes: Readonly<Record<string, Lane>>, keep: (key: string) => boolean) =>
  Object.fromEntries(Object.entries(lanes).filter(([key]) => keep(key)))

/** Gives inserts the values of a preset; those that the preset says nothing of become their defaults. Their lanes stay. */
export const setPreset = defineEdit<{
  inserts: readonly { id: string | null; insertId: string }[]
  name: string
  preset: PresetInsert
}>({
  name: 'setPreset',
  label: (session, { inserts, name, preset }) => {
    const kind = insertKindOf(preset.kind).name.toLowerCase()
    const [first] = inserts
    return inserts.length === 1
      ? `“${name}” for the ${kind} of ${stripWords(session, first!.id)}`
      : `“${name}” for the ${kind} of ${inserts.length} tracks`
  },
  apply: (session, { inserts, preset }) =>
    inserts.reduce(
      (now, { id, insertId }) =>
        withInsert(now, id, insertId, (insert) =>
          insert.kind === preset.kind ? { ...insert, values: preset.values } : insert,
        ),
      session,
    ),
})

/**
 * Puts the inserts of a preset into the chains of some strips: at their end, or in place of what is there, whose lanes then go. A
 * chain that would become too long is left as it is.
 */
export const putChain = defineEdit<{
  ids: readonly (string | null)[]
  chain: Chain
  preset: Preset
  replaces: boolean
}>({
  name: 'putChain',
  label: (session, { ids, preset }) =>
    `Put “${preset.name}” on ${ids.length === 1 ? stripWords(session, ids[0]!) : `${ids.length} tracks`}: ${presetWords(preset)}`,
  apply: (session, { ids, ...put }) => ids.reduce((now, id) => withChain(now, id, put), session),
})

function withChain(
  session: Session,
  id: string | null,
  { chain, preset, replaces }: { chain: Chain; preset: Preset; replaces: boolean },
): Session {
  const strip = stripOf(session, id)
  if (!strip || (chain === 'lastInserts' && id !== null)) return session
  const before = chainOf(strip, chain)
  const list = replaces ? [] : before
  if (list.length + preset.inserts.length > LIMITS.inserts) return session
  const taken: Record<string, Insert> = Object.fromEntries(insertsOf(strip).map((i) => [i.id, i]))
  const added = preset.inserts.map(({ kind, values, bypassed }): Insert => {
    const insert: Insert = { id: freshId(taken, kind), kind, bypassed: bypassed ?? false, values }
    taken[insert.id] = insert
    return insert
  })
  const gone = isOf(replaces ? before : [])
  return withStrip(session, id, {
    [chain]: [...list, ...added],
    lanes: lanesWhere(strip.lanes, (key) => !gone(key)),
  })
}

/** The inserts of a chain as a preset under a name: with their values, without lanes and keys. */
export const chainPreset = (name: string, inserts: readonly Insert[]): Preset => ({
  name,
  inserts: inserts.map(({ kind, values, bypassed }) => ({ kind, values, ...(bypassed ? { bypassed } : {}) })),
})

const lettersOf = (strip: Strip | undefined) =>
  strip?.chainB?.heard ? (['B', 'A'] as const) : (['A', 'B'] as const)

/** Goes over to the other version of a strip's inserts, A or B, with their lanes; the first time it is a copy of this one. */
export const swapChains = defineEdit<{ id: string | null }>({
  name: 'swapChains',
  label: (session, { id }) =>
    `Inserts of ${stripWords(session, id)}: version ${lettersOf(stripOf(session, id))[1]}`,
  apply(session, { id }) {
    const strip = stripOf(session, id)
    if (!strip) return session
    const { inserts, lanes, chainB } = strip
    const own = isOf(inserts)
    const here = { inserts, lanes: lanesWhere(lanes, own), heard: !(chainB?.heard ?? false) }
    const other = chainB ?? { inserts, lanes: here.lanes }
    const swapped = withStrip(session, id, {
      inserts: [...other.inserts],
      lanes: { ...lanesWhere(lanes, (key) => !own(key)), ...other.lanes },
      chainB: here,
    })
    return withGoodKeys(swapped, id)
  },
})

/** Strips may have gone since, or come to lie behind this one: what cannot steer any more does not. */
function withGoodKeys(session: Session, id: string | null): Session {
  const strip = stripOf(session, id)!
  const freed = withStrip(session, id, { inserts: strip.inserts.map((i) => ({ ...i, key: null })) })
  const inserts = strip.inserts.map((insert) =>
    insert.key && !canTakeKey(freed, id, insert, insert.key) ? { ...insert, key: null } : insert,
  )
  return withStrip(session, id, { inserts })
}

/** Makes the other version of a strip's inserts the same as the one that is heard. */
export const copyToOtherChain = defineEdit<{ id: string | null }>({
  name: 'copyToOtherChain',
  label: (session, { id }) => {
    const [here, other] = lettersOf(stripOf(session, id))
    return `Copy version ${here} of the inserts of ${stripWords(session, id)} to ${other}`
  },
  apply(session, { id }) {
    const strip = stripOf(session, id)
    if (!strip) return session
    const { inserts, lanes, chainB } = strip
    const copy = { inserts, lanes: lanesWhere(lanes, isOf(inserts)), heard: chainB?.heard ?? false }
    return withStrip(session, id, { chainB: copy })
  },
})
