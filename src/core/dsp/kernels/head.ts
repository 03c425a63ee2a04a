/** The first `count` samples of an array: the array itself where that is all, so that nothing is made. */
export const head = <T extends Float32Array | Float64Array>(samples: T, count: number): T =>
  count === samples.length ? samples : (samples.subarray(0, count) as T)
