import fc from 'fast-check'
import { stretchShapes, type Knot } from '../core/model/session'
import { seededRandom } from '../core/units/random'
import { gainScale, panScale } from '../core/units/scale'
import { dbToHeight } from '../core/units/taper'
import { laneTable, readLaneTable } from './lane-table'

const RATE = 44_100
const read = (text: string) => readLaneTable(text, gainScale, RATE)

test('what is written is read again: every frame, shape and piece, values to 1e-12', () => {
  const knot = fc.record({
    frame: fc.integer({ min: 0, max: 2 ** 31 - 1 }),
    value: fc.double({ min: 0, max: 1, noNaN: true }),
    shape: fc.constantFrom(...stretchShapes),
    bend: fc.double({ min: -1, max: 1, noNaN: true }).map((b) => Number(b.toPrecision(15))),
    part: fc.constantFrom(undefined, [0.25, 0.5] as [number, number]),
  })
  fc.assert(
    fc.property(fc.uniqueArray(knot, { selector: (k) => k.frame, minLength: 1, maxLength: 30 }), (list) => {
      const knots = list
        .map(({ part, ...rest }): Knot => ({ ...rest, bend: rest.bend + 0, ...(part ? { part } : {}) }))
        .sort((a, b) => a.frame - b.frame)
      const back = read(laneTable(knots, gainScale, RATE))
      if (!back.ok) throw new Error(back.message)
      expect(back.knots.map(({ value: _, ...rest }) => rest)).toEqual(
        knots.map(({ value: _, ...rest }) => rest),
      )
      back.knots.forEach(({ value }, i) => expect(Math.abs(value - knots[i]!.value)).toBeLessThan(1e-9))
    }),
  )
})

test.each([
  ['a plain table', 'time,value\n0,-6\n1.5,0\n', [0, 66_150], [-6, 0]],
  [
    'semicolons and decimal commas',
    'Time (s);Value (dB)\r\n0,5;-3,5\r\n1;-3,5\r\n',
    [22_050, 44_100],
    [-3.5, -3.5],
  ],
  ['tabs without names, in another order of time', '2\t-12\n1\t-6\n', [44_100, 88_200], [-6, -12]],
  ['minutes, units and a mark of its encoding', '\uFEFFvalue,time\n-6 dB,1:02.5\n', [2_756_250], [-6]],
])('%s', (_name, text, frames, dbs) => {
  const found = read(text)
  if (!found.ok) throw new Error(found.message)
  expect(found.knots.map(({ frame }) => frame)).toEqual(frames)
  found.knots.forEach(({ value }, i) => expect(value).toBeCloseTo(dbToHeight(dbs[i]!), 9))
  expect(found.knots.every(({ shape, bend }) => shape === 'line' && bend === 0)).toBe(true)
})

test('pans are read as numbers or as they are typed', () => {
  const found = readLaneTable('time,value\n0,L50\n1,R100\n2,0\n', panScale, RATE)
  expect(found.ok && found.knots.map(({ value }) => value)).toEqual([-0.5, 1, 0])
})

test.each([
  ['', 'The table is empty.'],
  ['time,value\n', 'The table has a line of names, and no rows.'],
  ['when,how loud\n0,1\n', 'The first line names no columns “time” and “value”.'],
  ['time,value\n0,-6\nsoon,-6\n', 'Row 3: “soon” is no time in seconds.'],
  ['time,value\n-1,-6\n', 'Row 2: “-1” is no time of a session.'],
  ['time,value\n0,99\n', 'Row 2: “99” is no value from −∞ dB to +12.0 dB.'],
  ['time,value,shape\n0,0,wobbly\n', 'Row 2: “wobbly” is no shape; there are line, s-curve, hold.'],
  ['time,value,shape,bend\n0,0,line,7\n', 'Row 2: a bend of “7” is not from -1 to 1.'],
  ['time,value\n1,0\n1,-1\n1,-2\n', 'Three rows are at 1.000 s; two make a step, more have no meaning.'],
  ['time,value\n"0,0\n', 'Row 1 has a quotation mark that does not end.'],
])('%j is refused in one sentence', (text, message) => {
  const found = read(text)
  expect(found.ok ? 'taken' : found.message.replace(/^Row \d+ has/, 'Row 1 has')).toBe(message)
})

test('a run of digits is read in proportion to its length, whatever ends it', () => {
  const took = (digits: number, end: string) => {
    const text = `time,value\n${'1'.repeat(digits)}${end},0\n`
    const begun = performance.now()
    for (let i = 0; i < 5; i++) read(text)
    return performance.now() - begun
  }
  took(30_000, '')
  // Four times as long takes four times as long; looked at from every digit anew it would be sixteen.
  const [short, long] = [1, 4].map((n) => Math.min(...[0, 1, 2].map(() => took(n * 30_000, 'x'))))
  expect(long! / Math.max(short!, 0.5)).toBeLessThan(9)
  expect(read(`time,value\n${'1'.repeat(30_000)}x,0\n`).ok).toBe(false)
})

test('of 200 tables that are damaged at random each is taken whole, or refused in one line', () => {
  const random = seededRandom(11)
  const good = laneTable(
    Array.from({ length: 20 }, (_, i): Knot => ({ frame: i * 1000, value: i / 20, shape: 'line', bend: 0 })),
    gainScale,
    RATE,
  )
  for (let n = 0; n < 200; n++) {
    const bytes = [...good]
    for (let k = 0; k < 1 + 8 * random(); k++) {
      const at = Math.floor(random() * bytes.length)
      if (random() < 0.5) bytes.splice(at, Math.floor(random() * 30))
      else bytes[at] = '",;\0\n\tx-9∞'[Math.floor(random() * 11)]!
    }
    const found = read(bytes.join(''))
    if (found.ok) for (const { value } of found.knots) expect(value >= 0 && value <= 1).toBe(true)
    else expect(found.message).toMatch(/^[^\n]{5,200}\.$/)
  }
})
