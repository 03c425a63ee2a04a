import fc from 'fast-check'
import { DelayLine } from './delay-line'
import { LEAST_SLACK, PLAYING_SLACK } from './processor'

/** Sample n of what is written. */
const sampleAt = (n: number) => Math.fround(Math.sin(n * 1.7))
const samples = (from: number, count: number) =>
  Float64Array.from({ length: count }, (_, i) => sampleAt(from + i))

/** What a line gives so many before the next sample. */
function lookedBack(line: DelayLine, back: number, count: number): number[] {
  const into = new Float64Array(count)
  line.copy(back, count, into)
  return [...into]
}

test('a line gives what was written, by samples and by blocks, after going back and widening', () => {
  const step = fc.oneof(
    fc.record({ kind: fc.constant('append' as const), count: fc.integer({ min: 1, max: 1024 }) }),
    fc.record({ kind: fc.constant('write' as const), count: fc.integer({ min: 1, max: 40 }) }),
    fc.record({ kind: fc.constant('back' as const), count: fc.integer({ min: 1, max: LEAST_SLACK }) }),
    fc.record({ kind: fc.constant('widen' as const), count: fc.integer({ min: 1, max: 3000 }) }),
  )
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 900 }), fc.array(step, { maxLength: 60 }), (window, steps) => {
      const line = new DelayLine(window, false)
      let [reach, most] = [window, 0]
      for (const { kind, count } of steps) {
        if (kind === 'append') line.append(samples(line.at, count), count)
        else if (kind === 'write') for (let i = 0; i < count; i++) line.write(sampleAt(line.at))
        else if (kind === 'widen') line.widen((reach = Math.max(reach, window + count)))
        else line.at = Math.max(0, most - LEAST_SLACK, line.at - count)
        most = kind === 'back' ? most : line.at
        // What a wider window looks back on is there as far as the old one had it.
        const back = Math.min(kind === 'widen' ? window : reach, line.at, window)
        const expected = [...samples(line.at - back, back)]
        expect(lookedBack(line, back, back)).toEqual(expected)
        if (back > 0) expect(line.read(back)).toBe(expected[0])
      }
    }),
    { numRuns: 60 },
  )
})

test.each([
  ['kept', false],
  ['handed over by another one', true],
])('what was %s comes back again and again, and the time before can still be gone back to', (_, last) => {
  const window = 3000
  const line = new DelayLine(window, false, PLAYING_SLACK)
  const other = new DelayLine(window, false)
  const append = (from: number, count: number) => line.append(samples(from, count), count)
  for (let n = 0; n < 7; n++) for (const one of [line, other]) one.append(samples(n * 1000, 1000), 1000)
  const kept = last ? other.snapshot(true) : line.snapshot()
  append(7000, 200)
  const places: { place: Float64Array; last: number }[] = []
  // Each turn goes on from sample 7000 for a while, and much further back than what is written lies what was before.
  for (let turn = 1; turn <= 60; turn++) {
    const place = new Float64Array(2)
    line.save(place, 0)
    places.push({ place, last: turn === 1 ? 7200 : 7000 + (turn - 1) * 7 })
    line.applySnapshot(kept)
    append(7000, turn * 7)
    const last = 7000 + turn * 7
    expect(lookedBack(line, window, window)).toEqual([...samples(last - window, window)])
    expect(line.read(window)).toBe(sampleAt(last - window))
  }
  // What is written anew may begin within what was put back.
  line.applySnapshot(kept)
  line.takeBack(500)
  append(6500, 100)
  expect(lookedBack(line, 900, 900)).toEqual([...samples(5700, 900)])
  for (const { place, last } of places.reverse()) {
    line.restore(place, 0)
    const back = Math.min(window, last)
    expect(lookedBack(line, back, back)).toEqual([...samples(last - back, back)])
  }
  append(7200, 50)
  expect(lookedBack(line, window, window)).toEqual([...samples(7250 - window, window)])
})

test('going over leads from what was written there before, or from silence, whatever it is written by', () => {
  for (const step of [1, 7, 64, 1000]) {
    const line = new DelayLine(2000, false)
    const append = (value: number, count: number) => {
      for (let done = 0; done < count; done += step) {
        const many = Math.min(step, count - done)
        if (many === 1) line.write(value)
        else line.append(new Float64Array(many).fill(value), many)
      }
    }
    append(1, 200)
    line.at = 100
    line.goOver(0)
    append(5, 400)
    const is = lookedBack(line, 400, 400)
    // 100 samples were written here before, all 1; a part k/256 of the way is gone.
    expect([is[0], is[64], is[99]]).toEqual([1, 2, Math.fround(1 + (4 * 99) / 256)])
    expect([is[128], is[255], is[256], is[399]]).toEqual([2.5, Math.fround((5 * 255) / 256), 5, 5])
    // Where the same is written again nothing changes, to the bit.
    line.at = 356
    line.goOver(0)
    append(5, 144)
    expect(lookedBack(line, 400, 400)).toEqual(is)
    // What rests before it has gone over begins as it is.
    line.at = 400
    line.goOver(0)
    append(2, 10)
    line.reset()
    append(3, 50)
    expect(lookedBack(line, 50, 50)).toEqual(Array<number>(50).fill(3))
  }
})
