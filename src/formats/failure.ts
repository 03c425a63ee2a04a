/** A file that cannot be used, with one sentence for the user that says what is wrong with it. */
export class FileError extends Error {
  override name = 'FileError'
}

/** A file whose sound is not what its checksum is of: it may be taken all the same, where the person wants that. */
export class WrongChecksum extends FileError {
  override name = 'WrongChecksum'

  constructor() {
    super('is damaged somewhere: its sound does not have the checksum (MD5) that was written into it.')
  }
}

/** Sound that is to be written and is larger than a number can be; the sentence says where. */
export class TooLarge extends Error {
  override name = 'TooLarge'

  constructor(seconds: number) {
    super(
      `${seconds.toFixed(3)} s after the start of the file the sound is too large to be a number, so nothing was written. ` +
        'Lower what raises it there: a clip gain, a fader, an insert, or the sound itself.',
    )
  }
}

/** The sentence for a file that was changed or taken away after it was chosen; null for any other error. */
export const changedFile = (error: unknown): string | null =>
  (error as { name?: string } | null)?.name === 'NotReadableError'
    ? 'was changed or taken away while it was read: choose it again.'
    : null
