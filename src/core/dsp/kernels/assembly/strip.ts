// The inner loop of a strip in AssemblyScript; `plainStripKernel` in `../strip.ts` is its definition, to the bit. Two frames at
// a time, in 64-bit lanes. Built by `npm run kernels`.

import {
  MEASURED,
  MIX_LEFT,
  MIX_RIGHT,
  SOUND_LEFT,
  SOUND_RIGHT,
  STRIP_SOURCE_LEFT,
  STRIP_SOURCE_RIGHT,
} from '../strip-places'

/**
 * Numbers that a loop needs for every frame, each in both lanes. They are loaded where they are used: the browsers' compilers
 * make a constant of two lanes anew in every round of a loop, which costs several instructions, and a load costs one.
 */
const NUMBERS: usize = memory.data<f64>(
  [
    1, 1, 2, 2, -0.23370054991158176, -0.23370054991158176, 0.01996895516316129, 0.01996895516316129,
    -0.0008945119709039604, -0.0008945119709039604, 2.4716123441357273e-5, 2.4716123441357273e-5,
    -4.460047435259846e-7, -4.460047435259846e-7,
  ],
  16,
)
const ONE: usize = NUMBERS
const TWO: usize = NUMBERS + 16
/** Coefficients of the polynomial of `cosHalfPiQuick`, from that of the lowest power on. */
const COS: usize = NUMBERS + 32

/** The rows of `CELL_MATRIX` in `../../levels.ts`, each number in both lanes. */
const MATRIX: usize = memory.data<f64>(
  [
    -4999.0 / 57792, -4999.0 / 57792, 2752.0 / 19866, 2752.0 / 19866,
    -1344.0 / 19866, -1344.0 / 19866, 903.0 / 57792, 903.0 / 57792,
    128.0 / 57792, 128.0 / 57792, -107.0 / 19866, -107.0 / 19866,
    85.0 / 19866, 85.0 / 19866, -64.0 / 57792, -64.0 / 57792,
    -1.0 / 57792, -1.0 / 57792, 1.0 / 19866, 1.0 / 19866,
    -1.0 / 19866, -1.0 / 19866, 1.0 / 57792, 1.0 / 57792,
  ],
  16,
)
/** As in `../../../curve/cubics.ts`. */
const CELL_FRAMES: i32 = 64

/** The numbers of a run: gain, level, left, right, and three cubics of five numbers each, all in both lanes. */
const RUN: usize = memory.data(16 * 19, 16)
const GAIN: usize = RUN
const LEVEL: usize = RUN + 16
const STILL_LEFT: usize = RUN + 32
const STILL_RIGHT: usize = RUN + 48
const THREAD: usize = RUN + 64
const VOLUME: usize = THREAD + 80
const PAN: usize = VOLUME + 80

/** The cubics of a cell: four factors for the left side and four for the right one, in both lanes. */
const CELL_LEFT: usize = memory.data(16 * 8, 16)
const CELL_RIGHT: usize = CELL_LEFT + 64

/** What was measured so far, in two lanes: the largest absolute samples, the sums of squares. */
const SO_FAR: usize = memory.data(16 * 4, 16)

@inline
function keep(at: usize, x: f64): void {
  v128.store(at, f64x2.splat(x))
}

@inline
function keepCubic(at: usize, start: f64, c0: f64, c1: f64, c2: f64, c3: f64): void {
  keep(at, start)
  keep(at + 16, c0)
  keep(at + 32, c1)
  keep(at + 48, c2)
  keep(at + 64, c3)
}

/** The value of a cubic at two frames `n` of the run. */
@inline
function curve(cubic: usize, n: v128, curved: bool): v128 {
  const t = f64x2.add(v128.load(cubic), n)
  if (!curved) return f64x2.add(v128.load(cubic, 16), f64x2.mul(t, v128.load(cubic, 32)))
  const inner = f64x2.add(v128.load(cubic, 48), f64x2.mul(t, v128.load(cubic, 64)))
  return f64x2.add(
    v128.load(cubic, 16),
    f64x2.mul(t, f64x2.add(v128.load(cubic, 32), f64x2.mul(t, inner))),
  )
}

@inline
function cube(height: v128): v128 {
  return f64x2.mul(f64x2.mul(height, height), height)
}

