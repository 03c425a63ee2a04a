import { testRegion, testSession } from '../fixture.test-util'
import { openSession } from './open'
import { breachLine, brokenRules, checkSession, limitBreaches, MOST_BREACHES } from './rules'
import { LIMITS, type Knot, type Session } from '../session'
import { shownText } from './shown'

const knot = (frame: number, value = 0.5): Knot => ({ frame, value, shape: 'line', bend: 0 })
const plain = testSession(
  [testRegion('a', { gainThreadId: 'g' })],
  {},
  { gainThreads: { g: { id: 'g', knots: [knot(0)] } } },
)

/** The session as a file gives it, changed by hand. */
function fileOf(change: (json: Session) => void): unknown {
  const json = JSON.parse(JSON.stringify(plain)) as Session
  change(json)
  return json
}

const lines = (input: unknown) => checkSession(input).map(breachLine)

describe('a name that every object has is no entity', () => {
  const names = Object.getOwnPropertyNames(Object.prototype)
  test.each(names)('%s', (name) => {
    const uses: ((json: Session) => void)[] = [
      (json) => void (json.regions.a!.trackId = name),
      (json) => void (json.regions.a!.sourceId = name),
      (json) => void (json.regions.a!.gainThreadId = name),
      (json) => void json.trackIds.push(name),
      (json) =>
        void (json.crossfades.x = {
          id: 'x',
          leftId: name,
          rightId: 'a',
          law: 'level',
          out: { curve: 'linear', bend: 0 },
          in: { curve: 'linear', bend: 0 },
        }),
    ]
    for (const use of uses) {
      expect(lines(fileOf(use)).length).toBeGreaterThan(0)
      expect(() => openSession(fileOf(use))).toThrow(/breaks/)
    }
    // The rules say it by themselves too, for sessions that no file brought.
    expect(brokenRules({ ...plain, trackIds: [...plain.trackIds, name] })).not.toEqual([])
    // Nor can an entity be filed under such a name, __proto__ included.
    const json = JSON.stringify(plain).replaceAll('"t"', JSON.stringify(name))
    expect(lines(JSON.parse(json)).join()).toMatch(/is a name that cannot be an id/)
  })
})

describe('what gives way', () => {
  const lane = (more: object) =>
    fileOf((json) => {
      json.tracks.t!.lanes.volume = {
        knots: [],
        bypassed: false,
        visible: true,
        giveWay: {
          others: ['t'],
          depthDb: 6,
          attackMs: 1,
          holdMs: 1,
          releaseMs: 1,
          lookAheadMs: 1,
          gapMs: 1,
          thresholdLufs: -40,
          base: [],
          ...more,
        },
      }
    })
  test('keeps the rules', () => expect(lines(lane({}))).toEqual([]))
  test('must name tracks that are there', () =>
    expect(lines(lane({ others: ['t', 'nobody'] }))).toEqual([
      'ids: tracks.t.lanes.volume.giveWay.others = nobody: is not a track',
    ]))
  test('must keep a lane that was in order', () => {
    expect(lines(lane({ base: [knot(5), knot(1)] }))).toHaveLength(1)
    expect(lines(lane({ base: [knot(5, 1.5)] }))).toHaveLength(1)
    expect(lines(lane({ base: [{ frame: 1 }] })).length).toBeGreaterThan(0)
  })
})

describe('limits', () => {
  const knots = (count: number): Session => ({
    ...plain,
    gainThreads: { g: { id: 'g', knots: Array.from({ length: count }, (_, i) => knot(i)) } },
  })
  const regions = (count: number): Session => ({
    ...plain,
    regions: Object.fromEntries(Array.from({ length: count }, (_, i) => [`r${i}`, testRegion(`r${i}`)])),
  })
  test('as many as are allowed keep the rules, one more does not', () => {
    expect([...limitBreaches(knots(LIMITS.knots)), ...limitBreaches(regions(LIMITS.regions))]).toEqual([])
    expect(lines(knots(LIMITS.knots + 1))).toEqual([
      `limits: knots = ${LIMITS.knots + 1}: must have at most ${LIMITS.knots} entries`,
    ])
    expect(lines(regions(LIMITS.regions + 1))).toEqual([
      `limits: regions = ${LIMITS.regions + 1}: must have at most ${LIMITS.regions} entries`,
    ])
  })
  test('a region cannot end after the last frame of a session', () =>
    expect(lines(fileOf((json) => void (json.regions.a!.start = LIMITS.frames - 10)))[0]).toMatch(
      /^limits: regions.a/,
    ))
})

