import fs from 'node:fs'
import path from 'node:path'
import fc from 'fast-check'
import type { GainComputer, Moving } from './dynamics'
import { HEARD_FRAMES } from './dynamics'
import { SECTION_NUMBERS } from './filter'
import { KERNEL_FRAMES, SOUND_FRAMES } from './frames'
import { MOST_TAPS, PHASES, POINT_TAPS, ROUGH_PARTS } from './points'
import { plainProcessing, wasmProcessing, type ProcessingKernel } from './processing'
import { MOST_TAP_FRAMES, TILE_FRAMES } from './room'
import {
  SATURATION_CURVE,
  SATURATION_DRIVES,
  SATURATION_NUMBERS,
  SATURATION_RISE1,
  HEARD,
  MIRRORED_TAPS,
  POINT_SIZES,
  PROCESSING_END,
  ROOM_LEFT,
  ROOM_TILE,
  TAP_TABLES,
  WET_LEFT,
} from './processing-places'
import { plainStripKernel, wasmStripKernel, type StripKernel, type StripRun } from './strip'
import { MEASURED, STRIP_END } from './strip-places'

// Both forms of a kernel lie in memories of the same shape, with gaps behind their arrays. They are filled alike, do the same,
// and must be the same afterwards: the whole of them, to the bit, gaps and all. The frames that are asked for begin anywhere, are odd
// in number half of the time, and often end with the block.

/** Bytes that a call may leave as it likes: where they begin and end. */
type Free = readonly [from: number, to: number]

/** Numbers that differ everywhere. */
const NUMBERS = Float64Array.from(
  { length: 1 << 17 },
  (_, i) => Math.sin(i * i * 0.37) * (i % 7 ? 1 : 2) * (i % 5 ? 1 : 0),
)
const NARROW = Float32Array.from(NUMBERS)
const SMALL = NUMBERS.map((x) => 1e-33 * x)

/** Fills a memory with numbers but for what it keeps, and its 32-bit arrays with 32-bit ones. */
function fill(
  memory: ArrayBuffer,
  end: number,
  { seed, small }: { seed: number; small: boolean },
  narrow: readonly Float32Array[],
  kept: readonly Free[] = [],
): void {
  const old = kept.map(([from, to]) => new Uint8Array(memory.slice(from, to)))
  new Float64Array(memory, 0, end / 8).set((small ? SMALL : NUMBERS).subarray(seed, seed + end / 8))
  narrow.forEach((array, n) => array.set(NARROW.subarray(seed + 999 * n, seed + 999 * n + array.length)))
  kept.forEach(([from], n) => new Uint8Array(memory).set(old[n]!, from))
}

/** Throws where two memories differ before `end`, outside what is free. */
function expectSameMemory(a: ArrayBuffer, b: ArrayBuffer, end: number, free: readonly Free[]): void {
  for (const [from, to] of free) new Uint8Array(b, from, to - from).set(new Uint8Array(a, from, to - from))
  if (Buffer.compare(Buffer.from(a, 0, end), Buffer.from(b, 0, end)) === 0) return
  const [x, y] = [new BigUint64Array(a, 0, end / 8), new BigUint64Array(b, 0, end / 8)]
  const place = x.findIndex((word, i) => word !== y[i])
  throw new Error(`byte ${8 * place} holds ${x[place]} and ${y[place]}`)
}

/** Some frames of a block: the first, and how many. */
const frames = (most: number): fc.Arbitrary<{ at: number; count: number }> =>
  fc
    .tuple(fc.integer({ min: 0, max: most - 1 }), fc.integer({ min: 1, max: most }), fc.boolean())
    .map(([at, count, toEnd]) => ({ at, count: toEnd ? most - at : Math.min(count, most - at) }))
const finite = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const channels = fc.constantFrom<1 | 2>(1, 2)
/** What lies in the memory before; states that are too small to matter become nothing. */
const contents = fc.record({ seed: fc.nat(10_000), small: fc.boolean() })
const moving = (min: number, max: number, step: number): fc.Arbitrary<Moving> =>
  fc.record({ value: finite(min, max), step: fc.oneof(fc.constant(0), finite(-step, step)) })
const computer: fc.Arbitrary<GainComputer> = fc
  .record({
    threshold: moving(-80, 0, 1e-4),
    slope: moving(0, 0.99, 1e-6),
    half: moving(0.1, 18, 1e-6),
    most: moving(0, 80, 1e-4),
  })
  .map((of) => ({ ...of, inverse: { value: 1 / (4 * of.half.value), step: 0 } }))
