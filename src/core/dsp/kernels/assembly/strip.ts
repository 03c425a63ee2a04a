// The inner loop of a strip in AssemblyScript; `plainStripKernel` in `../strip.ts` is its definition, to the bit. Two frames at
// a time, in 64-bit lanes. Built by `npm run kernels`.

/**
 * Where things lie in the memory: both sides of the mix (64-bit), both sides of a source (32-bit), what was measured, both
 * sides of a sound that comes out of inserts (64-bit).
 */
const MIX_LEFT: usize = 0
const MIX_RIGHT: usize = 8192
const SOURCE_LEFT: usize = 16384
const SOURCE_RIGHT: usize = 20480
const MEASURED: usize = 24576
const SOUND_LEFT: usize = 32768
const SOUND_RIGHT: usize = 40960

@inline
function curve(t: v128, c0: v128, c1: v128, c2: v128, c3: v128, curved: bool): v128 {
  if (curved) return f64x2.add(c0, f64x2.mul(t, f64x2.add(c1, f64x2.mul(t, f64x2.add(c2, f64x2.mul(t, c3))))))
  return f64x2.add(c0, f64x2.mul(t, c1))
}

@inline
function cube(height: v128): v128 {
  return f64x2.mul(f64x2.mul(height, height), height)
}

@inline
function cosHalfPi(x: v128): v128 {
  const z = f64x2.mul(x, x)
  const one = f64x2.splat(1)
  const q4 = f64x2.add(f64x2.splat(2.4716123441357273e-5), f64x2.mul(z, f64x2.splat(-4.460047435259846e-7)))
  const q3 = f64x2.add(f64x2.splat(-0.0008945119709039604), f64x2.mul(z, q4))
  const q2 = f64x2.add(f64x2.splat(0.01996895516316129), f64x2.mul(z, q3))
  const q1 = f64x2.add(f64x2.splat(-0.23370054991158176), f64x2.mul(z, q2))
  return f64x2.mul(f64x2.sub(one, z), f64x2.add(one, f64x2.mul(z, q1)))
}

@inline
function frames(
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
  const one = f64x2.splat(1)
  const gains = f64x2.splat(gain)
  const levels = f64x2.splat(level)
  const two = f64x2.splat(2)
  let g: v128 = f64x2(gt, gt + 1)
  let v: v128 = f64x2(vt, vt + 1)
  let p: v128 = f64x2(pt, pt + 1)
  let peakLeft = f64x2.splat(0)
  let peakRight = f64x2.splat(0)
  let energyLeft = f64x2.splat(0)
  let energyRight = f64x2.splat(0)
  const even = count & ~1
  let source: usize = 0
  let place: usize = <usize>at << 3
  for (let i = 0; i < count; i += 2) {
    const gainNow = threaded
      ? f64x2.mul(cube(curve(g, f64x2.splat(g0), f64x2.splat(g1), f64x2.splat(g2), f64x2.splat(g3), curved)), gains)
      : gains
    const levelNow = automated
      ? f64x2.mul(cube(curve(v, f64x2.splat(v0), f64x2.splat(v1), f64x2.splat(v2), f64x2.splat(v3), curved)), levels)
      : levels
    let l = f64x2.splat(left)
    let r = f64x2.splat(right)
    if (pan != 0) {
      const x = curve(p, f64x2.splat(p0), f64x2.splat(p1), f64x2.splat(p2), f64x2.splat(p3), curved)
      if (pan == 1) {
        const far = cosHalfPi(x)
        const nearLeft = f64x2.le(x, f64x2.splat(0))
        l = v128.bitselect(one, far, nearLeft)
        r = v128.bitselect(far, one, nearLeft)
      } else {
        const half = f64x2.div(f64x2.add(x, one), two)
        l = cosHalfPi(half)
        r = cosHalfPi(f64x2.sub(one, half))
      }
    }
    const sl = wide
      ? v128.load(SOUND_LEFT + source + source)
      : f64x2.promote_low_f32x4(v128.load64_zero(SOURCE_LEFT + source))
    const sr = wide
      ? v128.load(SOUND_RIGHT + source + source)
      : f64x2.promote_low_f32x4(v128.load64_zero(SOURCE_RIGHT + source))
    const xl = f64x2.mul(f64x2.mul(sl, gainNow), f64x2.mul(levelNow, l))
    const xr = f64x2.mul(f64x2.mul(sr, gainNow), f64x2.mul(levelNow, r))
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
    g = f64x2.add(g, two)
    v = f64x2.add(v, two)
    p = f64x2.add(p, two)
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
  if (wide) {
    if (automated && pan == 1 && !curved && !measures)
      frames(at, count, false, gain, gt, g0, g1, g2, g3, true, level, vt, v0, v1, v2, v3, 1, left, right, pt, p0, p1, p2, p3, false, false, true)
    else if (automated && pan == 1 && !curved)
      frames(at, count, false, gain, gt, g0, g1, g2, g3, true, level, vt, v0, v1, v2, v3, 1, left, right, pt, p0, p1, p2, p3, false, true, true)
    else
      frames(at, count, false, gain, gt, g0, g1, g2, g3, automated, level, vt, v0, v1, v2, v3, pan, left, right, pt, p0, p1, p2, p3, curved, measures, true)
  } else if (threaded && automated && pan == 1 && !measures) {
    if (curved)
      frames(at, count, true, gain, gt, g0, g1, g2, g3, true, level, vt, v0, v1, v2, v3, 1, left, right, pt, p0, p1, p2, p3, true, false, false)
    else
      frames(at, count, true, gain, gt, g0, g1, g2, g3, true, level, vt, v0, v1, v2, v3, 1, left, right, pt, p0, p1, p2, p3, false, false, false)
  } else
    frames(at, count, threaded, gain, gt, g0, g1, g2, g3, automated, level, vt, v0, v1, v2, v3, pan, left, right, pt, p0, p1, p2, p3, curved, measures, false)
}
