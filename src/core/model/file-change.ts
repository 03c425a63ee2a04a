import type { Insert, Session } from './session'
import { lastInsertsOf } from './strips'

/** What is done to the mix in a file, behind everything that the session has: a gain, then a ceiling of true peaks if there is one. */
export interface FileChange {
  gainDb: number
  ceilingDbtp: number | null
}

/** No insert of a session has such an id: ids of inserts come from a session, and these do not. */
const ID = ':file'

const insert = (kind: Insert['kind'], values: Insert['values']): Insert => ({
  id: `${ID} ${kind}`,
  kind,
  bypassed: false,
  values,
})

/** The session whose mix is what the file is to have; it is rendered and never kept. */
export function withFileChange(session: Session, change: FileChange | null): Session {
  if (!change) return session
  const { mix } = session
  const { gainDb, ceilingDbtp } = change
  const added = [
    ...(gainDb === 0 ? [] : [insert('gain', { gainDb })]),
    ...(ceilingDbtp === null ? [] : [insert('ceiling', { ceilingDbtp })]),
  ]
  return { ...session, mix: { ...mix, lastInserts: [...lastInsertsOf(mix), ...added] } }
}
