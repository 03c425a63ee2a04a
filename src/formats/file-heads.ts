const tag = (bytes: Uint8Array, at: number) => String.fromCharCode(...bytes.subarray(at, at + 4))

/** Whether the first bytes are those of a ZIP archive. */
export const isZip = (head: Uint8Array) => head[0] === 0x50 && head[1] === 0x4b

/** Whether the first bytes are those of a WAV, RF64 or BW64 file. */
export const isWav = (head: Uint8Array) =>
  head.length >= 12 && ['RIFF', 'RF64', 'BW64'].includes(tag(head, 0)) && tag(head, 8) === 'WAVE'

/** Whether the first bytes are those of an AIFF or AIFF-C file. */
export const isAiff = (head: Uint8Array) =>
  head.length >= 12 && tag(head, 0) === 'FORM' && ['AIFF', 'AIFC'].includes(tag(head, 8))
