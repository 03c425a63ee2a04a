// Points of a signal between its samples, in AssemblyScript; `plainPoints` in `../points.ts` is its definition, to the bit. Eight
// frames at a time, in 64-bit lanes. Part of `processing.ts`.

/** Where things lie in the memory: the window, the tables of taps, and the points of each phase. */
const WINDOW: usize = 163840
const TAPS: usize = 172544
const POINTS: usize = 179712
/** Bytes of a phase's taps, of a table, and of a phase's points. */
const ROW: usize = 256
const TABLE: usize = 1792
const PHASE: usize = 8256

/** Writes the sizes of points of the phases `first` to `last` behind window places `from` ≤ i < `to`; a place more at most. */
export function fillPoints(table: i32, from: i32, to: i32, first: i32, last: i32): void {
  const end: usize = WINDOW + (<usize>to << 3)
  for (let p: i32 = first; p <= last; p++) {
    const taps: usize = TAPS + <usize>table * TABLE + <usize>p * ROW
    let at: usize = WINDOW + (<usize>from << 3)
    let out: usize = POINTS + <usize>p * PHASE + (<usize>from << 3)
    for (; at + 56 < end; at += 64) {
      let a = f64x2.splat(0)
      let b = f64x2.splat(0)
      let c = f64x2.splat(0)
      let d = f64x2.splat(0)
      for (let t: usize = 0; t < ROW; t += 8) {
        const tap = v128.load64_splat(taps + t)
        const x = at + t
        a = f64x2.add(a, f64x2.mul(tap, v128.load(x)))
        b = f64x2.add(b, f64x2.mul(tap, v128.load(x, 16)))
        c = f64x2.add(c, f64x2.mul(tap, v128.load(x, 32)))
        d = f64x2.add(d, f64x2.mul(tap, v128.load(x, 48)))
      }
      v128.store(out, f64x2.abs(a))
      v128.store(out, f64x2.abs(b), 16)
      v128.store(out, f64x2.abs(c), 32)
      v128.store(out, f64x2.abs(d), 48)
      out += 64
    }
    for (; at < end; at += 16) {
      let a = f64x2.splat(0)
      for (let t: usize = 0; t < ROW; t += 8)
        a = f64x2.add(a, f64x2.mul(v128.load64_splat(taps + t), v128.load(at + t)))
      v128.store(out, f64x2.abs(a))
      out += 16
    }
  }
}

/** The largest of those points, with nothing written; `to - from` is a multiple of 8. */
export function largestPoint(table: i32, from: i32, to: i32, first: i32, last: i32): f64 {
  const end: usize = WINDOW + (<usize>to << 3)
  let most = f64x2.splat(0)
  for (let p: i32 = first; p <= last; p++) {
    const taps: usize = TAPS + <usize>table * TABLE + <usize>p * ROW
    for (let at: usize = WINDOW + (<usize>from << 3); at < end; at += 64) {
      let a = f64x2.splat(0)
      let b = f64x2.splat(0)
      let c = f64x2.splat(0)
      let d = f64x2.splat(0)
      for (let t: usize = 0; t < ROW; t += 8) {
        const tap = v128.load64_splat(taps + t)
        const x = at + t
        a = f64x2.add(a, f64x2.mul(tap, v128.load(x)))
        b = f64x2.add(b, f64x2.mul(tap, v128.load(x, 16)))
        c = f64x2.add(c, f64x2.mul(tap, v128.load(x, 32)))
        d = f64x2.add(d, f64x2.mul(tap, v128.load(x, 48)))
      }
      most = f64x2.pmax(most, f64x2.abs(a))
      most = f64x2.pmax(most, f64x2.abs(b))
      most = f64x2.pmax(most, f64x2.abs(c))
      most = f64x2.pmax(most, f64x2.abs(d))
    }
  }
  const one = f64x2.extract_lane(most, 0)
  const other = f64x2.extract_lane(most, 1)
  return other > one ? other : one
}
