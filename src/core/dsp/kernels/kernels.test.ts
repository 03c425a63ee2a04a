import { execFileSync } from 'node:child_process'
import path from 'node:path'
import fc from 'fast-check'
import type { GainComputer, Moving } from './dynamics'
import { SECTION_NUMBERS, SECTION_STEPS } from './filter'
import { ROUGHLY } from './points'
import { plainProcessing, wasmProcessing } from './processing'
import { PROCESSING_WASM } from './processing-wasm'
import { STRIP_WASM } from './strip-wasm'

const root = path.join(__dirname, '../../../..')

test.each([
  ['strip', STRIP_WASM],
  ['processing', PROCESSING_WASM],
])(
  'what is shipped of the kernel “%s” is what its source compiles to (npm run kernels writes it)',
  (name, shipped) => {
    const said = execFileSync(
      process.execPath,
      [
        '-e',
        `import('./scripts/kernels.mjs').then((k) => process.stdout.write(k.compiledKernel('${name}')))`,
      ],
      { cwd: root, encoding: 'utf8' },
    )
    expect(said).toBe(shipped)
  },
)

/** The first place at which two arrays differ in a bit; -1 where they are the same. */
const firstDifference = (a: Float64Array, b: Float64Array) => {
  const [x, y] = [a, b].map((v) => new BigUint64Array(v.slice().buffer))
  return x!.findIndex((word, i) => word !== y![i])
}

const [plain, wasm] = [plainProcessing(), wasmProcessing()!]
const finite = (min: number, max: number) => fc.double({ min, max, noNaN: true })

test('filters by WebAssembly give the bits of the plain ones, whatever the sections, places and steps', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 9 }),
      fc.integer({ min: 0, max: 300 }),
      fc.integer({ min: 1, max: 700 }),
      fc.boolean(),
      fc.boolean(),
      fc.array(finite(-0.9, 0.9), { minLength: SECTION_NUMBERS, maxLength: SECTION_NUMBERS }),
      fc.constantFrom(1, 1e-33),
      (count, from, length, moves, flush, numbers, scale) => {
        for (const kernel of [plain, wasm]) {
          for (let n = 0; n < count; n++)
            numbers.forEach((x, k) => {
              const step = k >= SECTION_STEPS && k < 2 * SECTION_STEPS
              kernel.filters.sections[n * SECTION_NUMBERS + k] =
                x * (step ? 1e-4 : k >= 2 * SECTION_STEPS ? scale : 0.5)
            })
          kernel.sound.forEach((side, c) => {
            for (let i = 0; i < side.length; i++) side[i] = scale * Math.sin(i * i * (c + 1))
          })
          if (moves) kernel.filters.runMoving(count, from, from + length, flush)
          else kernel.filters.run(count, from, from + length)
        }
        const places = [
          ...[0, 1].map((c) => firstDifference(plain.sound[c]!, wasm.sound[c]!)),
          firstDifference(plain.filters.sections, wasm.filters.sections),
        ]
        if (places.some((place) => place >= 0)) throw new Error(`first difference at ${places.join(', ')}`)
      },
    ),
    { numRuns: 200 },
  )
})

const moving = (min: number, max: number): fc.Arbitrary<Moving> =>
  fc.record({ value: finite(min, max), step: finite(-1e-4, 1e-4) })
/** A part of the way, which stays over 0. */
const rate = (min: number, max: number): fc.Arbitrary<Moving> =>
  fc.record({ value: finite(min, max), step: finite(-5e-8, 5e-8) })
const computer: fc.Arbitrary<GainComputer> = fc
  .record({
    threshold: moving(-80, 0),
    slope: moving(0, 0.99),
    half: moving(0.01, 18),
    most: moving(0, 80),
  })
  .map((of) => ({ ...of, inverse: { value: 1 / (4 * of.half.value), step: 0 } }))