const cubic = fc.record({
  start: fc.integer({ min: 0, max: 1_000_000 }),
  c0: finite(-1, 1),
  c1: finite(-1e-4, 1e-4),
  c2: fc.constantFrom(0, 1e-9),
  c3: fc.constantFrom(0, 1e-15),
})
const block = frames(SOUND_FRAMES)
const phases = fc
  .tuple(fc.nat(PHASES - 2), fc.nat(PHASES - 2))
  .map(([a, b]) => [Math.min(a, b), Math.max(a, b)] as const)
/** Mirrored, as rough points need them. */
const TAPS = (() => {
  const rows = Array.from({ length: PHASES / 2 }, (_, p) =>
    Float64Array.from(
      { length: POINT_TAPS },
      (_unused, t) => Math.sin(3 + p + t * t) / (2 + (t - 15.5) ** 2),
    ),
  )
  for (let t = 0; t < POINT_TAPS / 2; t++)
    rows[PHASES / 2 - 1]![POINT_TAPS - 1 - t] = rows[PHASES / 2 - 1]![t]!
  return [...rows, ...rows.slice(0, -1).reverse()].map((row, p) => (p >= PHASES / 2 ? row.toReversed() : row))
})()

const LONG_TAPS = TAPS.map((_, p) =>
  Float64Array.from({ length: MOST_TAPS }, (_unused, t) => Math.sin(p + t * t)),
)

/** What a kernel is asked to do; what it returns is compared, too. */
interface Call {
  run(kernel: ProcessingKernel): unknown
  free?: readonly Free[]
}
const sections = (kernel: ProcessingKernel) => {
  for (let i = 0; i < kernel.filters.sections.length; i++)
    kernel.filters.sections[i] = kernel.filters.sections[i]! * (i % SECTION_NUMBERS < 12 ? 0.22 : 1e-5)
}
/** Reductions are never under 0. */
const positive = (kernel: ProcessingKernel) => {
  const { levels } = kernel.dynamics
  for (let i = 0; i < levels.length; i++) levels[i] = Math.abs(levels[i]!)
}

