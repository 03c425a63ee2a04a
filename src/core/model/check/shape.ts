import * as z from 'zod/mini'
import { boundsBreach } from './bounds'
import { breach, type Breach } from './breach'
import { isReservedName, LIMITS, MOST_WEAVES } from '../session'
import { list } from '../schema-fields'
import {
  busSchema,
  crossfadeSchema,
  gainStateSchema,
  gainThreadSchema,
  giveWaySchema,
  groupSchema,
  knotSchema,
  laneSchema,
  laneWeaveSchema,
  movedGainSchema,
  movedRegionSchema,
  otherChainSchema,
  regionSchema,
  sessionSchema,
  sourceSchema,
  trackSchema,
} from '../session-schema'
import { issueWords } from './shape-words'
import { shownText, shownValue } from './shown'

/**
 * The shape of a session is checked part by part and not by the whole schema at once: a file can hold
 * millions of faults, and whoever reads the result stops after a few.
 */
const anyObject = z.looseObject({})
const anyList = z.array(z.unknown())

const chainOutline = z.optional(z.extend(otherChainSchema, { lanes: anyObject }))
const gainOutline = z.extend(gainStateSchema, { regions: anyObject, lane: z.unknown() })
const movedOutline = z.optional(
  list(z.extend(movedGainSchema, { before: gainOutline, after: gainOutline }), LIMITS.inserts),
)
const movedRegionOutline = z.extend(movedRegionSchema, { knots: z.nullable(anyList) })

const outline = z.extend(sessionSchema, {
  tracks: anyObject,
  buses: anyObject,
  regions: anyObject,
  sources: anyObject,
  gainThreads: anyObject,
  crossfades: anyObject,
  groups: z.optional(anyList),
  mix: z.extend(sessionSchema.shape.mix, { lanes: anyObject, chainB: chainOutline }),
})
const trackOutline = z.extend(trackSchema, { lanes: anyObject, chainB: chainOutline, moved: movedOutline })
const busOutline = z.extend(busSchema, { lanes: anyObject, chainB: chainOutline, moved: movedOutline })
const threadOutline = z.extend(gainThreadSchema, { knots: anyList })
const laneOutline = z.extend(laneSchema, {
  knots: anyList,
  giveWay: z.optional(z.extend(giveWaySchema, { base: anyList })),
  weaves: z.optional(list(z.unknown(), MOST_WEAVES)),
})

/** The entities of a session: how one of them is checked, and how many there may be. */
const collections = {
  tracks: { schema: trackOutline, most: LIMITS.tracks },
  buses: { schema: busOutline, most: LIMITS.buses },
  regions: { schema: regionSchema, most: LIMITS.regions },
  sources: { schema: sourceSchema, most: LIMITS.sources },
  gainThreads: { schema: threadOutline, most: LIMITS.regions },
  crossfades: { schema: crossfadeSchema, most: LIMITS.regions },
} as const

type Plain = Record<string, unknown>
const collectionNames = Object.keys(collections) as (keyof typeof collections)[]

const part = (value: unknown, key: PropertyKey): unknown =>
  typeof value === 'object' && value !== null && Object.hasOwn(value, key)
    ? (value as Plain)[String(key)]
    : undefined

/** What a schema says against a value that is filed under `path`. */
function* faultsOf(schema: z.ZodMiniType, input: unknown, path: string): Generator<Breach> {
  const parsed = schema.safeParse(input)
  if (parsed.success) return
  for (const issue of parsed.error.issues) {
    const value = issue.path.reduce<unknown>(part, input)
    const missing = value === undefined && issue.code !== 'unrecognized_keys' && issue.code !== 'invalid_key'
    const entity = [path, ...issue.path.map((key) => shownText(String(key), 40))].filter(Boolean).join('.')
    yield breach('shape', entity || 'session', shownValue(value), missing ? 'is missing' : issueWords(issue))
  }
}

function* knotFaults(knots: readonly unknown[], path: string): Generator<Breach> {
  for (let i = 0; i < knots.length; i++) yield* faultsOf(knotSchema, knots[i], `${path}.${i}`)
}

function* laneFaults(lanes: Plain, path: string): Generator<Breach> {
  for (const key of Object.keys(lanes)) {
    const at = `${path}.${shownText(key, 40)}`
    const faults = [...faultsOf(laneOutline, lanes[key], at)]
    yield* faults
    if (faults.length) continue
    const lane = lanes[key] as z.infer<typeof laneOutline>
    yield* knotFaults(lane.knots, `${at}.knots`)
    if (lane.giveWay) yield* knotFaults(lane.giveWay.base, `${at}.giveWay.base`)
    for (const [i, weave] of (lane.weaves ?? []).entries())
      yield* faultsOf(laneWeaveSchema, weave, `${at}.weaves.${i}`)
  }
}