@inline
function cosHalfPi(x: v128): v128 {
  const z = f64x2.mul(x, x)
  const q4 = f64x2.add(v128.load(COS, 48), f64x2.mul(z, v128.load(COS, 64)))
  const q3 = f64x2.add(v128.load(COS, 32), f64x2.mul(z, q4))
  const q2 = f64x2.add(v128.load(COS, 16), f64x2.mul(z, q3))
  const q1 = f64x2.add(v128.load(COS), f64x2.mul(z, q2))
  return f64x2.mul(f64x2.sub(v128.load(ONE), z), f64x2.add(v128.load(ONE), f64x2.mul(z, q1)))
}

@inline
function levelAt(n: v128, automated: bool, curved: bool): v128 {
  return automated ? f64x2.mul(cube(curve(VOLUME, n, curved)), v128.load(LEVEL)) : v128.load(LEVEL)
}

/** Kinds of pan: one that stays, a balance; what else there is is an equal-power law. */
const STILL: i32 = 0
const BALANCE: i32 = 1

/** Half of what an equal-power law turns by: 0 on the left, 1 on the right. */
@inline
function turnOf(pan: v128): v128 {
  return f64x2.div(f64x2.add(pan, v128.load(ONE)), v128.load(TWO))
}

/** The gain of a law on the left. */
@inline
function powerLeft(turn: v128): v128 {
  return cosHalfPi(turn)
}

/** The same on the right. */
@inline
function powerRight(turn: v128): v128 {
  return cosHalfPi(f64x2.sub(v128.load(ONE), turn))
}

/** A row of the matrix times four values of both sides, one in each lane. */
@inline
function rowOf(n: usize, f0: v128, f1: v128, f2: v128, f3: v128): v128 {
  const row = MATRIX + 64 * n
  return f64x2.add(
    f64x2.add(
      f64x2.add(f64x2.mul(f0, v128.load(row)), f64x2.mul(f1, v128.load(row, 16))),
      f64x2.mul(f2, v128.load(row, 32)),
    ),
    f64x2.mul(f3, v128.load(row, 48)),
  )
}

@inline
function keepSides(n: usize, sides: v128): void {
  v128.store(CELL_LEFT + 16 * n, v128.shuffle<f64>(sides, sides, 0, 0))
  v128.store(CELL_RIGHT + 16 * n, v128.shuffle<f64>(sides, sides, 1, 1))
}

/** Works out the cubics of the cell that begins at frame `start` of the run; false where a balance crosses the centre in it. */
function setCell(start: i32, automated: bool, pan: i32): bool {
  const begin = f64x2.splat(<f64>start)
  const n0 = f64x2.add(begin, f64x2(0, 21))
  const n1 = f64x2.add(begin, f64x2(43, 64))
  const pan0 = curve(PAN, n0, true)
  const pan1 = curve(PAN, n1, true)
  let left0 = levelAt(n0, automated, true)
  let left1 = levelAt(n1, automated, true)
  let right0 = left0
  let right1 = left1
  if (pan == BALANCE) {
    const nearLeft = f64x2.extract_lane(pan0, 0) <= 0
    if (nearLeft != f64x2.extract_lane(pan1, 1) <= 0) return false
    const far0 = f64x2.mul(left0, cosHalfPi(pan0))
    const far1 = f64x2.mul(left1, cosHalfPi(pan1))
    if (nearLeft) {
      right0 = far0
      right1 = far1
    } else {
      left0 = far0
      left1 = far1
    }
  } else {
    const turn0 = turnOf(pan0)
    const turn1 = turnOf(pan1)
    right0 = f64x2.mul(left0, powerRight(turn0))
    right1 = f64x2.mul(left1, powerRight(turn1))
    left0 = f64x2.mul(left0, powerLeft(turn0))
    left1 = f64x2.mul(left1, powerLeft(turn1))
  }
  const f0 = v128.shuffle<f64>(left0, right0, 0, 2)
  const f1 = v128.shuffle<f64>(left0, right0, 1, 3)
  const f2 = v128.shuffle<f64>(left1, right1, 0, 2)
  const f3 = v128.shuffle<f64>(left1, right1, 1, 3)
  keepSides(0, f0)
  keepSides(1, rowOf(0, f0, f1, f2, f3))
  keepSides(2, rowOf(1, f0, f1, f2, f3))
  keepSides(3, rowOf(2, f0, f1, f2, f3))
  return true
}

