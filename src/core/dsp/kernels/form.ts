let plain = false

/** Whether kernels that are asked for now are the plain ones, which are the definition. */
export const wantsPlain = (): boolean => plain

/** Does something with the plain form of all kernels that are asked for meanwhile, to hold the quick one against it. */
export function inPlainForm<T>(work: () => T): T {
  const before = plain
  plain = true
  try {
    return work()
  } finally {
    plain = before
  }
}
