// A cascade of filters in AssemblyScript; `plainFilters` in `../filter.ts` is its definition, to the bit. Left and right are the
// two 64-bit lanes. Part of `processing.ts`.

import { LEFT, RIGHT, SECTIONS } from '../processing-places'

/** Six coefficients, what they change by with each frame, and two states, all for both lanes. */
const SECTION: usize = 224
const STEPS: usize = 96
const STATES: usize = 192
const FLUSH_FRAMES: i32 = 64

@inline
function loud(state: v128): v128 {
  return v128.and(state, f64x2.ge(f64x2.abs(state), f64x2.splat(1e-30)))
}

@inline
function input(at: usize): v128 {
  return v128.load64_lane(RIGHT + at, v128.load64_zero(LEFT + at), 1)
}

@inline
function output(at: usize, y: v128): void {
  v128.store64_lane(LEFT + at, y, 0)
  v128.store64_lane(RIGHT + at, y, 1)
}

// One section: p, q, r lead to the next states, d, l, c to what comes out.
@inline
function firstState(section: usize, s1: v128, e: v128): v128 {
  return f64x2.add(f64x2.mul(v128.load(section), s1), f64x2.mul(v128.load(section, 16), e))
}

@inline
function secondState(section: usize, s1: v128, s2: v128, e: v128): v128 {
  return f64x2.add(s2, f64x2.add(f64x2.mul(v128.load(section, 16), s1), f64x2.mul(v128.load(section, 32), e)))
}

@inline
function sectionOutput(section: usize, s1: v128, s2: v128, e: v128): v128 {
  return f64x2.add(
    f64x2.add(f64x2.mul(v128.load(section, 48), e), f64x2.mul(v128.load(section, 64), s2)),
    f64x2.mul(v128.load(section, 80), s1),
  )
}

function one(section: usize, from: i32, to: i32): void {
  let s1 = loud(v128.load(section, STATES))
  let s2 = loud(v128.load(section, STATES + 16))
  for (let i: usize = <usize>from << 3; i < <usize>to << 3; i += 8) {
    const e = f64x2.sub(input(i), s2)
    output(i, sectionOutput(section, s1, s2, e))
    const next = firstState(section, s1, e)
    s2 = secondState(section, s1, s2, e)
    s1 = next
  }
  v128.store(section, s1, STATES)
  v128.store(section, s2, STATES + 16)
}

function two(a: usize, from: i32, to: i32): void {
  const b = a + SECTION
  let a1 = loud(v128.load(a, STATES))
  let a2 = loud(v128.load(a, STATES + 16))
  let b1 = loud(v128.load(b, STATES))
  let b2 = loud(v128.load(b, STATES + 16))
  for (let i: usize = <usize>from << 3; i < <usize>to << 3; i += 8) {
    let e = f64x2.sub(input(i), a2)
    const x = sectionOutput(a, a1, a2, e)
    let next = firstState(a, a1, e)
    a2 = secondState(a, a1, a2, e)
    a1 = next
    e = f64x2.sub(x, b2)
    output(i, sectionOutput(b, b1, b2, e))
    next = firstState(b, b1, e)
    b2 = secondState(b, b1, b2, e)
    b1 = next
  }
  v128.store(a, a1, STATES)
  v128.store(a, a2, STATES + 16)
  v128.store(b, b1, STATES)
  v128.store(b, b2, STATES + 16)
}

/**
 * Four at once, each a frame behind the one before it: what one of them puts out is taken in by the next with the next frame, so that none
 * waits for another. A section waits for itself for sixteen cycles of the processor from frame to frame, in which it works on the others.
 */
function four(a: usize, from: i32, to: i32): void {
  const b = a + SECTION
  const c = b + SECTION
  const d = c + SECTION
  let a1 = loud(v128.load(a, STATES))
  let a2 = loud(v128.load(a, STATES + 16))
  let b1 = loud(v128.load(b, STATES))
  let b2 = loud(v128.load(b, STATES + 16))
  let c1 = loud(v128.load(c, STATES))
  let c2 = loud(v128.load(c, STATES + 16))
  let d1 = loud(v128.load(d, STATES))
  let d2 = loud(v128.load(d, STATES + 16))
  let x = f64x2.splat(0)
  let y = f64x2.splat(0)
  let z = f64x2.splat(0)
  const count = to - from
  for (let n = 0; n < count + 3; n++) {
    const at: usize = <usize>(from + n) << 3
    let e: v128
    let next: v128
    if (n >= 3) {
      e = f64x2.sub(z, d2)
      output(at - 24, sectionOutput(d, d1, d2, e))
      next = firstState(d, d1, e)
      d2 = secondState(d, d1, d2, e)
      d1 = next
    }
    if (n >= 2 && n < count + 2) {
      e = f64x2.sub(y, c2)
      z = sectionOutput(c, c1, c2, e)
      next = firstState(c, c1, e)
      c2 = secondState(c, c1, c2, e)
      c1 = next
    }
    if (n >= 1 && n < count + 1) {
      e = f64x2.sub(x, b2)
      y = sectionOutput(b, b1, b2, e)
      next = firstState(b, b1, e)
      b2 = secondState(b, b1, b2, e)
      b1 = next
    }
    if (n < count) {
      e = f64x2.sub(input(at), a2)
      x = sectionOutput(a, a1, a2, e)
      next = firstState(a, a1, e)
      a2 = secondState(a, a1, a2, e)
      a1 = next
    }
  }
  v128.store(a, a1, STATES)
  v128.store(a, a2, STATES + 16)
  v128.store(b, b1, STATES)
  v128.store(b, b2, STATES + 16)
  v128.store(c, c1, STATES)
  v128.store(c, c2, STATES + 16)
  v128.store(d, d1, STATES)
  v128.store(d, d2, STATES + 16)
}

function moving(section: usize, from: i32, to: i32): void {
  let s1 = v128.load(section, STATES)
  let s2 = v128.load(section, STATES + 16)
  for (let i: usize = <usize>from << 3; i < <usize>to << 3; i += 8) {
    const e = f64x2.sub(input(i), s2)
    output(i, sectionOutput(section, s1, s2, e))
    const next = firstState(section, s1, e)
    s2 = secondState(section, s1, s2, e)
    s1 = next
    for (let k: usize = 0; k < 96; k += 16)
      v128.store(section + k, f64x2.add(v128.load(section + k), v128.load(section + k, STEPS)))
  }
  v128.store(section, s1, STATES)
  v128.store(section, s2, STATES + 16)
}

/** Runs `sections` one after the other over the frames from `from` to `to`, whose coefficients stay. */
export function filterFrames(sections: i32, from: i32, to: i32): void {
  for (let at = from; at < to; at += FLUSH_FRAMES) {
    const end = min(to, at + FLUSH_FRAMES)
    let n = 0
    while (n + 4 <= sections) {
      four(SECTIONS + <usize>n * SECTION, at, end)
      n += 4
    }
    while (n + 2 <= sections) {
      two(SECTIONS + <usize>n * SECTION, at, end)
      n += 2
    }
    if (n < sections) one(SECTIONS + <usize>n * SECTION, at, end)
  }
}

/** The same for coefficients that change with every frame, over one run of them. */
export function filterMoving(sections: i32, from: i32, to: i32, flush: bool): void {
  for (let n = 0; n < sections; n++) {
    const section = SECTIONS + <usize>n * SECTION
    if (flush) {
      v128.store(section, loud(v128.load(section, STATES)), STATES)
      v128.store(section, loud(v128.load(section, STATES + 16)), STATES + 16)
    }
    moving(section, from, to)
  }
}
