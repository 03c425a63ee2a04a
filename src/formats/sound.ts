/** A file of sound that is read block by block, at its full depth. */
export interface SoundFile {
  channels: 1 | 2
  sampleRate: number
  frames: number
  /** The depth in words: "24-bit", "32-bit float". */
  format: string
  /** Marked places, in frames of the file. */
  cues: { frame: number; name: string }[]
  /** The file's place on a timeline as its `bext` chunk tells, in frames since midnight; null where it does not. */
  timeReference: number | null
  /** All samples in order, `blockFrames` or fewer at a time, one array a channel. Throws `FileError`. */
  blocks(blockFrames: number): AsyncGenerator<Float32Array[]>
}

/** What a file says of itself. */
export type SoundHead = Pick<SoundFile, 'channels' | 'sampleRate' | 'format' | 'timeReference'>
