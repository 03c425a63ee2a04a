import { KERNEL_FRAMES } from '../dsp/kernels/frames'
import { BLOCK_FRAMES as RENDER_BLOCK, type Sides } from '../dsp/processors/processor'

export { RENDER_BLOCK }

/** Room for both sides of a block of `RENDER_BLOCK` frames. */
export const blockSides = (): Sides => [new Float64Array(RENDER_BLOCK), new Float64Array(RENDER_BLOCK)]

/** Frames that are rendered at a time where nothing remembers: what is done once for a block then matters less. */
export const PLAIN_BLOCK = KERNEL_FRAMES
