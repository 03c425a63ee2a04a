import { clamp } from '../../units/clamp'
import { LIMITS, type Marker } from '../../model/session'
import { defineEdit } from '../shared/edit'

/** Puts a marker at a session frame. Throws a RangeError for an id that is taken. */
export const addMarker = defineEdit<{ id: string; frame: number; name: string }>({
  name: 'addMarker',
  label: (_session, { name }) => `Add marker “${name}”`,
  apply(session, { id, frame, name }) {
    if (session.markers.some((m) => m.id === id)) throw new RangeError(`there is a marker ${id} already`)
    if (session.markers.length >= LIMITS.markers)
      throw new RangeError(`a session has at most ${LIMITS.markers} markers`)
    return { ...session, markers: sorted([...session.markers, { id, frame: placed(frame), name }]) }
  },
})

/** Moves or renames a marker. */
export const changeMarker = defineEdit<{ id: string; change: Partial<Pick<Marker, 'frame' | 'name'>> }>({
  name: 'changeMarker',
  label: (session, { id, change }) =>
    `${change.name === undefined ? 'Move' : 'Rename'} marker “${session.markers.find((m) => m.id === id)?.name ?? ''}”`,
  apply(session, { id, change }) {
    const marker = session.markers.find((m) => m.id === id)
    const next = marker && {
      ...marker,
      ...change,
      ...(change.frame === undefined ? {} : { frame: placed(change.frame) }),
    }
    if (!next || (next.frame === marker.frame && next.name === marker.name)) return session
    return { ...session, markers: sorted(session.markers.map((m) => (m.id === id ? next : m))) }
  },
})

/** Removes a marker. */
export const removeMarker = defineEdit<{ id: string }>({
  name: 'removeMarker',
  label: (session, { id }) => `Remove marker “${session.markers.find((m) => m.id === id)?.name ?? ''}”`,
  apply: (session, { id }) =>
    session.markers.some((m) => m.id === id)
      ? { ...session, markers: session.markers.filter((m) => m.id !== id) }
      : session,
})

const placed = (frame: number) => clamp(Math.round(frame), 0, LIMITS.frames)
const sorted = (markers: Marker[]) => markers.sort((a, b) => a.frame - b.frame)
