import { insertKindOf } from './insert-kinds'
import { sendLaneKey } from '../parameters'
import type { Insert, Session } from '../session'
import { insertsOf, lastInsertsOf, rowIds, rowOf, stripOf } from '../strips'

/** Where a level is changed: before a strip's inserts, or at its fader, after them. */
export type LevelStage = 'before' | 'after'

/** An insert that acts, and what it is called where it is not the strip's own: "the gate of “Room”", "the mix’s ceiling". */
interface Heard {
  insert: Insert
  called: string
  /** Whether what is asked about steers it, instead of passing it. */
  steered?: true
}

/** One that is steered by another strip does not depend on the level of what passes it. */
const hearsLevel = ({ insert, steered }: Heard) =>
  insertKindOf(insert.kind).hearsLevel === true && (steered === true || !insert.key)
const kindName = (insert: Insert) => insertKindOf(insert.kind).name.toLowerCase()
const nameOf = ({ insert }: Heard) => kindName(insert)
const acting = (inserts: readonly Insert[], call: (name: string) => string): Heard[] =>
  inserts.filter((insert) => !insert.bypassed).map((insert) => ({ insert, called: call(kindName(insert)) }))
const ofMix = (name: string) => `the mix’s ${name}`

/** "the compressor", "the compressor and the gate", "the compressor, the gate and the saturator". */
function listed(names: readonly string[]): string {
  const last = names.at(-1)!
  return names.length === 1 ? last : `${names.slice(0, -1).join(', ')} and ${last}`
}

const unique = (names: readonly string[]) => [...new Set(names)]
const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)

/** The inserts of other strips that a strip steers by a key. */
function steeredBy(session: Session, id: string): Heard[] {
  const of = (inserts: readonly Insert[], call: (name: string) => string) =>
    acting(
      inserts.filter((insert) => insert.key === id),
      call,
    )
  return [
    ...rowIds(session).flatMap((row) => {
      const { inserts, name } = rowOf(session, row)!
      return of(inserts, (kind) => `the ${kind} of “${name}”`)
    }),
    ...of(insertsOf(session.mix), ofMix),
  ].map((heard) => ({ ...heard, steered: true as const }))
}

/**
 * The inserts that act on the ways of a strip after its fader, to the end, and those that it and what it goes to steer. A send
 * before the fader does not hear what is done at it, and neither does what the strip itself steers.
 */
function laterOf(session: Session, id: string | null, stage: LevelStage): Heard[] {
  const { mix } = session
  if (id === null) return acting(lastInsertsOf(mix), ofMix)
  const later: Heard[] = stage === 'before' ? steeredBy(session, id) : []
  const waysFrom = (row: string, point?: 'post') => {
    const { output, sends, lanes } = rowOf(session, row)!
    return [
      output,
      ...sends
        .filter((send) => !send.muted && (!point || send.point === point))
        .filter((send) => send.levelDb !== null || lanes[sendLaneKey(send.id)])
        .map((send) => send.to),
    ]
  }
  const reached = new Set(waysFrom(id, stage === 'after' ? 'post' : undefined))
  for (const to of reached) {
    const bus = rowOf(session, to)
    if (!bus) continue
    later.push(...acting(bus.inserts, (name) => `the ${name} of “${bus.name}”`), ...steeredBy(session, to))
    for (const next of waysFrom(to)) reached.add(next)
  }
  return [...later, ...acting(insertsOf(mix), ofMix)]
}

/**
 * What a change of level at a stage of a strip does to what comes after it, in a sentence; null is the mix. Inserts that are bypassed
 * do not count.
 */
export function levelWords(session: Session, id: string | null, stage: LevelStage): string {
  const strip = stripOf(session, id)
  const own = strip ? acting(strip.inserts, (name) => `the ${name}`) : []
  const later = laterOf(session, id, stage)
  const laterNames = unique(later.filter(hearsLevel).map((heard) => heard.called))
  const ownNames = unique(own.filter(hearsLevel).map((heard) => heard.called))
  const hear = (names: readonly string[]) => (names.length === 1 ? 'hears' : 'hear')
  if (stage === 'before' && ownNames.length > 0)
    return `${upper(listed(ownNames))} after this ${hear(ownNames)} the change: tone and density will change.`
  if (laterNames.length > 0) {
    const after = ownNames.length > 0 ? `After ${listed(ownNames)}` : 'Nothing of its own depends on level'
    return `${after}, but ${listed(laterNames)} still ${hear(laterNames)} it.`
  }
  if (stage === 'after' && ownNames.length > 0)
    return `After ${listed(ownNames)}: level changes, nothing else.`
  const others = unique((stage === 'before' ? [...own, ...later] : later).map(nameOf))
  if (others.length === 1)
    return `Only ${/^[aeiou]/.test(others[0]!) ? 'an' : 'a'} ${others[0]} comes after this: level changes, nothing else.`
  return 'Nothing that comes after depends on level: level changes, nothing else.'
}
