import { createHash } from 'node:crypto'
import { interleavedBytes } from './samples-hash'

/** The hash that `SamplesHash` makes, of a whole sound at once. */
export const samplesHash = (channels: readonly Float32Array[]): string =>
  createHash('sha256').update(interleavedBytes(channels)).digest('hex')
