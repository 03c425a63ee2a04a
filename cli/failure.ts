/** A command that was called wrongly: one line on standard error, exit code 2. */
export class UsageError extends Error {
  override name = 'UsageError'
}

/** Input that cannot be used: one line on standard error, exit code 1. */
export class InputError extends Error {
  override name = 'InputError'
}
