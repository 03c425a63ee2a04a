import { fillLevels, valueAt, type Cubic, type LevelRun } from '../levels'
import { wantsPlain } from './form'
import { newInstance } from './instance'
import { KERNEL_FRAMES, SOUND_FRAMES } from './frames'
import {
  MEASURED,
  MIX_LEFT,
  MIX_RIGHT,
  SOUND_LEFT,
  SOUND_RIGHT,
  STRIP_END,
  STRIP_SOURCE_LEFT,
  STRIP_SOURCE_RIGHT,
} from './strip-places'
import { STRIP_WASM } from './strip-wasm'

/** How a run of frames of a region gets into the mix. Gains are linear factors, 64-bit. */
export interface StripRun extends LevelRun {
  /** Gain of the region with its polarity; with a thread (heights 0…1) it is multiplied by the cube of its height. */
  gain: number
  thread: Cubic | null
  /** Whether any of the cubics is more than a straight line. */
  curved: boolean
  /** Whether it is `sound`, that came out of inserts, instead of `source`; it has no thread. */
  wide: boolean
  /** Of the sound, the frame that is the first. */
  soundAt: number
  /** Whether `measured` is written: largest absolute sample left, right, sums of squares left, right. */
  measures: boolean
}

/** The inner loop of a strip: source × gain × level, added to the mix. */
export interface StripKernel {
  /** Both sides of the mix. */
  readonly mix: readonly [Float64Array, Float64Array]
  /** Where the samples of both sides of a source are put before they are added, at the places of the mix. */
  readonly source: readonly [Float32Array, Float32Array]
  /** Where both sides of what came out of inserts are put before they are added: `SOUND_FRAMES` of them. */
  readonly sound: readonly [Float64Array, Float64Array]
  readonly measured: Float64Array
  /** Adds `count` frames of the source at `at`, or of the sound at `soundAt`, to the mix from frame `at` on. */
  add(at: number, count: number, run: StripRun): void
}

const NONE: Cubic = { start: 0, c0: 0, c1: 0, c2: 0, c3: 0 }
const PANS = { still: 0, balance: 1, 'equal-power': 2 } as const

const cube = (height: number) => height * height * height

/** The definition: what every other form must give, to the bit (but for the sums of squares, whose order is free). */
export function plainStripKernel(): StripKernel {
  const arrays = stripArrays(new ArrayBuffer(STRIP_END))
  const { mix, source, sound, measured } = arrays
  const levels = [new Float64Array(KERNEL_FRAMES), new Float64Array(KERNEL_FRAMES)] as const
  return {
    ...arrays,
    add(at, count, run) {
      const { gain, thread, measures, wide } = run
      const [sourceLeft, sourceRight] = wide ? sound : source
      const first = wide ? run.soundAt : at
      const [left, right] = levels
      fillLevels(run, count, left, right)
      let [peakLeft, peakRight, energyLeft, energyRight] = [0, 0, 0, 0]
      for (let i = 0; i < count; i++) {
        const g = thread ? cube(valueAt(thread, i)) * gain : gain
        const l = sourceLeft[first + i]! * g * left[i]!
        const r = sourceRight[first + i]! * g * right[i]!
        mix[0][at + i] = mix[0][at + i]! + l
        mix[1][at + i] = mix[1][at + i]! + r
        if (!measures) continue
        peakLeft = Math.max(peakLeft, Math.abs(l))
        peakRight = Math.max(peakRight, Math.abs(r))
        energyLeft += l * l
        energyRight += r * r
      }
      if (measures) measured.set([peakLeft, peakRight, energyLeft, energyRight])
    },
  }
}

interface StripExports {
  memory: WebAssembly.Memory
  addFrames(...parameters: (number | boolean)[]): void
}

function stripArrays(buffer: ArrayBuffer) {
  const wide = (at: number, frames: number) => new Float64Array(buffer, at, frames)
  return {
    mix: [wide(MIX_LEFT, KERNEL_FRAMES), wide(MIX_RIGHT, KERNEL_FRAMES)] as const,
    source: [
      new Float32Array(buffer, STRIP_SOURCE_LEFT, KERNEL_FRAMES),
      new Float32Array(buffer, STRIP_SOURCE_RIGHT, KERNEL_FRAMES),
    ] as const,
    sound: [wide(SOUND_LEFT, SOUND_FRAMES), wide(SOUND_RIGHT, SOUND_FRAMES)] as const,
    measured: wide(MEASURED, 4),
  }
}

/** The WebAssembly form; null where there is none. */
export function wasmStripKernel(): StripKernel | null {
  const exports = newInstance<StripExports>(STRIP_WASM)
  if (!exports) return null
  const { addFrames } = exports
  return {
    ...stripArrays(exports.memory.buffer),
    add(at, count, run) {
      const [g, v, p] = [run.thread ?? NONE, run.volumeLane ?? NONE, run.panLane ?? NONE]
      addFrames(
        at,
        count,
        run.thread !== null,
        run.gain,
        g.start,
        g.c0,
        g.c1,
        g.c2,
        g.c3,
        run.volumeLane !== null,
        run.level,
        v.start,
        v.c0,
        v.c1,
        v.c2,
        v.c3,
        PANS[run.pan],
        run.left,
        run.right,
        p.start,
        p.c0,
        p.c1,
        p.c2,
        p.c3,
        run.curved,
        run.measures,
        run.wide,
        run.soundAt,
        run.cell,
      )
    },
  }
}

/** The quickest form that this machine has. */
export const newStripKernel = (): StripKernel =>
  (wantsPlain() ? null : wasmStripKernel()) ?? plainStripKernel()
