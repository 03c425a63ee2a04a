import { groupOf } from '../../model/groups'
import type { Group, Session } from '../../model/session'
import { counted, defineEdit } from '../shared/edit'
import { freshId } from '../shared/span'

/** Groups without some tracks; one of fewer than two tracks is none. */
const without = (groups: readonly Group[], gone: ReadonlySet<string>): Group[] =>
  groups.flatMap((group) => {
    if (!group.trackIds.some((id) => gone.has(id))) return [group]
    const trackIds = group.trackIds.filter((id) => !gone.has(id))
    return trackIds.length > 1 ? [{ ...group, trackIds }] : []
  })

function withGroups(session: Session, groups: readonly Group[]): Session {
  const { groups: _, ...rest } = session
  return groups.length ? { ...rest, groups: [...groups] } : rest
}

/** The session whose groups no longer have some tracks. */
export function withoutGroupsOf(session: Session, trackIds: readonly string[]): Session {
  const { groups } = session
  if (!groups?.some((g) => g.trackIds.some((id) => trackIds.includes(id)))) return session
  return withGroups(session, without(groups, new Set(trackIds)))
}

/** Puts tracks into a group of their own; they leave the ones that they were in. Needs two tracks. */
export const groupTracks = defineEdit<{ trackIds: readonly string[]; name: string }>({
  name: 'groupTracks',
  label: (_session, { trackIds, name }) => `Group “${name}” of ${counted(trackIds.length, 'track')}`,
  apply(session, { trackIds, name }) {
    const wanted = new Set(trackIds)
    const members = session.trackIds.filter((id) => wanted.has(id))
    if (members.length < 2) return session
    const rest = without(session.groups ?? [], new Set(members))
    const id = freshId(Object.fromEntries(rest.map((g) => [g.id, g])), 'group')
    return withGroups(session, [...rest, { id, name, trackIds: members }])
  },
})

/** Takes tracks out of their groups; a group of one track is no more. */
export const ungroupTracks = defineEdit<{ trackIds: readonly string[] }>({
  name: 'ungroupTracks',
  label: (session, { trackIds }) => {
    const group = groupOf(session, trackIds[0] ?? '')
    return group
      ? `Take ${counted(trackIds.length, 'track')} out of the group “${group.name}”`
      : 'Leave a group'
  },
  apply: (session, { trackIds }) => withoutGroupsOf(session, trackIds),
})

/** Renames a group. */
export const renameGroup = defineEdit<{ id: string; name: string }>({
  name: 'renameGroup',
  label: (_session, { name }) => `Rename a group to “${name}”`,
  apply(session, { id, name }) {
    const group = session.groups?.find((g) => g.id === id)
    return !group || group.name === name
      ? session
      : withGroups(
          session,
          session.groups!.map((g) => (g.id === id ? { ...g, name } : g)),
        )
  },
})
