import fc from 'fast-check'
import { KERNEL_FRAMES, SOUND_FRAMES } from './frames'
import { CELL_FRAMES } from '../../curve/cubics'
import type { Cubic } from '../levels'
import { plainStripKernel, wasmStripKernel, type StripRun } from './strip'

const plain = plainStripKernel()
const wasm = wasmStripKernel()!

const cubic: fc.Arbitrary<Cubic> = fc.record({
  start: fc.integer({ min: 0, max: 1_000_000 }),
  c0: fc.double({ min: -1, max: 1, noNaN: true }),
  c1: fc.double({ min: -1e-4, max: 1e-4, noNaN: true }),
  c2: fc.constantFrom(0, 1e-9, -3e-10),
  c3: fc.constantFrom(0, 1e-15),
})
const straight = (c: Cubic | null) => (c ? { ...c, c2: 0, c3: 0 } : null)
const runs: fc.Arbitrary<StripRun> = fc
  .record({
    gain: fc.double({ min: -8, max: 8, noNaN: true }),
    thread: fc.option(cubic),
    level: fc.double({ min: -4, max: 4, noNaN: true }),
    volumeLane: fc.option(cubic),
    pan: fc.constantFrom<StripRun['pan']>('still', 'balance', 'equal-power'),
    left: fc.double({ min: 0, max: 1, noNaN: true }),
    right: fc.double({ min: 0, max: 1, noNaN: true }),
    panLane: cubic,
    cell: fc.integer({ min: -1, max: CELL_FRAMES - 1 }),
    curved: fc.boolean(),
    measures: fc.boolean(),
    wide: fc.boolean(),
    soundAt: fc.integer({ min: 0, max: 300 }),
  })
  .map((run) => (run.wide ? { ...run, thread: null } : run))
  .map((run) => (run.pan === 'still' ? { ...run, cell: -1 } : run))
  .map((run) =>
    run.curved
      ? run
      : {
          ...run,
          thread: straight(run.thread),
          volumeLane: straight(run.volumeLane),
          panLane: straight(run.panLane),
        },
  )

test('the WebAssembly form gives the bits of the plain one, for every run, length and place', () => {
  fc.assert(
    fc.property(
      runs,
      fc.integer({ min: 0, max: 600 }),
      fc.integer({ min: 1, max: KERNEL_FRAMES - 600 }),
      fc.integer(),
      (run, at, frames, seed) => {
        const count = run.wide ? Math.min(frames, SOUND_FRAMES - run.soundAt) : frames
        for (const kernel of [plain, wasm])
          for (const side of [0, 1] as const)
            for (let i = 0; i < KERNEL_FRAMES; i++) {
              kernel.mix[side][i] = Math.sin(seed + i * (side + 1))
              kernel.source[side][i] = Math.cos(seed * 3 + i * i * (side + 2))
              kernel.sound[side][i] = Math.cos(seed * 5 + i * i * (side + 3))
            }
        for (const kernel of [plain, wasm]) kernel.add(at, count, run)
        for (const side of [0, 1] as const)
          for (let i = 0; i < KERNEL_FRAMES; i++)
            if (!Object.is(plain.mix[side][i], wasm.mix[side][i]))
              throw new Error(`side ${side} differs at ${i}: ${plain.mix[side][i]} and ${wasm.mix[side][i]}`)
        if (!run.measures) return
        // Peaks are the same; the sums of squares are added in another order.
        expect([...wasm.measured.slice(0, 2)]).toEqual([...plain.measured.slice(0, 2)])
        for (const n of [2, 3])
          expect(wasm.measured[n]! / (plain.measured[n]! || 1)).toBeCloseTo(plain.measured[n] ? 1 : 0, 9)
      },
    ),
    { numRuns: 400 },
  )
})
