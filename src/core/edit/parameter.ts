import { expectInRange, parameterOf } from '../model/parameters'
import type { Session } from '../model/session'
import { counted, defineEdit } from './edit'
import { withMix, withTrack } from './owner'
import { stripOf, stripWords } from './thread'

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
  label: (session, { key, trackIds }) =>
    `${parameterOf(key).name} of ${trackIds.length === 1 ? stripWords(session, trackIds[0]!) : counted(trackIds.length, 'track')}`,
  apply(session, { key, trackIds, value }) {
    const parameter = parameterOf(key)
    expectInRange(parameter, value)
    return trackIds.reduce<Session>((next, id) => {
      const strip = stripOf(next, id)
      if (!strip || parameter.value!.read(strip) === value) return next
      const change = parameter.value!.written(strip, value)
      return id === null ? withMix(next, change as Partial<Session['mix']>) : withTrack(next, id, change)
    }, session)
  },
})
