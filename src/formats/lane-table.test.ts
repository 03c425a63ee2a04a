import fc from 'fast-check'
import { stretchShapes, type Knot } from '../core/model/session'
import { seededRandom } from '../core/units/random'
import { gainScale, panScale } from '../core/units/scale'
import { dbToHeight, heightToDb } from '../core/units/taper'
import { laneTable, readLaneTable } from './lane-table'

const RATE = 44_100
const read = (text: string) => readLaneTable(text, gainScale, RATE)

test('what is written is read again: every frame and shape, values to 0.01 dB, bends to 0.1 %; and written the same once more', () => {
  const knot = fc.record({
    frame: fc.integer({ min: 0, max: 2 ** 31 - 1 }),
    value: fc.double({ min: 0, max: 1, noNaN: true }),
    shape: fc.constantFrom(...stretchShapes),
    bend: fc.double({ min: -1, max: 1, noNaN: true }),
    part: fc.constantFrom(undefined, [0.25, 0.5] as [number, number]),
  })
  fc.assert(
    fc.property(
      fc.uniqueArray(knot, { selector: (k) => k.frame, minLength: 1, maxLength: 30 }),
      fc.constantFrom(8000, 44_100, 192_000),
      (list, rate) => {
        const knots = list
          .map(({ part, ...rest }): Knot => ({ ...rest, ...(part ? { part } : {}) }))
          .sort((a, b) => a.frame - b.frame)
        const text = laneTable(knots, gainScale, rate)
        const back = readLaneTable(text, gainScale, rate)
        if (!back.ok) throw new Error(back.message)
        back.knots.forEach(({ frame, shape, part, value, bend }, i) => {
          const before = knots[i]!
          expect([frame, shape, part]).toEqual([before.frame, before.shape, before.part])
          expect(Math.abs(bend - before.bend)).toBeLessThanOrEqual(0.0005 + 1e-12)
          if (before.value > 0)
            expect(Math.abs(heightToDb(value) - heightToDb(before.value))).toBeLessThanOrEqual(0.005 + 1e-9)
        })
        expect(laneTable(back.knots, gainScale, rate)).toBe(text)
      },
    ),
  )
})

test('numbers are written as a person would', () => {
  const at = (frame: number, db: number, bend = 0): Knot => ({
    frame,
    value: dbToHeight(db),
    shape: 'line',
    bend,
  })
  expect(laneTable([at(0, -9), at(24_000, 0, 1.8e-15), at(48_000, -3.456, 0.25)], gainScale, 48_000)).toBe(
    'time,value,shape,bend,from,to\r\n0,-9,line,,,\r\n0.5,0,line,,,\r\n1,-3.46,line,0.25,,\r\n',
  )
})

test('what has too many rows, or too long ones, is refused before it is parsed', () => {
  const took = (text: string) => {
    const begun = performance.now()
    const found = read(text)
    return { ms: performance.now() - begun, message: found.ok ? 'taken' : found.message }
  }
  const rows = took('time,value\n' + '1,0\n'.repeat(4_000_000))
  expect(rows.message).toBe('The table has more than 200000 rows.')
  const wide = took(','.repeat(15_000_000))
  expect(wide.message).toBe('Row 1 has more than 1000 characters.')
  for (const { ms } of [rows, wide]) expect(ms).toBeLessThan(2000)
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

test('a row that is too long is refused, whatever is in it', () => {
  expect(read(`time,value\n${'1'.repeat(30_000)}x,0\n`).ok).toBe(false)
  // Shorter runs of digits are read in proportion to their length: see the tests of typed values.
  expect(read(`time,value\n${'1'.repeat(900)}x,0\n`)).toMatchObject({ ok: false })
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
