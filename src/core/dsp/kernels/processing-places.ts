// Where the arrays of the processing kernel lie in its memory, in bytes. The plain form, the WebAssembly form and its source in
// `assembly` all take them from here. Each array is followed by a gap that nobody may write to: the tests watch it.

const GAP: usize = 64
/** Bytes of a side of the sound, 64-bit, and of a side of a source, 32-bit. */
const SIDE: usize = 8 * 1024
const SOURCE_SIDE: usize = 4 * 1024

/** Both sides of the sound that is worked on. */
export const LEFT: usize = GAP
export const RIGHT: usize = LEFT + SIDE + GAP

/** Both sides of a source before it is placed. */
export const SOURCE_LEFT: usize = RIGHT + SIDE + GAP
export const SOURCE_RIGHT: usize = SOURCE_LEFT + SOURCE_SIDE + GAP

/** 64 filter sections of 28 numbers each. */
export const SECTIONS: usize = SOURCE_RIGHT + SOURCE_SIDE + GAP

/** Levels of dynamics, and what they heard. */
export const LEVELS: usize = SECTIONS + 64 * 28 * 8 + GAP
export const HEARD: usize = LEVELS + SIDE + GAP

/** Points between samples: the samples around them, the tables of taps, and the sizes of points of each of seven phases. */
export const POINT_WINDOW: usize = HEARD + 12288 * 8 + GAP
export const TAP_TABLES: usize = POINT_WINDOW + (1024 + 320) * 8 + GAP
/** Bytes from the sizes of one phase to those of the next. */
export const PHASE_BYTES: usize = (1024 + 72) * 8 + GAP
export const POINT_SIZES: usize = TAP_TABLES + 4 * 7 * 128 * 8 + GAP

/** Rough points: the samples, the largest of each part, the largest point of each part and phase, the mirrored taps. */
export const ROUGH_WINDOW: usize = POINT_SIZES + 7 * PHASE_BYTES
export const ROUGH_SAMPLES: usize = ROUGH_WINDOW + 18 * 16 * 4 + GAP
export const ROUGH_SIZES: usize = ROUGH_SAMPLES + 18 * 4 + 8 + GAP
export const MIRRORED_TAPS: usize = ROUGH_SIZES + 16 * 7 * 4 + GAP

/** A delay: what came out of the lines, what goes into them, feedback and mix of every frame, states of the high cuts. */
export const WET_LEFT: usize = MIRRORED_TAPS + 7 * 16 * 4 + GAP
export const WET_RIGHT: usize = WET_LEFT + SIDE + GAP
export const WRITTEN_LEFT: usize = WET_RIGHT + SIDE + GAP
export const WRITTEN_RIGHT: usize = WRITTEN_LEFT + SIDE + GAP
export const FEEDBACKS: usize = WRITTEN_RIGHT + SIDE + GAP
export const MIXES: usize = FEEDBACKS + SIDE + GAP
export const REPEAT_STATES: usize = MIXES + SIDE + GAP

/** A saturator: numbers of its loops, drives, what comes in and what comes out; both sides in turn at two, four and eight times the rate. */
export const SATURATION_NUMBERS: usize = REPEAT_STATES + 16 + GAP
export const SATURATION_DRIVES: usize = SATURATION_NUMBERS + 96 * 8 + GAP
export const SATURATION_INPUT: usize = SATURATION_DRIVES + (1024 + 52) * 8 + GAP
export const SATURATION_WET_LEFT: usize = SATURATION_INPUT + (1024 + 99) * 16 + GAP
export const SATURATION_WET_RIGHT: usize = SATURATION_WET_LEFT + SIDE + GAP
export const SATURATION_RISE1: usize = SATURATION_WET_RIGHT + SIDE + GAP
export const SATURATION_RISE2: usize = SATURATION_RISE1 + (2 * 1024 + 116) * 16 + GAP
export const SATURATION_HIGH: usize = SATURATION_RISE2 + (4 * 1024 + 210) * 16 + GAP
/** tanh and its integrals: four numbers of a cubic for each thirty-second up to 12. */
export const SATURATION_CURVE: usize = SATURATION_HIGH + (8 * 1024 + 402) * 16 + GAP

/** What lies before here are arrays and their gaps. */
export const PROCESSING_END: usize = SATURATION_CURVE + 3 * 384 * 32 + GAP