test('levels, reductions and gains by WebAssembly have the bits of the plain ones', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 1024 }),
      fc.integer({ min: 1, max: 600 }),
      fc.constantFrom('maximum', 'mean'),
      computer,
      rate(0.001, 0.9),
      rate(0.0001, 0.1),
      finite(-12, 36),
      (count, width, kind, by, attack, release, makeup) => {
        const results = [plain, wasm].map(({ dynamics: kernel, sound }) => {
          sound.forEach((side, c) => {
            for (let i = 0; i < side.length; i++) side[i] = Math.sin(i * i * (c + 2))
          })
          for (let i = 0; i < kernel.heard.length; i++)
            kernel.heard[i] = i % 700 < 300 ? 0 : Math.abs(Math.sin(i * i * 0.001)) * 10 ** ((i % 100) / -12)
          kernel.levels.fill(0)
          if (kind === 'mean') kernel.windowMean(width, count)
          else kernel.windowMaximum(width, count)
          const levels = kernel.levels.slice(0, count)
          kernel.askReductions(0, count, 6.02, by)
          const asked = kernel.levels.slice(0, count)
          const last = kernel.follow(0, count, 3, attack, release)
          kernel.toGains(0, count, makeup)
          const gains = kernel.levels.slice(0, count)
          // The three in one, where nothing moves.
          const even = count & ~1
          kernel.levels.set(levels)
          const stillLast = kernel.toStillGains(even, 6.02, by, 3, attack, release, makeup)
          const stillGains = kernel.levels.slice(0, even)
          kernel.levels.set(gains)
          kernel.apply(2, count)
          const changed = sound.map((side) => side.slice(0, count))
          kernel.hearPeaks(2, count)
          const peaks = kernel.levels.slice(0, count)
          kernel.hearSquares(1, count)
          return [
            levels,
            asked,
            gains,
            stillGains,
            Float64Array.of(last, stillLast),
            ...changed,
            peaks,
            kernel.levels.slice(0, count),
          ]
        })
        const places = results[0]!.map((part, k) => firstDifference(part, results[1]![k]!))
        if (places.some((place) => place >= 0)) throw new Error(`first difference at ${places.join(', ')}`)
      },
    ),
    { numRuns: 200 },
  )
})

test('sources placed by WebAssembly have the bits of the plain way, and what is no number is found anywhere', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 300 }),
      fc.integer({ min: 1, max: 700 }),
      fc.constantFrom<1 | 2>(1, 2),
      finite(-4, 4),
      fc.option(
        fc.record({
          start: fc.integer({ min: 0, max: 1_000_000 }),
          c0: finite(-1, 1),
          c1: finite(-1e-4, 1e-4),
          c2: fc.constantFrom(0, 1e-9),
          c3: fc.constantFrom(0, 1e-15),
        }),
      ),
      fc.option(fc.integer({ min: 0, max: 699 })),
      (at, count, channels, gain, thread, fault) => {
        for (const { loops, sound } of [plain, wasm]) {
          for (const c of [0, 1] as const)
            for (let i = 0; i < 1024; i++) {
              loops.source[c][i] = Math.sin(i * i * (c + 1)) * (i % 5 ? 1 : 0)
              sound[c][i] = i
            }
          loops.placeSource(at, count, channels, gain, thread)
          if (fault !== null && fault < count) sound[channels - 1]![at + fault] = NaN
          const there = fault !== null && fault < count
          if (loops.isFinite(channels, at, at + count) === there)
            throw new Error('a fault is overlooked or made up')
        }
        for (const c of [0, 1])
          for (let i = at; i < at + count; i++)
            if (!Object.is(plain.sound[c]![i], wasm.sound[c]![i]))
              throw new Error(`side ${c} differs at ${i}`)
      },
    ),
    { numRuns: 200 },
  )
})

test('points between samples by WebAssembly are the plain ones to the bit, written or only the largest of them', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 500 }),
      fc.integer({ min: 1, max: 500 }),
      fc.integer({ min: 0, max: 6 }),
      fc.integer({ min: 0, max: 6 }),
      fc.integer({ min: 1, max: 1000 }),
      (from, count, a, b, seed) => {
        const [first, last] = [Math.min(a, b), Math.max(a, b)]
        const most: number[] = []
        const loudest: number[] = []
        for (const { points } of [plain, wasm]) {
          const table = points.keep(TEST_TAPS)
          for (let i = 0; i < points.window.length; i++) points.window[i] = Math.sin(i * i * seed)
          points.fill(table, from, from + count, first, last)
          most.push(points.largest(table, from, from + 8 * Math.ceil(count / 8), first, last))
          loudest.push(points.loudest(from, from + count))
        }
        for (let p = first; p <= last; p++) {
          const [x, y] = [plain, wasm].map(({ points }) => points.sizes[p]!.slice(from, from + count))
          expect(firstDifference(x!, y!)).toBe(-1)
        }
        expect(most[0]).toBe(most[1])
        expect(loudest[1]).toBe(Math.max(...[...plain.points.window.slice(from, from + count)].map(Math.abs)))
        expect(loudest[0]).toBe(loudest[1])
        if (count % 8 === 0)
          expect(most[0]).toBe(
            Math.max(
              ...plain.points.sizes
                .slice(first, last + 1)
                .flatMap((sizes) => [...sizes.slice(from, from + count)]),
            ),
          )
      },
    ),
  )
})

