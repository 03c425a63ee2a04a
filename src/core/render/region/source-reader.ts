/** Where samples come from. All that a render needs must be at hand when it runs. */
export interface SourceReader {
  /** Copies `count` samples of a channel (0 or 1) from source frame `frame` on into `out[0…count-1]`. */
  read(sourceId: string, channel: number, frame: number, count: number, out: Float32Array): void
  /**
   * The same samples where they lie, if they lie side by side: not to be changed, and valid until more is fetched. Null
   * where they have to be copied.
   */
  view?(sourceId: string, channel: number, frame: number, count: number): Float32Array | null
}
