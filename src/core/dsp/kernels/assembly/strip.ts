// The inner loop of a strip in AssemblyScript; `plainStripKernel` in `../strip.ts` is its definition, to the bit. Two frames at
// a time, in 64-bit lanes. Built by `npm run kernels`.

/**
 * Where things lie in the memory: both sides of the mix (64-bit), both sides of a source (32-bit), what was measured, both
 * sides of a sound that comes out of inserts (64-bit).
 */
const MIX_LEFT: usize = 0
const MIX_RIGHT: usize = 32768
const SOURCE_LEFT: usize = 65536
const SOURCE_RIGHT: usize = 81920
const MEASURED: usize = 98304
const SOUND_LEFT: usize = 99328
const SOUND_RIGHT: usize = 107520

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

/** The numbers of a run: gain, level, left, right, and three cubics of five numbers each, all in both lanes. */
const RUN: usize = memory.data(16 * 19, 16)
const GAIN: usize = RUN
const LEVEL: usize = RUN + 16
const STILL_LEFT: usize = RUN + 32
const STILL_RIGHT: usize = RUN + 48
const THREAD: usize = RUN + 64
const VOLUME: usize = THREAD + 80
const PAN: usize = VOLUME + 80

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

/** Kinds of pan: a balance that crosses the centre, an equal-power law, balances that stay on one side. */
const BALANCE: i32 = 1
const LEFT_OF_CENTRE: i32 = 3
const RIGHT_OF_CENTRE: i32 = 4

/** The loops for what moves in all ways that a strip can; others share one. */
@inline
function movingFrames(at: i32, count: i32, pan: i32, curved: bool, measures: bool, wide: bool): void {
  if (curved) {
    if (measures) frames(at, count, !wide, true, pan, true, true, wide)
    else frames(at, count, !wide, true, pan, true, false, wide)
  } else if (measures) frames(at, count, !wide, true, pan, false, true, wide)
  else frames(at, count, !wide, true, pan, false, false, wide)
}

/** Adds the frames of the run that lies in `RUN`. */
@inline
function frames(
  at: i32,
  count: i32,
  threaded: bool,
  automated: bool,
  pan: i32,
  curved: bool,
  measures: bool,
  wide: bool,
): void {
  let n: v128 = f64x2(0, 1)
  let peakLeft = f64x2.splat(0)
  let peakRight = f64x2.splat(0)
  let energyLeft = f64x2.splat(0)
  let energyRight = f64x2.splat(0)
  const even = count & ~1
  let source: usize = wide ? 0 : <usize>at << 2
  let place: usize = <usize>at << 3
  for (let i = 0; i < count; i += 2) {
    const gain = threaded ? f64x2.mul(cube(curve(THREAD, n, curved)), v128.load(GAIN)) : v128.load(GAIN)
    const level = automated ? f64x2.mul(cube(curve(VOLUME, n, curved)), v128.load(LEVEL)) : v128.load(LEVEL)
    let left = level
    let right = level
    if (pan == 0) {
      left = f64x2.mul(level, v128.load(STILL_LEFT))
      right = f64x2.mul(level, v128.load(STILL_RIGHT))
    } else {
      const x = curve(PAN, n, curved)
      if (pan == LEFT_OF_CENTRE) right = f64x2.mul(level, cosHalfPi(x))
      else if (pan == RIGHT_OF_CENTRE) left = f64x2.mul(level, cosHalfPi(x))
      else if (pan == BALANCE) {
        const far = f64x2.mul(level, cosHalfPi(x))
        const nearLeft = f64x2.le(x, f64x2.splat(0))
        left = v128.bitselect(level, far, nearLeft)
        right = v128.bitselect(far, level, nearLeft)
      } else {
        const half = f64x2.div(f64x2.add(x, v128.load(ONE)), v128.load(TWO))
        left = f64x2.mul(level, cosHalfPi(half))
        right = f64x2.mul(level, cosHalfPi(f64x2.sub(v128.load(ONE), half)))
      }
    }
    const sl = wide
      ? v128.load(SOUND_LEFT + source + source)
      : f64x2.promote_low_f32x4(v128.load64_zero(SOURCE_LEFT + source))
    const sr = wide
      ? v128.load(SOUND_RIGHT + source + source)
      : f64x2.promote_low_f32x4(v128.load64_zero(SOURCE_RIGHT + source))
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
    n = f64x2.add(n, v128.load(TWO))
    source += 8
    place += 16
  }
  if (!measures) return
  store<f64>(MEASURED, Math.max(f64x2.extract_lane(peakLeft, 0), f64x2.extract_lane(peakLeft, 1)))
  store<f64>(MEASURED + 8, Math.max(f64x2.extract_lane(peakRight, 0), f64x2.extract_lane(peakRight, 1)))
  store<f64>(MEASURED + 16, f64x2.extract_lane(energyLeft, 0) + f64x2.extract_lane(energyLeft, 1))
  store<f64>(MEASURED + 24, f64x2.extract_lane(energyRight, 0) + f64x2.extract_lane(energyRight, 1))
}

/** See `StripRun`. What moves in all three ways, straight or curved, has loops of its own. */
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
): void {
  keep(GAIN, gain)
  keep(LEVEL, level)
  keep(STILL_LEFT, left)
  keep(STILL_RIGHT, right)
  keepCubic(THREAD, gt, g0, g1, g2, g3)
  keepCubic(VOLUME, vt, v0, v1, v2, v3)
  keepCubic(PAN, pt, p0, p1, p2, p3)
  if (!automated || threaded == wide || pan == 0 || pan == 2)
    frames(at, count, threaded, automated, pan, curved, measures, wide)
  else if (wide) {
    if (pan == LEFT_OF_CENTRE) movingFrames(at, count, LEFT_OF_CENTRE, curved, measures, true)
    else if (pan == RIGHT_OF_CENTRE) movingFrames(at, count, RIGHT_OF_CENTRE, curved, measures, true)
    else movingFrames(at, count, BALANCE, curved, measures, true)
  } else if (pan == LEFT_OF_CENTRE) movingFrames(at, count, LEFT_OF_CENTRE, curved, measures, false)
  else if (pan == RIGHT_OF_CENTRE) movingFrames(at, count, RIGHT_OF_CENTRE, curved, measures, false)
  else movingFrames(at, count, BALANCE, curved, measures, false)
}
