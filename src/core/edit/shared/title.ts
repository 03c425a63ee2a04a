import { defineEdit } from './edit'

/** Gives the session another title. */
export const setTitle = defineEdit<{ title: string }>({
  name: 'setTitle',
  label: (_session, { title }) => `Rename to “${title}”`,
  apply: (session, { title }) => (session.title === title ? session : { ...session, title }),
})
