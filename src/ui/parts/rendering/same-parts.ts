import type { Session } from '../../../core/model/session'

/**
 * For `memo`: a component that depends only on these parts of its session re-renders when one of them, or
 * another of its props, changes.
 */
export const sameParts =
  <P extends { session: Session }>(...parts: (keyof Session)[]) =>
  (before: P, after: P): boolean =>
    parts.every((part) => before.session[part] === after.session[part]) &&
    (Object.keys(after) as (keyof P)[]).every((key) => key === 'session' || before[key] === after[key])
