/** Frames that processors and their kernels work on at a time, at most. */
export const SOUND_FRAMES = 1024

/** Frames that the mix and the source of a strip's kernel hold; what came out of inserts comes in shorter blocks. */
export const KERNEL_FRAMES = 4096
