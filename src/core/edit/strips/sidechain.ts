import { insertKindOf } from '../../model/inserts/insert-kinds'
import { canTakeKey } from '../../model/sidechain'
import type { Session } from '../../model/session'
import { rowOf } from '../../model/strips'
import { defineEdit } from '../shared/edit'
import { insertOf, withInsert } from './inserts'
import { stripWords } from '../automation/thread'

/** Lets another strip steer an insert by its level; null lets it hear itself again. What would form a circle changes nothing. */
export const setInsertKey = defineEdit<{ id: string | null; insertId: string; key: string | null }>({
  name: 'setInsertKey',
  label(session, { id, insertId, key }) {
    const insert = insertOf(session, id, insertId)
    const name = insert ? insertKindOf(insert.kind).name : 'Insert'
    const heard = key === null ? 'itself' : `“${rowOf(session, key)?.name ?? ''}”`
    return `${name} of ${stripWords(session, id)} listens to ${heard}`
  },
  apply(session: Session, { id, insertId, key }) {
    const found = insertOf(session, id, insertId)
    if (!found || !canTakeKey(session, id, found, key)) return session
    return withInsert(session, id, insertId, (insert) =>
      (insert.key ?? null) === key ? insert : { ...insert, key },
    )
  },
})