/** Adds `count` frames of the run that lies in `RUN`, from frame `first` of it on. */
@inline
function frames(
  at: i32,
  first: i32,
  count: i32,
  threaded: bool,
  automated: bool,
  pan: i32,
  curved: bool,
  measures: bool,
  wide: bool,
  soundAt: i32,
  inCell: bool,
  cell: i32,
): void {
  const l0 = v128.load(CELL_LEFT)
  const l1 = v128.load(CELL_LEFT, 16)
  const l2 = v128.load(CELL_LEFT, 32)
  const l3 = v128.load(CELL_LEFT, 48)
  const r0 = v128.load(CELL_RIGHT)
  const r1 = v128.load(CELL_RIGHT, 16)
  const r2 = v128.load(CELL_RIGHT, 32)
  const r3 = v128.load(CELL_RIGHT, 48)
  let t = f64x2.add(f64x2.splat(<f64>cell), f64x2(0, 1))
  let n = f64x2.add(f64x2.splat(<f64>first), f64x2(0, 1))
  let peakLeft = f64x2.splat(0)
  let peakRight = f64x2.splat(0)
  let energyLeft = f64x2.splat(0)
  let energyRight = f64x2.splat(0)
  if (measures) {
    peakLeft = v128.load(SO_FAR)
    peakRight = v128.load(SO_FAR, 16)
    energyLeft = v128.load(SO_FAR, 32)
    energyRight = v128.load(SO_FAR, 48)
  }
  const even = count & ~1
  let source: usize = <usize>((wide ? soundAt : at) + first) << 2
  let place: usize = <usize>(at + first) << 3
  for (let i = 0; i < count; i += 2) {
    const gain = threaded ? f64x2.mul(cube(curve(THREAD, n, curved)), v128.load(GAIN)) : v128.load(GAIN)
    let left: v128
    let right: v128
    if (inCell) {
      left = f64x2.add(l0, f64x2.mul(t, f64x2.add(l1, f64x2.mul(t, f64x2.add(l2, f64x2.mul(t, l3))))))
      right = f64x2.add(r0, f64x2.mul(t, f64x2.add(r1, f64x2.mul(t, f64x2.add(r2, f64x2.mul(t, r3))))))
    } else {
      const level = levelAt(n, automated, curved)
      if (pan == STILL) {
        left = f64x2.mul(level, v128.load(STILL_LEFT))
        right = f64x2.mul(level, v128.load(STILL_RIGHT))
      } else {
        const x = curve(PAN, n, curved)
        if (pan == BALANCE) {
          const far = f64x2.mul(level, cosHalfPi(x))
          const nearLeft = f64x2.le(x, f64x2.splat(0))
          left = v128.bitselect(level, far, nearLeft)
          right = v128.bitselect(far, level, nearLeft)
        } else {
          const turn = turnOf(x)
          left = f64x2.mul(level, powerLeft(turn))
          right = f64x2.mul(level, powerRight(turn))
        }
      }
    }
    const sl = wide
      ? v128.load(SOUND_LEFT + source + source)
      : f64x2.promote_low_f32x4(v128.load64_zero(STRIP_SOURCE_LEFT + source))
    const sr = wide
      ? v128.load(SOUND_RIGHT + source + source)
      : f64x2.promote_low_f32x4(v128.load64_zero(STRIP_SOURCE_RIGHT + source))
    const xl = f64x2.mul(f64x2.mul(sl, gain), left)
    const xr = f64x2.mul(f64x2.mul(sr, gain), right)
    if (i < even) {
      v128.store(MIX_LEFT + place, f64x2.add(v128.load(MIX_LEFT + place), xl))
      v128.store(MIX_RIGHT + place, f64x2.add(v128.load(MIX_RIGHT + place), xr))
      if (measures) {
        peakLeft = f64x2.max(peakLeft, f64x2.abs(xl))
        peakRight = f64x2.max(peakRight, f64x2.abs(xr))
        energyLeft = f64x2.add(energyLeft, f64x2.mul(xl, xl))
        energyRight = f64x2.add(energyRight, f64x2.mul(xr, xr))
      }
    } else {
      // An odd last frame is computed beside one that is thrown away.
      const a = f64x2.extract_lane(xl, 0)
      const b = f64x2.extract_lane(xr, 0)
      store<f64>(MIX_LEFT + place, load<f64>(MIX_LEFT + place) + a)
      store<f64>(MIX_RIGHT + place, load<f64>(MIX_RIGHT + place) + b)
      if (measures) {
        peakLeft = f64x2.max(peakLeft, f64x2(Math.abs(a), 0))
        peakRight = f64x2.max(peakRight, f64x2(Math.abs(b), 0))
        energyLeft = f64x2.add(energyLeft, f64x2(a * a, 0))
        energyRight = f64x2.add(energyRight, f64x2(b * b, 0))
      }
    }
    t = f64x2.add(t, v128.load(TWO))
    n = f64x2.add(n, v128.load(TWO))
    source += 8
    place += 16
  }
  if (!measures) return
  v128.store(SO_FAR, peakLeft)
  v128.store(SO_FAR, peakRight, 16)
  v128.store(SO_FAR, energyLeft, 32)
  v128.store(SO_FAR, energyRight, 48)
}

