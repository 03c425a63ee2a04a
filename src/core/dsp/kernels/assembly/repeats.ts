// What a delay writes and puts out, in AssemblyScript; `plainRepeats` in `../repeats.ts` is its definition, to the bit. Part of
// `processing.ts`.

import {
  FEEDBACKS,
  LEFT,
  MIXES,
  REPEAT_STATES,
  RIGHT,
  WET_LEFT,
  WET_RIGHT,
  WRITTEN_LEFT,
  WRITTEN_RIGHT,
} from '../processing-places'

const FLUSH_FRAMES: i32 = 64

/** See `Repeats.cutHigh`. Left and right are the two lanes. */
export function cutRepeats(from: i32, count: i32, cut: f64, fade: f64): void {
  const coefficient = f64x2.splat(cut)
  const kept = f64x2.splat(fade)
  const rest = f64x2.splat(1 - fade)
  let state = v128.load(REPEAT_STATES)
  for (let k = 0; k < count; k++) {
    if (((from + k) & (FLUSH_FRAMES - 1)) == 0)
      state = v128.and(state, f64x2.ge(f64x2.abs(state), f64x2.splat(1e-30)))
    const at = <usize>k << 3
    let wet = v128.load64_lane(WET_RIGHT + at, v128.load64_zero(WET_LEFT + at), 1)
    const v = f64x2.mul(f64x2.sub(wet, state), coefficient)
    const low = f64x2.add(v, state)
    state = f64x2.add(low, v)
    wet = fade == 1 ? low : f64x2.add(f64x2.mul(low, kept), f64x2.mul(wet, rest))
    v128.store64_lane(WET_LEFT + at, wet, 0)
    v128.store64_lane(WET_RIGHT + at, wet, 1)
  }
  v128.store(REPEAT_STATES, state)
}

@inline
function side(sound: usize, wets: usize, written: usize, from: usize, count: usize): void {
  const one = f64x2.splat(1)
  let at: usize = 0
  for (; at + 8 < count; at += 16) {
    const place = from + at
    const x = v128.load(sound + place)
    const wet = v128.load(wets + at)
    const mix = v128.load(MIXES + place)
    v128.store(written + at, f64x2.add(x, f64x2.mul(v128.load(FEEDBACKS + place), wet)))
    v128.store(sound + place, f64x2.add(f64x2.mul(f64x2.sub(one, mix), x), f64x2.mul(mix, wet)))
  }
  if (at < count) {
    const place = from + at
    const x = load<f64>(sound + place)
    const wet = load<f64>(wets + at)
    const mix = load<f64>(MIXES + place)
    store<f64>(written + at, x + load<f64>(FEEDBACKS + place) * wet)
    store<f64>(sound + place, (1 - mix) * x + mix * wet)
  }
}

/** See `Repeats.mix`. */
export function mixRepeats(channels: i32, from: i32, count: i32): void {
  const first = <usize>from << 3
  const length = <usize>count << 3
  side(LEFT, WET_LEFT, WRITTEN_LEFT, first, length)
  if (channels == 2) side(RIGHT, WET_RIGHT, WRITTEN_RIGHT, first, length)
}
