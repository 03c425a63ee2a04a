import type { Session } from '../../core/model/session'

/**
 * For `memo`: a component that shows only these parts of its session is drawn anew when one of them, or
 * another of its props, changes.
 */
export const onlyParts =
  <P extends { session: Session }>(...parts: (keyof Session)[]) =>
  (before: P, after: P): boolean =>
    parts.every((part) => before.session[part] === after.session[part]) &&
    (Object.keys(after) as (keyof P)[]).every((key) => key === 'session' || before[key] === after[key])
