/** Frames rendered in one go; longer requests are cut into these. It has no influence on the result. */
export const RENDER_BLOCK = 1024
