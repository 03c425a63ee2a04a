import type { Session } from '../../model/session'
import { defineEdit } from './edit'

/** Brings the session to a state of it that was kept, as a step that can be undone. It stays the same session. */
export const goBackTo = defineEdit<{ session: Session; name: string }>({
  name: 'goBackTo',
  label: (_session, { name }) => `Go back to “${name}”`,
  apply: (now, { session }) => ({ ...session, id: now.id }),
})