const CALLS: Record<string, fc.Arbitrary<Call>> = {
  placeSource: fc
    .tuple(block, channels, finite(-4, 4), fc.option(cubic))
    .map(([{ at, count }, c, gain, thread]) => ({
      run: (k) => k.loops.placeSource(at, count, c, gain, thread),
    })),
  isFinite: fc.tuple(block, channels, fc.option(fc.nat(SOUND_FRAMES - 1))).map(([{ at, count }, c, bad]) => ({
    run: (k) => {
      if (bad !== null) k.sound[c - 1]![bad] = Infinity
      return k.loops.isFinite(c, at, at + count)
    },
  })),
  filters: fc.tuple(block, fc.integer({ min: 1, max: 9 })).map(([{ at, count }, many]) => ({
    run: (k) => {
      sections(k)
      k.filters.run(many, at, at + count)
    },
  })),
  'moving filters': fc
    .tuple(block, fc.integer({ min: 1, max: 9 }), fc.boolean())
    .map(([{ at, count }, many, flush]) => ({
      run: (k) => {
        sections(k)
        k.filters.runMoving(many, at, at + count, flush)
      },
    })),
  hearPeaks: fc
    .tuple(block, channels)
    .map(([{ count }, c]) => ({ run: (k) => k.dynamics.hearPeaks(c, count) })),
  hearSquares: fc
    .tuple(block, fc.nat(1))
    .map(([{ count }, side]) => ({ run: (k) => k.dynamics.hearSquares(side, count) })),
  windowMaximum: fc.tuple(block, fc.integer({ min: 1, max: 1500 })).map(([{ count }, width]) => ({
    run: (k) => {
      for (let i = 0; i < HEARD_FRAMES; i++) k.dynamics.heard[i] = Math.abs(k.dynamics.heard[i]!)
      k.dynamics.windowMaximum(width, count)
    },
    free: [[HEARD, HEARD + 8 * (count + width - 1)]] as const,
  })),
  windowMean: fc
    .tuple(block, fc.integer({ min: 1, max: 1500 }))
    .map(([{ count }, width]) => ({ run: (k) => k.dynamics.windowMean(width, count) })),
  askReductions: fc.tuple(block, computer).map(([{ at, count }, by]) => ({
    run: (k) => {
      positive(k)
      k.dynamics.askReductions(at, at + count, 6.02, by)
    },
  })),
  follow: fc
    .tuple(block, moving(0.001, 0.9, 5e-8), moving(0.0001, 0.1, 5e-8))
    .map(([{ at, count }, attack, release]) => ({
      run: (k) => k.dynamics.follow(at, at + count, 3, attack, release),
    })),
  toGains: fc
    .tuple(block, finite(-12, 36))
    .map(([{ at, count }, makeup]) => ({ run: (k) => k.dynamics.toGains(at, at + count, makeup) })),
  toStillGains: fc
    .tuple(block, computer, moving(0.001, 0.9, 0), moving(0.0001, 0.1, 0), finite(-12, 36))
    .map(([{ count }, by, attack, release, makeup]) => ({
      run: (k) => {
        positive(k)
        return k.dynamics.toStillGains(count, 6.02, by, 3, attack, release, makeup)
      },
    })),
  apply: fc.tuple(block, channels).map(([{ count }, c]) => ({ run: (k) => k.dynamics.apply(c, count) })),
  points: fc
    .tuple(block, phases, fc.constantFrom(TAPS, LONG_TAPS))
    .map(([{ at, count }, [first, last], taps]) => ({
      run: (k) => k.points.fill(k.points.keep(taps), at, at + count, first, last),
    })),
  'loudest sample': block.map(({ at, count }) => ({ run: (k) => k.points.loudest(at, at + count) })),
  'rough points': frames(ROUGH_PARTS).map(({ at, count }) => ({
    run: (k) => {
      k.points.rough.use(TAPS)
      k.points.rough.measure()
      return k.points.rough.fill(at, at + count)
    },
  })),
  'high cut of repeats': fc
    .tuple(block, finite(0.01, 0.99), fc.constantFrom(1, 0.3))
    .map(([{ at, count }, cut, fade]) => ({ run: (k) => k.repeats.cutHigh(at, count, cut, fade) })),
  'mixed repeats': fc
    .tuple(block, channels)
    .map(([{ at, count }, c]) => ({ run: (k) => k.repeats.mix(c, at, count) })),
}

/** Loud enough for steps of all lengths. */
CALLS['saturation'] = fc
  .tuple(fc.nat(1), fc.integer({ min: 1, max: 64 }), fc.nat(2), fc.constantFrom(0.3, 2, 20))
  .map(([side, sixteens, curve, drive]) => ({
    run: (k) => {
      k.saturation.drives.fill(drive)
      k.saturation.bend(side, 16 * sixteens, curve)
    },
  }))

/** Sixteen frames are the least that a room works on: some of them, the first in the sound and the first in the lines. */
const tiles = fc
  .tuple(fc.integer({ min: 1, max: 64 }), fc.nat(63), fc.nat(63))
  .map(([many, at, from]) => [many, Math.min(at, 64 - many), Math.min(from, 64 - many)] as const)
/** What lies in a tile is not to be found again. */
const freeTile = [[ROOM_TILE, ROOM_TILE + 16 * 16 * 4]] as const
CALLS['spread room'] = fc
  .tuple(tiles, fc.array(fc.nat(MOST_TAP_FRAMES), { minLength: 32, maxLength: 32 }))
  .map(([[many, at], taps]) => ({
    run: (k) => {
      k.room.taps.set(taps)
      k.room.diffuse(at * TILE_FRAMES, many)
    },
    free: freeTile,
  }))
CALLS['flushed room'] = fc
  .tuple(fc.nat(MOST_TAP_FRAMES), block)
  .map(([back, { count }]) => ({ run: (k) => k.room.flush(back, count) }))
CALLS['mixed room'] = fc
  .tuple(fc.integer({ min: 1, max: SOUND_FRAMES / 2 }), finite(0, 4))
  .map(([half, level]) => ({ run: (k) => k.room.mix(2 * half, level) }))
CALLS['turned room'] = tiles.map(([many, at, from]) => ({
  run: (k) => {
    k.room.numbers.forEach((number, n) => (k.room.numbers[n] = 0.4 * number))
    k.room.turn(at * TILE_FRAMES, from * TILE_FRAMES, many, 0.24)
  },
  free: freeTile,
}))

