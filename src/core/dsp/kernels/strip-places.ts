// Where the arrays of the strip kernel lie in its memory, in bytes; see `processing-places.ts`.

const GAP: usize = 64
/** Bytes of a side of the mix, 64-bit, of a source, 32-bit, and of a sound that comes out of inserts, 64-bit. */
const MIX_SIDE: usize = 8 * 4096
const SOURCE_SIDE: usize = 4 * 4096
const SOUND_SIDE: usize = 8 * 1024

export const MIX_LEFT: usize = GAP
export const MIX_RIGHT: usize = MIX_LEFT + MIX_SIDE + GAP
export const STRIP_SOURCE_LEFT: usize = MIX_RIGHT + MIX_SIDE + GAP
export const STRIP_SOURCE_RIGHT: usize = STRIP_SOURCE_LEFT + SOURCE_SIDE + GAP
export const SOUND_LEFT: usize = STRIP_SOURCE_RIGHT + SOURCE_SIDE + GAP
export const SOUND_RIGHT: usize = SOUND_LEFT + SOUND_SIDE + GAP
export const MEASURED: usize = SOUND_RIGHT + SOUND_SIDE + GAP

export const STRIP_END: usize = MEASURED + 32 + GAP
