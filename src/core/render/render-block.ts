export { BLOCK_FRAMES as RENDER_BLOCK } from '../dsp/processors/processor'
