// What loops over 32-bit numbers share, in AssemblyScript.

/** Sets numbers of an array to 0 that are smaller than `least`, or no numbers. */
export function flushNarrow(from: usize, to: usize, least: f32): void {
  const smallest = f32x4.splat(least)
  let at = from
  for (; at + 12 < to; at += 16) {
    const x = v128.load(at)
    v128.store(at, v128.and(x, f32x4.le(smallest, f32x4.abs(x))))
  }
  for (; at < to; at += 4) if (!(Mathf.abs(load<f32>(at)) >= least)) store<f32>(at, 0)
}
