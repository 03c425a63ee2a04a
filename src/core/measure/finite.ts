/** Whether a block, one array a channel, is silence. */
export function isSilence(block: readonly Float32Array[]): boolean {
  for (const samples of block) for (let i = 0; i < samples.length; i++) if (samples[i] !== 0) return false
  return true
}

/** The index of the first frame of a block, one array a channel, that is no finite number; -1 where all are. */
export function firstNotFinite(block: readonly Float32Array[]): number {
  let first = -1
  for (const samples of block) {
    // Quick where all is well: infinity and NaN make every sum NaN.
    let sum = 0
    for (let i = 0; i < samples.length; i++) sum += samples[i]! * 0
    if (sum === 0) continue
    const at = samples.findIndex((x) => !Number.isFinite(x))
    if (first < 0 || at < first) first = at
  }
  return first
}
