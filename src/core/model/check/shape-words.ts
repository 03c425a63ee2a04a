import type { z } from 'zod/mini'
import { shownText } from './shown'

type Issue = z.core.$ZodIssue

const KINDS: Record<string, string> = {
  number: 'a number',
  int: 'a whole number',
  string: 'text',
  boolean: 'true or false',
  array: 'a list',
  tuple: 'a list',
  record: 'an object',
  object: 'an object',
  null: 'null',
  nan: 'a number',
}

const kind = (expected: string) => KINDS[expected] ?? expected

const list = (values: readonly unknown[]) =>
  values.map((value) => (typeof value === 'string' ? `“${value}”` : String(value))).join(', ')

const units = (origin: string, count: number | bigint) =>
  origin === 'string'
    ? ` character${count === 1 ? '' : 's'}`
    : origin === 'array'
      ? ` item${count === 1 ? '' : 's'}`
      : ''

function limit(issue: Extract<Issue, { code: 'too_small' | 'too_big' }>): string {
  const small = issue.code === 'too_small'
  const bound = small ? issue.minimum : issue.maximum
  const counts = issue.origin === 'string' || issue.origin === 'array'
  const side =
    issue.inclusive === false ? (small ? 'more than' : 'less than') : small ? 'at least' : 'at most'
  return `must ${counts ? 'have' : 'be'} ${side} ${bound}${units(issue.origin, bound)}`
}

/** The values or kinds that the options of a union would take. */
function options(issue: Extract<Issue, { code: 'invalid_union' }>): string {
  if ('discriminator' in issue && issue.discriminator) return `has an unknown ${String(issue.discriminator)}`
  const first = issue.errors.flatMap((option) => option.slice(0, 1))
  const values = first.flatMap((i) => (i.code === 'invalid_value' ? i.values : []))
  if (values.length === first.length && values.length > 0) return `must be one of ${list(values)}`
  return `must be ${[...new Set(first.map((i) => (i.code === 'invalid_type' ? kind(i.expected) : issueWords(i))))].join(' or ')}`
}

/**
 * What is wrong with the shape of a value, in plain words without the checker's own terms: "must be a whole number",
 * "has the unknown key “x”".
 */
export function issueWords(issue: Issue): string {
  switch (issue.code) {
    case 'invalid_type':
      return issue.input === undefined && /received undefined/.test(issue.message)
        ? 'is missing'
        : `must be ${kind(issue.expected)}`
    case 'too_small':
    case 'too_big':
      return limit(issue)
    case 'invalid_value':
      return issue.values.length === 1
        ? `must be ${list(issue.values)}`
        : `must be one of ${list(issue.values)}`
    case 'unrecognized_keys': {
      const more = issue.keys.length - 1
      return `has the unknown key “${shownText(issue.keys[0]!, 40)}”${more > 0 ? ` and ${more} more` : ''}`
    }
    case 'invalid_union':
      return options(issue)
    case 'invalid_format':
      return 'is not written as it must be'
    case 'not_multiple_of':
      return `must be a multiple of ${issue.divisor}`
    case 'invalid_key':
    case 'invalid_element':
      return `has a key that cannot be an id: ${issue.issues[0] ? issueWords(issue.issues[0]) : ''}`
    default:
      return issue.message
  }
}