function* entityFaults(session: Plain, name: keyof typeof collections): Generator<Breach> {
  const { schema, most } = collections[name]
  const entities = session[name] as Plain
  const ids = Object.keys(entities)
  if (ids.length > most) return yield breach('limits', name, ids.length, `must have at most ${most} entries`)
  for (const id of ids) {
    const path = `${name}.${shownText(id, 40)}`
    if (isReservedName(id)) yield breach('ids', path, shownText(id), 'is a name that cannot be an id')
    const faults = [...faultsOf(schema, entities[id], path)]
    yield* faults
    if (faults.length) continue
    const entity = entities[id] as { knots?: unknown[] } & StripParts
    if (entity.knots) yield* knotFaults(entity.knots, `${path}.knots`)
    yield* stripFaults(entity, path)
  }
}

/** What of a strip is checked by parts. */
interface StripParts {
  lanes?: Plain
  chainB?: { lanes: Plain }
  moved?: { before: z.infer<typeof gainOutline>; after: z.infer<typeof gainOutline> }[]
}

function* stripFaults({ lanes, chainB, moved }: StripParts, path: string): Generator<Breach> {
  if (lanes) yield* laneFaults(lanes, `${path}.lanes`)
  if (chainB) yield* laneFaults(chainB.lanes, `${path}.chainB.lanes`)
  for (const [i, { before, after }] of (moved ?? []).entries())
    for (const [which, state] of [
      ['before', before],
      ['after', after],
    ] as const) {
      const at = `${path}.moved.${i}.${which}`
      if (state.lane !== null) yield* laneFaults({ lane: state.lane }, at)
      for (const id of Object.keys(state.regions)) {
        const region = state.regions[id]
        const where = `${at}.regions.${shownText(id, 40)}`
        if (isReservedName(id)) yield breach('ids', where, shownText(id), 'is a name that cannot be an id')
        const faults = [...faultsOf(movedRegionOutline, region, where)]
        yield* faults
        const { knots } = region as { knots?: unknown[] | null }
        if (!faults.length && knots) yield* knotFaults(knots, `${where}.knots`)
      }
    }
}

const listLength = (value: unknown) => (Array.isArray(value) ? value.length : 0)

/** How many knots a session has in all; what is not there counts nothing, so that it can be asked of anything. */
export function countKnots(session: unknown): number {
  let count = 0
  const lanesOf = (owner: unknown) => Object.values((part(owner, 'lanes') ?? {}) as Plain)
  const add = (lane: unknown) => {
    count += listLength(part(lane, 'knots')) + listLength(part(part(lane, 'giveWay'), 'base'))
  }
  /** The knots of a strip: of its lanes, of its other version of inserts, and of the gain that was moved past them. */
  const addStrip = (strip: unknown) => {
    lanesOf(strip).forEach(add)
    lanesOf(part(strip, 'chainB')).forEach(add)
    const moved = part(strip, 'moved')
    for (const { before, after } of Array.isArray(moved)
      ? (moved as { before: unknown; after: unknown }[])
      : [])
      for (const state of [before, after]) {
        add(part(state, 'lane'))
        Object.values((part(state, 'regions') ?? {}) as Plain).forEach(add)
      }
  }
  for (const thread of Object.values((part(session, 'gainThreads') ?? {}) as Plain)) add(thread)
  for (const rows of ['tracks', 'buses'])
    for (const row of Object.values((part(session, rows) ?? {}) as Plain)) addStrip(row)
  addStrip(part(session, 'mix'))
  return count
}

/** Breaches of what plain JSON must look like to be a session, one after another; none when it does. */
export function* shapeBreaches(input: unknown): Generator<Breach> {
  const huge = boundsBreach(input)
  if (huge) return yield huge
  const faults = [...faultsOf(outline, input, '')]
  yield* faults
  if (faults.length) return
  const session = input as Plain
  const knots = countKnots(session)
  if (knots > LIMITS.knots)
    return yield breach('limits', 'session', knots, `knots in all; there may be at most ${LIMITS.knots}`)
  for (const name of collectionNames) yield* entityFaults(session, name)
  for (const [i, group] of ((session.groups ?? []) as unknown[]).entries())
    yield* faultsOf(groupSchema, group, `groups.${i}`)
  yield* stripFaults(session.mix as StripParts, 'mix')
}
