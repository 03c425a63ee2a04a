import { expectInRange, parameterOf } from '../../model/parameters'
import type { Session } from '../../model/session'
import { changeWords, counted, defineEdit } from '../shared/edit'
import { withStrip } from '../shared/with-strip'
import { stripWords } from './thread'
import { stripOf } from '../../model/strips'

/** A parameter as the first of some strips has it. */
const parameterIn = (session: Session, key: string, [first = null]: readonly (string | null)[]) =>
  parameterOf(stripOf(session, first) ?? session.mix, key)

const labelOf = (session: Session, key: string, trackIds: readonly (string | null)[]) =>
  `${parameterIn(session, key, trackIds).name} of ${trackIds.length === 1 ? stripWords(session, trackIds[0]!) : counted(trackIds.length, 'track')}`

/** A new value in words, and the one that it replaces where there is one. */
function valueWords(
  session: Session,
  key: string,
  trackIds: readonly (string | null)[],
  value: number | null,
): string {
  const { show, read } = parameterIn(session, key, trackIds).value!
  const strip = trackIds.length === 1 ? stripOf(session, trackIds[0]!) : undefined
  return strip ? changeWords(show(read(strip)), show(value)) : `→ ${show(value)}`
}

function withValue(session: Session, key: string, id: string | null, value: number | null): Session {
  const strip = stripOf(session, id)
  const parameter = parameterOf(strip ?? session.mix, key)
  expectInRange(parameter, value)
  if (!strip || parameter.value!.read(strip) === value) return session
  return withStrip(session, id, parameter.value!.written(strip, value))
}

/**
 * Sets the static value of a parameter of tracks, or with null as an id of the mix, in its own unit (see its
 * entry in the registry). Throws a RangeError for a value out of its range and for a parameter that has none.
 */
export const setParameter = defineEdit<{
  key: string
  trackIds: readonly (string | null)[]
  value: number | null
}>({
  name: 'setParameter',
  label: (session, { key, trackIds, value }) =>
    `${labelOf(session, key, trackIds)} ${valueWords(session, key, trackIds, value)}`,
  apply: (session, { key, trackIds, value }) =>
    trackIds.reduce<Session>((next, id) => withValue(next, key, id, value), session),
})

/** The same with a value for each. */
export const setParameters = defineEdit<{
  key: string
  values: readonly { trackId: string | null; value: number | null }[]
}>({
  name: 'setParameters',
  label(session, { key, values }) {
    const trackIds = values.map((v) => v.trackId)
    const words = values.length === 1 ? ` ${valueWords(session, key, trackIds, values[0]!.value)}` : ''
    return labelOf(session, key, trackIds) + words
  },
  apply: (session, { key, values }) =>
    values.reduce<Session>((next, { trackId, value }) => withValue(next, key, trackId, value), session),
})
