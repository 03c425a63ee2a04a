import { shortened, shownText } from './shown'

/** One broken rule: which rule, on which entity, with which value. */
export interface Breach {
  rule:
    | 'shape'
    | 'limits'
    | 'ids'
    | 'sources'
    | 'overlaps'
    | 'fades'
    | 'knots'
    | 'weaves'
    | 'values'
    | 'ways'
    | 'inserts'
  entity: string
  value: string
  message: string
}

/** The most breaches that are listed; a file can hold millions of them. */
export const MOST_BREACHES = 20

/** A breach as it is shown: texts from the file are shortened and their control characters made visible. */
export const breach = (rule: Breach['rule'], entity: string, value: unknown, message: string): Breach => ({
  rule,
  entity: shownText(entity, 110),
  value: shownText(String(value)),
  message: shortened(message, 110),
})

/** One line for a breach, under 300 characters: entity, value and what is wrong with it. */
export const breachLine = (b: Breach) => `${b.rule}: ${b.entity} = ${b.value}: ${b.message}`

/** The first breaches of a series, at most `MOST_BREACHES`; the rest is not even looked for. */
export function firstBreaches(breaches: Iterable<Breach>): Breach[] {
  const first: Breach[] = []
  for (const b of breaches) {
    first.push(b)
    if (first.length === MOST_BREACHES) break
  }
  return first
}