describe('the whole memory of the processing kernel is the same in both forms after', () => {
  const kernels = [plainProcessing(), wasmProcessing()!] as const
  const memories = kernels.map((kernel) => kernel.sound[0].buffer as ArrayBuffer)
  test.each(Object.entries(CALLS))('%s', (_name, calls) => {
    fc.assert(
      fc.property(calls, contents, ({ run, free = [] }, content) => {
        const results = kernels.map((kernel, n) => {
          const { loops, points, room, saturation } = kernel
          // Tables of taps are kept from one call to the next.
          for (const taps of [TAPS, LONG_TAPS]) points.keep(taps)
          points.rough.use(TAPS)
          fill(
            memories[n]!,
            PROCESSING_END,
            content,
            [
              ...loops.source,
              points.rough.window,
              points.rough.samples,
              points.rough.sizes,
              ...room.input,
              room.weights,
              room.numbers,
              ...room.spread,
              ...saturation.input,
              new Float32Array(memories[n]!, SATURATION_RISE1, (SATURATION_CURVE - SATURATION_RISE1) / 4),
              ...room.lines,
            ],
            [
              [TAP_TABLES, POINT_SIZES - 64],
              [MIRRORED_TAPS, WET_LEFT - 64],
              [SATURATION_NUMBERS, SATURATION_DRIVES - 64],
              [SATURATION_CURVE, ROOM_LEFT - 64],
            ],
          )
          return run(kernel)
        })
        expectSameMemory(memories[0]!, memories[1]!, PROCESSING_END, free)
        expect(results[1]).toEqual(results[0])
      }),
      { numRuns: 60 },
    )
  })
})

const straight = (c: StripRun['thread']) => (c ? { ...c, c2: 0, c3: 0 } : null)
const stripRun: fc.Arbitrary<StripRun> = fc
  .record({
    gain: finite(-8, 8),
    thread: fc.option(cubic),
    level: finite(-4, 4),
    volumeLane: fc.option(cubic),
    pan: fc.constantFrom<StripRun['pan']>('still', 'balance', 'equal-power'),
    left: finite(0, 1),
    right: finite(0, 1),
    panLane: cubic,
    cell: fc.integer({ min: -1, max: 63 }),
    curved: fc.boolean(),
    measures: fc.boolean(),
    wide: fc.boolean(),
    soundAt: fc.constant(0),
  })
  .map((run) => ({
    ...run,
    thread: run.wide ? null : run.curved ? run.thread : straight(run.thread),
    volumeLane: run.curved ? run.volumeLane : straight(run.volumeLane),
    panLane: run.curved ? run.panLane : straight(run.panLane)!,
    cell: run.pan === 'still' ? -1 : run.cell,
  }))

test('the whole memory of the strip kernel is the same in both forms, but for sums whose order is free', () => {
  const kernels: readonly StripKernel[] = [plainStripKernel(), wasmStripKernel()!]
  const memories = kernels.map((kernel) => kernel.mix[0].buffer as ArrayBuffer)
  fc.assert(
    fc.property(
      stripRun,
      frames(KERNEL_FRAMES),
      frames(SOUND_FRAMES),
      fc.integer({ min: 0, max: 10_000 }),
      (run, { at, count }, sound, seed) => {
        const many = run.wide ? Math.min(count, sound.count) : count
        kernels.forEach((kernel, n) => {
          fill(memories[n]!, STRIP_END, { seed, small: false }, kernel.source)
          kernel.add(at, many, { ...run, soundAt: run.wide ? sound.at : 0 })
        })
        for (const n of [2, 3]) {
          const [plain, wasm] = kernels.map(({ measured }) => measured[n]!)
          expect(Math.abs(wasm! - plain!)).toBeLessThanOrEqual(1e-9 * Math.abs(plain!))
        }
        expectSameMemory(memories[0]!, memories[1]!, STRIP_END, [[MEASURED + 16, MEASURED + 32]])
      },
    ),
    { numRuns: 400 },
  )
})

test('constants of a kernel lie behind its arrays', () => {
  const script = fs.readFileSync(path.join(__dirname, '../../../../scripts/kernels.mjs'), 'utf8')
  const base = (name: string) => Number(new RegExp(`\\b${name}: (\\d+)`).exec(script)![1])
  expect(base('processing')).toBeGreaterThanOrEqual(PROCESSING_END)
  expect(base('strip')).toBeGreaterThanOrEqual(STRIP_END)
})