describe('what is said of faults', () => {
  test('three million wrong knots are twenty lines, quickly', () => {
    const begun = performance.now()
    const json = fileOf(
      (j) =>
        void (j.gainThreads.g!.knots = Array.from({ length: LIMITS.knots }, () => ({ wrong: 1 })) as never),
    )
    expect(lines(json)).toHaveLength(MOST_BREACHES)
    expect(lines({ ...plain, gainThreads: { g: { id: 'g', knots: Array(3e6).fill({}) } } })).toHaveLength(1)
    expect(performance.now() - begun).toBeLessThan(10_000)
  })
  test('a long or an unprintable key or value stays short and printable', () => {
    const evil = `\u001b[31m${'x'.repeat(5e6)}\n\u202e`
    const all = [
      ...lines({ ...plain, [evil]: 1 }),
      ...lines(fileOf((json) => void ((json.regions as never as Record<string, unknown>)[evil] = 1))),
      ...lines(fileOf((json) => void (json.regions.a!.name = evil))),
      ...lines(fileOf((json) => void (json.regions.a!.reversed = evil as never))),
      ...lines(fileOf((json) => void (json.trackIds = [evil.slice(0, 90)]))),
    ]
    expect(all.length).toBeGreaterThanOrEqual(5)
    for (const line of all) {
      expect(line.length).toBeLessThan(300)
      // eslint-disable-next-line no-control-regex
      expect(line).not.toMatch(/[\u0000-\u001f\u007f-\u009f\u202e]/)
    }
    expect(all.join()).toContain('\\x1b[31m')
  })
  test('never in the words of the library that checks', () => {
    const wrong: [(json: Session) => void, string][] = [
      [(j) => void delete (j as Partial<Session>).tempo, 'shape: tempo = nothing: is missing'],
      [(j) => void (j.tracks = [] as never), 'shape: tracks = a list of 0: must be an object'],
      [(j) => void (j.regions.a!.start = 1.5), 'shape: regions.a.start = 1.5: must be a whole number'],
      [(j) => void (j.regions.a!.clipGainDb = 99), 'shape: regions.a.clipGainDb = 99: must be at most 36'],
      [
        (j) => void (j.regions.a!.polarity = 2 as never),
        'shape: regions.a.polarity = 2: must be one of 1, -1',
      ],
      [
        (j) => void (j.regions.a!.gainThreadId = 3 as never),
        'shape: regions.a.gainThreadId = 3: must be text',
      ],
      [(j) => void (j.sources.s!.sha256 = 'x'), 'shape: sources.s.sha256 = x: is not written as it must be'],
      [
        (j) => void (j.panLaw = '-5' as never),
        'shape: panLaw = -5: must be one of “equal-power”, “-4.5”, “-6”',
      ],
      [
        (j) => void (j.regions.a!.fadeIn = { kind: 'x' } as never),
        'shape: regions.a.fadeIn.kind = x: has an unknown kind',
      ],
      [
        (j) => void ((j.mix as never as Record<string, unknown>).x = 1),
        'shape: mix = an object: has the unknown key “x”',
      ],
      [
        (j) => void (j.tracks.t!.lanes.volume = 5 as never),
        'shape: tracks.t.lanes.volume = 5: must be an object',
      ],
      [
        (j) => void (j.gainThreads.g!.knots[0]!.value = null as never),
        'shape: gainThreads.g.knots.0.value = null: must be a number',
      ],
    ]
    for (const [change, line] of wrong) expect(lines(fileOf(change))[0]).toBe(line)
    for (const input of [null, 5, 'x', [], {}])
      expect(lines(input).join()).not.toMatch(/expected|received|invalid|undefined/i)
  })
  test('a text is never cut inside a character', () => expect(shownText('ab😀😀', 4)).toBe('ab…'))
})
