import {
  parseDepth,
  parseLength,
  parseLevel,
  parseMeasured,
  parsePan,
  showDb,
  showLength,
  showMeasured,
  showPan,
  showTime,
} from './typed'

const gain = { min: -72, max: 36 }

describe('a typed level', () => {
  test.each([
    ['-6', -6],
    ['−6', -6],
    ['-6 dB', -6],
    ['-6dB', -6],
    ['+3', 3],
    [' 0 ', 0],
    ['-4.25', -4.25],
    ['-4,5 db', -4.5],
    ['50%', -6.02],
    ['100 %', 0],
    ['x0.5', -6.02],
    ['x 2', 6.02],
    ['2x', 6.02],
  ])('%p is %p dB', (text, db) => expect(parseLevel(text, gain)).toEqual({ ok: true, value: db }))
  test.each(['', 'loud', '-6 bananas', '--6', '1e3', 'NaN', '0%', '40', '-73 dB'])(
    '%p is refused with the range',
    (text) => {
      const typed = parseLevel(text, gain)
      expect(typed.ok).toBe(false)
      expect(!typed.ok && typed.message).toMatch(/−72\.0 dB to \+36\.0 dB/)
    },
  )
  test('silence only where it is allowed', () => {
    expect(parseLevel('-inf', { ...gain, silence: true })).toEqual({ ok: true, value: null })
    expect(parseLevel('0%', { ...gain, silence: true })).toEqual({ ok: true, value: null })
    expect(parseLevel('-inf', gain).ok).toBe(false)
  })
})

describe('a level that was measured', () => {
  const loudness = { min: -60, max: 0, unit: 'LUFS' } as const
  test.each([
    ['-23', -23],
    ['−23 LUFS', -23],
    ['-23lufs', -23],
    ['-16.5 dB', -16.5],
    ['0', 0],
    ['-0', 0],
    ['-60', -60],
  ])('%p is %p LUFS', (text, level) =>
    expect(parseMeasured(text, loudness)).toEqual({ ok: true, value: level }),
  )
  test.each(['', 'loud', '50%', '-60.01', '0.01', '-61', '1', '-23 dBTP'])(
    '%p is refused with the range in LUFS',
    (text) =>
      expect(parseMeasured(text, loudness)).toMatchObject({
        ok: false,
        message: expect.stringContaining('−60.0 LUFS to 0.0 LUFS'),
      }),
  )
  test('is shown in its unit', () =>
    expect([showMeasured(-23, 'LUFS'), showMeasured(-1.25, 'dBTP')]).toEqual(['−23.0 LUFS', '−1.25 dBTP']))
})

test.each([
  ['-12', 12],
  ['12', 12],
  ['12 dB', 12],
  ['50%', 6.02],
  ['0', 0],
])('a depth of %p is %p dB down', (text, db) => expect(parseDepth(text, 60)).toEqual({ ok: true, value: db }))
test.each(['deep', '-61', '61'])('a depth of %p is refused', (text) =>
  expect(parseDepth(text, 60)).toMatchObject({
    ok: false,
    message: expect.stringContaining('from 0.0 dB to −60.0 dB'),
  }),
)

test.each([
  ['L30', -0.3],
  ['30L', -0.3],
  ['c', 0],
  ['R100', 1],
  ['-50', -0.5],
  ['right 25 %', 0.25],
])('pan %p is %p', (text, pan) => expect(parsePan(text)).toEqual({ ok: true, value: pan }))
test.each(['L101', 'X5', '', 'L'])('pan %p is refused', (text) =>
  expect(parsePan(text)).toMatchObject({ ok: false, message: expect.stringContaining('L100') }),
)

describe('a typed length at 48 kHz and 96 bpm', () => {
  const parse = (text: string) => parseLength(text, { sampleRate: 48000, bpm: 96 }, { min: 0, max: 480000 })
  test.each([
    ['120', 5760],
    ['120 ms', 5760],
    ['1.5s', 72000],
    ['2 beats', 60000],
    ['1 beat', 30000],
    ['1/16', 7500],
    ['0:01.5', 72000],
    ['100 frames', 100],
  ])('%p is %p frames', (text, frames) => expect(parse(text)).toEqual({ ok: true, value: frames }))
  test.each(['', 'long', '11 s', '1/0', '-5 ms'])('%p is refused with the range', (text) =>
    expect(parse(text)).toMatchObject({ ok: false, message: expect.stringContaining('0 ms to 10 s') }),
  )
})

test('values as shown', () => {
  expect([showDb(-4.2), showDb(0), showDb(-0.001), showDb(3), showDb(-6.25), showDb(null)]).toEqual([
    '−4.2 dB',
    '0.0 dB',
    '0.0 dB',
    '+3.0 dB',
    '−6.25 dB',
    '−∞ dB',
  ])
  expect([showPan(-0.3), showPan(0), showPan(1)]).toEqual(['L30', 'C', 'R100'])
  expect([showTime(72000, 48000), showTime(48000 * 61, 48000, 0), showTime(2879990, 48000)]).toEqual([
    '0:01.500',
    '1:01',
    '1:00.000',
  ])
  expect([showLength(5760, 48000), showLength(72000, 48000), showLength(48, 48000)]).toEqual([
    '120 ms',
    '1.5 s',
    '1 ms',
  ])
})

test('a long run of digits is refused in proportion to its length', () => {
  const took = (digits: number) => {
    const text = `${'1'.repeat(digits)}x`
    const begun = performance.now()
    for (let i = 0; i < 5; i++) expect(parseLevel(text, gain).ok).toBe(false)
    return performance.now() - begun
  }
  took(30_000)
  // Both in turn, and the quickest of each: other work on the machine comes and goes. In proportion to the square it would be 16.
  const rounds = Array.from({ length: 9 }, () => [took(30_000), took(120_000)] as const)
  const [short, long] = [0, 1].map((n) => Math.min(...rounds.map((round) => round[n]!)))
  expect(long! / Math.max(short!, 0.5)).toBeLessThan(9)
})