/** Frames whose levels are worked out one by one. A balance that moves with everything else, straight or curved, has loops of its own. */
function exactFrames(
  at: i32,
  first: i32,
  count: i32,
  threaded: bool,
  automated: bool,
  pan: i32,
  curved: bool,
  measures: bool,
  wide: bool,
  soundAt: i32,
): void {
  if (threaded && automated && pan == BALANCE && !measures) {
    if (curved) frames(at, first, count, true, true, BALANCE, true, false, false, 0, false, 0)
    else frames(at, first, count, true, true, BALANCE, false, false, false, 0, false, 0)
  } else frames(at, first, count, threaded, automated, pan, curved, measures, wide, soundAt, false, 0)
}

/** Frames of one cell, after `setCell`; `cell` is the place of the first in it. */
@inline
function cellFrames(
  at: i32,
  first: i32,
  count: i32,
  threaded: bool,
  curved: bool,
  measures: bool,
  wide: bool,
  soundAt: i32,
  cell: i32,
): void {
  if (measures) frames(at, first, count, threaded, true, BALANCE, curved, true, wide, soundAt, true, cell)
  else frames(at, first, count, threaded, true, BALANCE, curved, false, wide, soundAt, true, cell)
}

/** The cells of a run one after the other; `cell` is the place of its first frame in its cell. */
function cells(
  at: i32,
  count: i32,
  threaded: bool,
  automated: bool,
  pan: i32,
  curved: bool,
  measures: bool,
  wide: bool,
  soundAt: i32,
  cell: i32,
): void {
  let done: i32 = 0
  while (done < count) {
    const many = min(CELL_FRAMES - cell, count - done)
    if (!setCell(done - cell, automated, pan))
      exactFrames(at, done, many, threaded, automated, pan, curved, measures, wide, soundAt)
    else if (wide) cellFrames(at, done, many, false, false, measures, true, soundAt, cell)
    else if (!threaded) cellFrames(at, done, many, false, false, measures, false, 0, cell)
    else if (curved) cellFrames(at, done, many, true, true, measures, false, 0, cell)
    else cellFrames(at, done, many, true, false, measures, false, 0, cell)
    done += many
    cell = 0
  }
}

/** See `StripRun`. */
export function addFrames(
  at: i32,
  count: i32,
  threaded: bool,
  gain: f64,
  gt: f64,
  g0: f64,
  g1: f64,
  g2: f64,
  g3: f64,
  automated: bool,
  level: f64,
  vt: f64,
  v0: f64,
  v1: f64,
  v2: f64,
  v3: f64,
  pan: i32,
  left: f64,
  right: f64,
  pt: f64,
  p0: f64,
  p1: f64,
  p2: f64,
  p3: f64,
  curved: bool,
  measures: bool,
  wide: bool,
  soundAt: i32,
  cell: i32,
): void {
  keep(GAIN, gain)
  keep(LEVEL, level)
  keep(STILL_LEFT, left)
  keep(STILL_RIGHT, right)
  keepCubic(THREAD, gt, g0, g1, g2, g3)
  keepCubic(VOLUME, vt, v0, v1, v2, v3)
  keepCubic(PAN, pt, p0, p1, p2, p3)
  for (let n: usize = 0; n < 4; n++) keep(SO_FAR + 16 * n, 0)
  if (cell < 0) exactFrames(at, 0, count, threaded, automated, pan, curved, measures, wide, soundAt)
  else cells(at, count, threaded, automated, pan, curved, measures, wide, soundAt, cell)
  if (!measures) return
  const peakLeft = v128.load(SO_FAR)
  const peakRight = v128.load(SO_FAR, 16)
  const energyLeft = v128.load(SO_FAR, 32)
  const energyRight = v128.load(SO_FAR, 48)
  store<f64>(MEASURED, Math.max(f64x2.extract_lane(peakLeft, 0), f64x2.extract_lane(peakLeft, 1)))
  store<f64>(MEASURED + 8, Math.max(f64x2.extract_lane(peakRight, 0), f64x2.extract_lane(peakRight, 1)))
  store<f64>(MEASURED + 16, f64x2.extract_lane(energyLeft, 0) + f64x2.extract_lane(energyLeft, 1))
  store<f64>(MEASURED + 24, f64x2.extract_lane(energyRight, 0) + f64x2.extract_lane(energyRight, 1))
}
