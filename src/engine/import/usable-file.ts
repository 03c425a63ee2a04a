import { LIMITS } from '../../core/model/session'
import { FileError } from '../../formats/failure'

/** Throws a `FileError` for what can be seen of a file before it is read. */
export function assertUsableFile(file: { name: string; size: number }): void {
  if (file.name.length > LIMITS.nameLength)
    throw new FileError(
      `has a name of ${file.name.length} characters; names of up to ${LIMITS.nameLength} are taken, so rename it first.`,
    )
  if (file.size === 0) throw new FileError('is empty: it has 0 bytes.')
}
