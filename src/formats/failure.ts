/** A file that cannot be used, with one sentence for the user that says what is wrong with it. */
export class FileError extends Error {
  override name = 'FileError'
}
