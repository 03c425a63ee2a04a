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

/**
 * A saturator, all in 32 bits: numbers of its loops, drives, what comes in and what comes out on both sides; one side at two, four and eight
 * times the rate, where it is bent, and tanh of it; samples with even and odd numbers of it at eight, four and two times the rate.
 */
export const SATURATION_NUMBERS: usize = REPEAT_STATES + 16 + GAP
/** Behind the taps: the places of steps. */
export const SATURATION_PLACES: usize = SATURATION_NUMBERS + 27 * 4
export const SATURATION_DRIVES: usize = SATURATION_NUMBERS + 112 * 4 + GAP
export const SATURATION_INPUT: usize = SATURATION_DRIVES + 1072 * 4 + GAP
/** Bytes from one side of what comes in to the other. */
export const SATURATION_SIDE: usize = 1136 * 4 + GAP
export const SATURATION_WET_LEFT: usize = SATURATION_INPUT + 2 * SATURATION_SIDE
export const SATURATION_WET_RIGHT: usize = SATURATION_WET_LEFT + SOURCE_SIDE + GAP
export const SATURATION_RISE1: usize = SATURATION_WET_RIGHT + SOURCE_SIDE + GAP
export const SATURATION_RISE2: usize = SATURATION_RISE1 + 2176 * 4 + GAP
export const SATURATION_HIGH: usize = SATURATION_RISE2 + 4304 * 4 + GAP
export const SATURATION_BENT: usize = SATURATION_HIGH + 8576 * 4 + GAP
export const SATURATION_EVEN3: usize = SATURATION_BENT + 8576 * 4 + GAP
export const SATURATION_ODD3: usize = SATURATION_EVEN3 + 4288 * 4 + GAP
export const SATURATION_EVEN2: usize = SATURATION_ODD3 + 4288 * 4 + GAP
export const SATURATION_ODD2: usize = SATURATION_EVEN2 + 2144 * 4 + GAP
export const SATURATION_EVEN1: usize = SATURATION_ODD2 + 2144 * 4 + GAP
export const SATURATION_ODD1: usize = SATURATION_EVEN1 + 1072 * 4 + GAP
/** What the integrals of tanh have besides a parabola, in 64 bits: four numbers of a cubic for each thirty-second up to 12. */
export const SATURATION_CURVE: usize = SATURATION_ODD1 + 1072 * 4 + GAP

/**
 * A room: both sides of what comes in, 32-bit, with the 4096 frames before; for the taps of each side how far back each lies, and the weights
 * of the taps and of what is fed to the lines; sixteen channels, 32-bit, of what is spread and of what the lines hold; six numbers of
 * each line; what comes out of the lines in sixteen frames; the dry sound, and how much of the other is heard.
 */
export const ROOM_LEFT: usize = SATURATION_CURVE + 2 * 384 * 32 + GAP
export const ROOM_RIGHT: usize = ROOM_LEFT + (4096 + 1024) * 4 + GAP
export const ROOM_TAPS: usize = ROOM_RIGHT + (4096 + 1024) * 4 + GAP
export const ROOM_WEIGHTS: usize = ROOM_TAPS + 32 * 4 + GAP
/** Bytes from one channel to the next. */
export const ROOM_CHANNEL: usize = 1024 * 4 + GAP
export const ROOM_SPREAD: usize = ROOM_WEIGHTS + 48 * 4 + GAP
export const ROOM_LINES: usize = ROOM_SPREAD + 16 * ROOM_CHANNEL
export const ROOM_NUMBERS: usize = ROOM_LINES + 16 * ROOM_CHANNEL
export const ROOM_TILE: usize = ROOM_NUMBERS + 6 * 16 * 4 + GAP
export const ROOM_DRY_LEFT: usize = ROOM_TILE + 16 * 16 * 4 + GAP
export const ROOM_DRY_RIGHT: usize = ROOM_DRY_LEFT + SIDE + GAP
export const ROOM_MIXES: usize = ROOM_DRY_RIGHT + SIDE + GAP

/** What lies before here are arrays and their gaps. */
export const PROCESSING_END: usize = ROOM_MIXES + SIDE + GAP
