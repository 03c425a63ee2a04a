import { KERNEL_FRAMES } from '../dsp/kernels/frames'

export { BLOCK_FRAMES as RENDER_BLOCK } from '../dsp/processors/processor'

/** Frames that are rendered at a time where nothing remembers: what is done once for a block then matters less. */
export const PLAIN_BLOCK = KERNEL_FRAMES
