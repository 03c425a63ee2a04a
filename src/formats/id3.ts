/** The size of an ID3 tag that stands before a file's own beginning, in bytes with its head; 0 where there is none. */
export const id3Size = (head: Uint8Array): number =>
  head.length >= 10 && head[0] === 0x49 && head[1] === 0x44 && head[2] === 0x33
    ? 10 + ((head[6]! << 21) | (head[7]! << 14) | (head[8]! << 7) | head[9]!)
    : 0
