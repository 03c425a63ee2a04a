import fc from 'fast-check'
import { testRegion, testSession } from '../core/model/fixture.test-util'
import { LIMITS, type Knot } from '../core/model/session'
import { boundedJson, JsonLook } from './json-look'

const bytesOf = (value: unknown) => new TextEncoder().encode(JSON.stringify(value))
/** What is said of bytes that come in pieces; null where nothing is. */
function said(bytes: Uint8Array, piece = bytes.length): string | null {
  const look = new JsonLook()
  try {
    for (let at = 0; at < bytes.length; at += piece) look.push(bytes.subarray(at, at + piece))
    return null
  } catch (error) {
    return (error as Error).message
  }
}
const knots = (count: number): Knot[] =>
  Array.from({ length: count }, (_, i) => ({ frame: i, value: 0.5, shape: 'line', bend: 0 }))
const session = (count: number, more: object = {}) => ({
  ...testSession(
    [testRegion('a', { gainThreadId: 'g' })],
    {},
    { gainThreads: { g: { id: 'g', knots: knots(count) } } },
  ),
  ...more,
})

test('any JSON is looked through the same, however it is cut; what is small passes', () => {
  fc.assert(
    fc.property(fc.jsonValue({ maxDepth: 6 }), fc.integer({ min: 1, max: 9 }), (value, piece) => {
      expect(said(bytesOf(value), piece)).toBeNull()
    }),
  )
  // Names of lists that may be long are known, even where they are cut.
  const bytes = bytesOf(session(12_000))
  for (const piece of [1, 2, 3, 5, 7, 64, 4096]) expect(said(bytes, piece)).toBeNull()
})

test.each([
  ['a list', { ...session(1), markers: Array(10_001).fill({}) }, '10000 entries in “markers”'],
  [
    'an object',
    { ...session(1), mix: Object.fromEntries(knots(10_001).map((k) => [`k${k.frame}`, 1])) },
    '10000 entries in “mix”',
  ],
  [
    'tracks',
    { ...session(1), tracks: Object.fromEntries(knots(1001).map((k) => [`k${k.frame}`, {}])) },
    '1000 entries in “tracks”',
  ],
  ['a text', { ...session(1), title: 'é'.repeat(30_000) }, 'a text of more than 10000 characters'],
  ['what lies deep', JSON.parse(`${'['.repeat(41)}${']'.repeat(41)}`), '40 objects inside each other'],
])('too much in %s is said, wherever it is cut', (_what, value, words) => {
  for (const piece of [1, 13, 1 << 20]) expect(said(bytesOf(value), piece)).toContain(words)
})

test('quotation marks, brackets and commas inside of texts are none', () => {
  const strange = { ...session(2), title: '"[{,'.repeat(2000), id: '\\"\\\\"\\' }
  for (const piece of [1, 2, 100]) expect(said(bytesOf(strange), piece)).toBeNull()
})

test('knots count wherever they are, up to as many as a session may have', () => {
  const half = JSON.stringify(knots(LIMITS.knots / 2))
  const both = (more: string) =>
    new TextEncoder().encode(
      `{"gainThreads":{"g":{"knots":${half}}},"tracks":{"t":{"chainB":{"lanes":{"x":{"knots":${half}}}}}}${more}}`,
    )
  expect(said(both(''), 1 << 22)).toBeNull()
  expect(said(both(',"mix":{"lanes":{"volume":{"giveWay":{"base":[{}]}}}}'), 1 << 22)).toContain(
    '1000000 knots',
  )
})

test('a session larger than can be read is refused before it is read', async () => {
  const read = jest.fn()
  await expect(boundedJson(256 * 1024 ** 2 + 1, read)).rejects.toThrow('at most 268435456 are taken')
  expect(read).not.toHaveBeenCalled()
})
