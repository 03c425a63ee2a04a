import type { SessionWriter } from '../../engine/storage'
import type { SessionState } from '../session-slice'

/** The writers of sessions that are edited here, which the state names by their ids: it holds plain data alone. */
const writers = new Map<string, SessionWriter>()

/** Keeps a writer; returns its id. */
export function keepWriter(writer: SessionWriter): string {
  const id = crypto.randomUUID()
  writers.set(id, writer)
  return id
}

/** What writes the open session; null while it is not edited here. */
export const writerOf = ({ writerId }: Pick<SessionState, 'writerId'>): SessionWriter | null =>
  (writerId !== null && writers.get(writerId)) || null

/** Lets go of all writers but that of one id. */
export function forgetOtherWriters(kept: string | null): void {
  for (const id of writers.keys()) if (id !== kept) writers.delete(id)
}