test('rough points by WebAssembly are the plain ones to the bit, and within their bound of what they are', () => {
  const halves = Array.from({ length: 4 }, (_, p) =>
    Float64Array.from(
      { length: 32 },
      (_unused, t) => Math.sin(3 + p + t * t) / (2 + Math.abs(t - 15.5) * Math.abs(t - 15.5)),
    ),
  )
  for (let t = 0; t < 16; t++) halves[3]![31 - t] = halves[3]![t]!
  const taps = [...halves, ...halves.slice(0, 3).reverse()].map((row, p) => (p > 3 ? row.toReversed() : row))
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 15 }),
      fc.integer({ min: 1, max: 16 }),
      fc.integer({ min: 1, max: 1000 }),
      (first, count, seed) => {
        const end = Math.min(16, first + count)
        const most = [plain, wasm].map(({ points: { rough } }) => {
          for (let i = 0; i < rough.window.length; i++)
            rough.window[i] = Math.sin(i * i * seed) * (1 + (i % 7))
          rough.use(taps)
          rough.measure()
          return rough.fill(first, end)
        })
        expect(most[0]).toBe(most[1])
        const [a, b] = [plain.points.rough, wasm.points.rough]
        expect(a.samples).toEqual(b.samples)
        expect(a.sizes.slice(7 * first, 7 * end)).toEqual(b.sizes.slice(7 * first, 7 * end))
        const table = wasm.points.keep(taps)
        for (let i = 0; i < a.window.length; i++) wasm.points.window[i] = a.window[i]!
        const bound = ROUGHLY * Math.max(...a.samples)
        for (let part = first; part < end; part++)
          for (let p = 0; p < 7; p++) {
            const exact = wasm.points.largest(table, 1 + 16 * part, 17 + 16 * part, p, p)
            if (!(Math.abs(exact - a.sizes[7 * part + p]!) <= bound))
              throw new Error(`part ${part}, phase ${p}`)
          }
      },
    ),
  )
})

const TEST_TAPS = Array.from({ length: 7 }, (_, p) =>
  Float64Array.from({ length: 32 }, (_unused, t) => Math.cos(p + t * t) / (1 + Math.abs(t - 16))),
)

test('what a delay writes and puts out by WebAssembly has the bits of the plain one', () => {
  fc.assert(
    fc.property(
      fc.constantFrom<1 | 2>(1, 2),
      fc.integer({ min: 0, max: 500 }),
      fc.integer({ min: 1, max: 520 }),
      finite(0.01, 0.99),
      fc.constantFrom(1, 0.3),
      fc.constantFrom(1, 1e-34),
      (channels, from, count, cut, fade, scale) => {
        const results = [plain, wasm].map(({ repeats, sound }) => {
          sound.forEach((side, c) => {
            for (let i = 0; i < side.length; i++) side[i] = Math.sin(i * i * (c + 2))
          })
          repeats.wets.forEach((wet, c) => {
            for (let i = 0; i < wet.length; i++) wet[i] = scale * Math.sin(i * i * (c + 5))
          })
          repeats.states.set([0.3 * scale, -0.2 * scale])
          for (let i = 0; i < repeats.mixes.length; i++) {
            repeats.mixes[i] = (1 + Math.sin(i)) / 2
            repeats.feedbacks[i] = (1 + Math.sin(3 * i)) / 2
          }
          repeats.cutHigh(from, count, cut, fade)
          repeats.mix(channels, from, count)
          const both = [repeats.wets, repeats.written].flatMap((sides) =>
            sides.slice(0, channels).map((side) => side.slice(0, count)),
          )
          return [...both, ...sound.map((side) => side.slice()), repeats.states.slice(0, channels)]
        })
        const places = results[0]!.map((part, k) => firstDifference(part, results[1]![k]!))
        if (places.some((place) => place >= 0)) throw new Error(`first difference at ${places.join(', ')}`)
      },
    ),
    { numRuns: 200 },
  )
})
