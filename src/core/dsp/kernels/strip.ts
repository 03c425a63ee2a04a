import { cosHalfPiQuick } from '../../units/exact'
import { newInstance } from './instance'
import { KERNEL_FRAMES, SOUND_FRAMES } from './frames'
import { STRIP_WASM } from './strip-wasm'

/** A cubic of the frames: at frame i of a run it is `c0 + t·(c1 + t·(c2 + t·c3))` with `t = start + i`. */
export interface Cubic {
  start: number
  c0: number
  c1: number
  c2: number
  c3: number
}

/** How a run of frames of a region gets into the mix. Gains are linear factors, 64-bit. */
export interface StripRun {
  /** Gain of the region with its polarity; with a thread (heights 0…1) it is multiplied by the cube of its height. */
  gain: number
  thread: Cubic | null
  /** Trim and fader of the track; with a lane, multiplied by the cube of its height. */
  level: number
  volumeLane: Cubic | null
  /**
   * Its pan: two factors that stay, the balance of a stereo signal, or the equal-power law of a mono one (-1…1). A balance that
   * stays left of the centre, or in it, and one that stays right of it say so: that takes less.
   */
  pan: 'still' | 'balance' | 'balance-left' | 'balance-right' | 'equal-power'
  left: number
  right: number
  panLane: Cubic | null
  /** Whether any of the cubics is more than a straight line. */
  curved: boolean
  /** Whether it is `sound`, that came out of inserts, instead of `source`; it has no thread. */
  wide: boolean
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
  /** Adds `count` frames of the source at `at`, or the first of the sound, to the mix from frame `at` on. */
  add(at: number, count: number, run: StripRun): void
}

const NONE: Cubic = { start: 0, c0: 0, c1: 0, c2: 0, c3: 0 }
const PANS = { still: 0, balance: 1, 'equal-power': 2, 'balance-left': 3, 'balance-right': 4 } as const

const valueAt = ({ start, c0, c1, c2, c3 }: Cubic, i: number) => {
  const t = start + i
  return c0 + t * (c1 + t * (c2 + t * c3))
}

const cube = (height: number) => height * height * height

/** The definition: what every other form must give, to the bit (but for the sums of squares, whose order is free). */
export function plainStripKernel(): StripKernel {
  const mix = [new Float64Array(KERNEL_FRAMES), new Float64Array(KERNEL_FRAMES)] as const
  const source = [new Float32Array(KERNEL_FRAMES), new Float32Array(KERNEL_FRAMES)] as const
  const sound = [new Float64Array(SOUND_FRAMES), new Float64Array(SOUND_FRAMES)] as const
  const measured = new Float64Array(4)
  return {
    mix,
    source,
    sound,
    measured,
    add(at, count, run) {
      const { gain, thread, volumeLane, pan, panLane, measures, wide } = run
      const [sourceLeft, sourceRight] = wide ? sound : source
      const first = wide ? 0 : at
      let [left, right] = [run.left, run.right]
      let [peakLeft, peakRight, energyLeft, energyRight] = [0, 0, 0, 0]
      for (let i = 0; i < count; i++) {
        const g = thread ? cube(valueAt(thread, i)) * gain : gain
        const level = volumeLane ? cube(valueAt(volumeLane, i)) * run.level : run.level
        if (pan === 'balance') {
          const p = valueAt(panLane!, i)
          const far = cosHalfPiQuick(p)
          left = p <= 0 ? 1 : far
          right = p <= 0 ? far : 1
        } else if (pan === 'balance-left') {
          left = 1
          right = cosHalfPiQuick(valueAt(panLane!, i))
        } else if (pan === 'balance-right') {
          left = cosHalfPiQuick(valueAt(panLane!, i))
          right = 1
        } else if (pan === 'equal-power') {
          const x = (valueAt(panLane!, i) + 1) / 2
          left = cosHalfPiQuick(x)
          right = cosHalfPiQuick(1 - x)
        }
        const l = sourceLeft[first + i]! * g * (level * left)
        const r = sourceRight[first + i]! * g * (level * right)
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

/** The WebAssembly form; null where there is none. Places in its memory are those of `assembly/strip.ts`. */
export function wasmStripKernel(): StripKernel | null {
  const exports = newInstance<StripExports>(STRIP_WASM)
  if (!exports) return null
  const { addFrames } = exports
  const { buffer } = exports.memory
  const mix = [
    new Float64Array(buffer, 0, KERNEL_FRAMES),
    new Float64Array(buffer, 32_768, KERNEL_FRAMES),
  ] as const
  const source = [
    new Float32Array(buffer, 65_536, KERNEL_FRAMES),
    new Float32Array(buffer, 81_920, KERNEL_FRAMES),
  ] as const
  const sound = [
    new Float64Array(buffer, 99_328, SOUND_FRAMES),
    new Float64Array(buffer, 107_520, SOUND_FRAMES),
  ] as const
  return {
    mix,
    source,
    sound,
    measured: new Float64Array(buffer, 98_304, 4),
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
      )
    },
  }
}

/** The quickest form that this machine has. */
export const newStripKernel = (): StripKernel => wasmStripKernel() ?? plainStripKernel()
