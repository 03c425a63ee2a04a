import fc from 'fast-check'
import { testRegion, testSession } from './fixture.test-util'
import { openSession, SESSION_VERSION } from './check/open'
import { applyPatches, diff } from './patch'
import { checkSession } from './check/rules'
import type { Session } from './session'

const fade = { kind: 'gain' as const, length: 1000, curve: 'linear' as const, bend: 0, level: 0 }
const cross = {
  id: 'x',
  leftId: 'a',
  rightId: 'b',
  law: 'equal-power' as const,
  out: { curve: 'linear' as const, bend: 0 },
  in: { curve: 'linear' as const, bend: 0 },
}
const plain = testSession([testRegion('a'), testRegion('b', { start: 48000 })])

describe('the rules', () => {
  test('a good session keeps them', () => expect(checkSession(plain)).toEqual([]))
  test('an overlap with its crossfade keeps them', () => {
    expect(
      checkSession(
        testSession([testRegion('a'), testRegion('b', { start: 40000 })], {}, { crossfades: { x: cross } }),
      ),
    ).toEqual([])
  })
  const broken: [string, string, unknown][] = [
    [
      'an overlap without crossfade',
      'overlaps',
      testSession([testRegion('a'), testRegion('b', { start: 40000 })]),
    ],
    ['a crossfade without overlap', 'overlaps', { ...plain, crossfades: { x: cross } }],
    [
      'a third region in the overlap',
      'overlaps',
      testSession(
        [testRegion('a'), testRegion('b', { start: 40000 }), testRegion('c', { start: 47000 })],
        {},
        { crossfades: { x: cross, y: { ...cross, id: 'y', leftId: 'b', rightId: 'c' } } },
      ),
    ],
    ['a region beyond its source', 'sources', testSession([testRegion('a', { offset: 479000 })])],
    [
      'a source of another rate',
      'sources',
      { ...plain, sources: { s: { ...plain.sources.s!, sampleRate: 44100 } } },
    ],
    [
      'fades longer than the region',
      'fades',
      testSession([testRegion('a', { length: 1500, fadeIn: fade, fadeOut: fade })]),
    ],
    [
      'a fade under a crossfade',
      'fades',
      testSession(
        [testRegion('a', { fadeOut: fade }), testRegion('b', { start: 40000 })],
        {},
        { crossfades: { x: cross } },
      ),
    ],
    [
      'knots out of order',
      'knots',
      testSession(
        [testRegion('a', { gainThreadId: 'g' })],
        {},
        {
          gainThreads: {
            g: {
              id: 'g',
              knots: [
                { frame: 9, value: 0.5, shape: 'line', bend: 0 },
                { frame: 3, value: 0.5, shape: 'line', bend: 0 },
              ],
            },
          },
        },
      ),
    ],
    [
      'a knot out of range',
      'knots',
      testSession(
        [testRegion('a', { gainThreadId: 'g' })],
        {},
        { gainThreads: { g: { id: 'g', knots: [{ frame: 9, value: 1.5, shape: 'line', bend: 0 }] } } },
      ),
    ],
    ['a missing source', 'ids', testSession([testRegion('a', { sourceId: 'nowhere' })])],
    ['a track missing from the order', 'ids', { ...plain, trackIds: [] }],
    ['a gain that is not finite', 'shape', testSession([testRegion('a', { clipGainDb: NaN })])],
    ['a gain out of range', 'shape', testSession([testRegion('a', { clipGainDb: 40 })])],
    ['an unknown field', 'shape', { ...plain, extra: 1 }],
  ]
  test.each(broken)('%s is found', (_name, rule, session) => {
    const breaches = checkSession(session)
    expect(breaches.map((b) => b.rule)).toContain(rule)
    expect(breaches.every((b) => b.entity !== '' && b.message !== '')).toBe(true)
  })
})

test.each([
  [{ hello: 1 }, /not an Oaken Thread session/],
  [{ ...plain, version: SESSION_VERSION + 1 }, /newer version/],
  [{ ...plain, version: 'one' }, /version is one/],
  [testSession([testRegion('a', { sourceId: 'nowhere' })]), /ids: regions\.a\.sourceId = nowhere/],
])('a session that cannot be opened says why', (input, words) =>
  expect(() => openSession(input)).toThrow(words),
)

describe('patches', () => {
  const value: fc.Arbitrary<unknown> = fc.letrec<{ tree: unknown }>((tie) => ({
    tree: fc.oneof(
      { maxDepth: 3 },
      fc.integer(),
      fc.string(),
      fc.constant(null),
      fc.array(fc.integer(), { maxLength: 3 }),
      fc.dictionary(fc.constantFrom('a', 'b', 'c', 'd'), tie('tree'), { maxKeys: 4, noNullPrototype: true }),
    ),
  })).tree
  test('lead from one value to the other and back', () => {
    fc.assert(
      fc.property(value, value, (a, b) => {
        const { forward, inverse } = diff(a, b)
        expect(applyPatches(a, forward)).toEqual(b)
        expect(applyPatches(b, inverse)).toEqual(a)
      }),
    )
  })
  test('hold only what changed, and leave the rest the same objects', () => {
    const after: Session = {
      ...plain,
      regions: { ...plain.regions, a: { ...plain.regions.a!, clipGainDb: -6 } },
    }
    const { forward } = diff(plain, after)
    expect(forward).toEqual([{ path: ['regions', 'a', 'clipGainDb'], value: -6 }])
    const applied = applyPatches(plain, forward)
    expect(applied.regions.b).toBe(plain.regions.b)
    expect(applied.tracks).toBe(plain.tracks)
    expect(plain.regions.a!.clipGainDb).toBe(0)
  })
  test('of a list hold what changed in its middle', () => {
    const [a, b, c, d] = [{ n: 1 }, { n: 2 }, { n: 3 }, { n: 4 }]
    const { forward, inverse } = diff({ list: [a, b, c] }, { list: [a, d, b, c] })
    expect(forward).toEqual([{ path: ['list'], items: { at: 1, remove: 0, insert: [d] } }])
    expect(inverse).toEqual([{ path: ['list'], items: { at: 1, remove: 1, insert: [] } }])
    expect(diff({ list: [a, b, c] }, { list: [a, d, c] }).forward[0]!.items).toEqual({
      at: 1,
      remove: 1,
      insert: [d],
    })
    expect(diff({ list: [a, a] }, { list: [a] }).forward[0]!.items).toEqual({ at: 1, remove: 1, insert: [] })
    expect(diff({ list: [a] }, { list: [b] }).forward[0]).toEqual({ path: ['list'], value: [b] })
    expect(() => applyPatches({ list: [a] }, forward)).not.toThrow()
    expect(() =>
      applyPatches({ list: [a] }, [{ path: ['list'], items: { at: 1, remove: 1, insert: [] } }]),
    ).toThrow(/2 items, of which there are 1/)
  })
  test('a path that leads nowhere throws', () =>
    expect(() => applyPatches({ a: 1 }, [{ path: ['a', 'b'], value: 2 }])).toThrow(RangeError))
})
