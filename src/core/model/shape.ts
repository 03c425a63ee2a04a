import { z } from 'zod'
import { breach, type Breach } from './breach'
import {
  busSchema,
  crossfadeSchema,
  gainThreadSchema,
  giveWaySchema,
  isReservedName,
  knotSchema,
  laneSchema,
  laneWeaveSchema,
  LIMITS,
  MOST_WEAVES,
  regionSchema,
  sessionSchema,
  sourceSchema,
  trackSchema,
} from './session'
import { issueWords } from './shape-words'
import { shownText, shownValue } from './shown'

/**
 * The shape of a session is checked part by part and not by the whole schema at once: a file can hold
 * millions of faults, and whoever reads the result stops after a few.
 */
const anyObject = z.looseObject({})
const anyList = z.array(z.unknown())

const outline = sessionSchema.extend({
  tracks: anyObject,
  buses: anyObject,
  regions: anyObject,
  sources: anyObject,
  gainThreads: anyObject,
  crossfades: anyObject,
  mix: sessionSchema.shape.mix.extend({ lanes: anyObject }),
})
const trackOutline = trackSchema.extend({ lanes: anyObject })
const busOutline = busSchema.extend({ lanes: anyObject })
const threadOutline = gainThreadSchema.extend({ knots: anyList })
const laneOutline = laneSchema.extend({
  knots: anyList,
  giveWay: giveWaySchema.extend({ base: anyList }).optional(),
  weaves: anyList.max(MOST_WEAVES).optional(),
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
function* faultsOf(schema: z.ZodType, input: unknown, path: string): Generator<Breach> {
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
    const entity = entities[id] as { knots?: unknown[]; lanes?: Plain }
    if (entity.knots) yield* knotFaults(entity.knots, `${path}.knots`)
    if (entity.lanes) yield* laneFaults(entity.lanes, `${path}.lanes`)
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
  for (const thread of Object.values((part(session, 'gainThreads') ?? {}) as Plain)) add(thread)
  for (const rows of ['tracks', 'buses'])
    for (const row of Object.values((part(session, rows) ?? {}) as Plain)) lanesOf(row).forEach(add)
  lanesOf(part(session, 'mix')).forEach(add)
  return count
}

/** Breaches of what plain JSON must look like to be a session, one after another; none when it does. */
export function* shapeBreaches(input: unknown): Generator<Breach> {
  const faults = [...faultsOf(outline, input, '')]
  yield* faults
  if (faults.length) return
  const session = input as Plain
  const knots = countKnots(session)
  if (knots > LIMITS.knots)
    return yield breach('limits', 'session', knots, `knots in all; there may be at most ${LIMITS.knots}`)
  for (const name of collectionNames) yield* entityFaults(session, name)
  yield* laneFaults((session.mix as { lanes: Plain }).lanes, 'mix.lanes')
}
