import { CELL_FRAMES } from '../curve/cubics'
import { cosHalfPiQuick } from '../units/exact'

/** A cubic of the frames: at frame i of a run it is `c0 + t·(c1 + t·(c2 + t·c3))` with `t = start + i`. */
export interface Cubic {
  start: number
  c0: number
  c1: number
  c2: number
  c3: number
}

export const valueAt = ({ start, c0, c1, c2, c3 }: Cubic, i: number): number => {
  const t = start + i
  return c0 + t * (c1 + t * (c2 + t * c3))
}

/**
 * What of a sound goes to the left and to the right, after volume and pan, over some frames in which both are one formula.
 * Gains are linear factors.
 */
export interface LevelRun {
  /** Trim and fader; with a lane, multiplied by the cube of its height. */
  level: number
  volumeLane: Cubic | null
  /** Two factors that stay, the balance of a stereo signal, or the equal-power law of a mono one (-1…1). */
  pan: 'still' | 'balance' | 'equal-power'
  left: number
  right: number
  panLane: Cubic | null
  /**
   * With a pan that moves: which frame of its cell the first frame is, where levels run as cubics through the cells; -1 where
   * every frame has levels of its own.
   */
  cell: number
}

export const newLevelRun = (): LevelRun => ({
  level: 1,
  volumeLane: null,
  pan: 'still',
  left: 1,
  right: 1,
  panLane: null,
  cell: -1,
})

/**
 * Cells are the stretches of `CELL_FRAMES` that begin at its multiples, counted from session frame 0. Where volume and pan move
 * calmly, levels are exact at four points of a cell and run as a cubic between: a third of the work.
 */
export const CELL_POINTS = [0, 21, 43, 64] as const

/**
 * The factors of t, t² and t³ of the cubic through four values at the points of a cell, a row of four for each; that of 1 is the
 * first value. By Lagrange's formula.
 */
export const CELL_MATRIX = [
  [-4999 / 57792, 2752 / 19866, -1344 / 19866, 903 / 57792],
  [128 / 57792, -107 / 19866, 85 / 19866, -64 / 57792],
  [-1 / 57792, 1 / 19866, -1 / 19866, 1 / 57792],
] as const

/** A cubic through four points of a cell is off by no more than its fourth derivative (per cell) divided by this. */
export const CELL_ERROR_DIVISOR = 1975

/**
 * Writes the levels of `count` frames of a run. It is the definition: the kernels give the same to the bit, however frames are
 * cut into runs.
 */
export function fillLevels(
  run: LevelRun,
  count: number,
  left: Float64Array,
  right: Float64Array,
  at = 0,
): void {
  if (run.cell < 0) return fillExact(run, 0, count, left, right, at)
  let cell = run.cell
  for (let done = 0; done < count;) {
    const many = Math.min(CELL_FRAMES - cell, count - done)
    if (setCell(run, done - cell)) {
      for (let i = 0; i < many; i++) {
        left[at + done + i] = cubic(cellLeft, cell + i)
        right[at + done + i] = cubic(cellRight, cell + i)
      }
    } else fillExact(run, done, many, left, right, at + done)
    done += many
    cell = 0
  }
}

/** Levels of the frames `first`… of a run, each by itself. */
function fillExact(
  run: LevelRun,
  first: number,
  count: number,
  left: Float64Array,
  right: Float64Array,
  at: number,
): void {
  for (let i = 0; i < count; i++) {
    setLevels(run, first + i)
    left[at + i] = levels[0]!
    right[at + i] = levels[1]!
  }
}

/** The levels that were worked out last, left and right. */
const levels = new Float64Array(2)

const cube = (height: number) => height * height * height

function setLevels(run: LevelRun, i: number): void {
  const level = run.volumeLane ? cube(valueAt(run.volumeLane, i)) * run.level : run.level
  if (run.pan === 'still') {
    levels[0] = level * run.left
    levels[1] = level * run.right
    return
  }
  const pan = valueAt(run.panLane!, i)
  if (run.pan === 'balance') {
    const far = level * cosHalfPiQuick(pan)
    levels[0] = pan <= 0 ? level : far
    levels[1] = pan <= 0 ? far : level
  } else {
    const x = (pan + 1) / 2
    levels[0] = level * cosHalfPiQuick(x)
    levels[1] = level * cosHalfPiQuick(1 - x)
  }
}

const cellLeft = new Float64Array(4)
const cellRight = new Float64Array(4)

/**
 * Works out the cubics of the cell that begins at frame `start` of a run, which may lie before the run. Returns false where a
 * balance crosses the centre, in which its law has a corner.
 */
function setCell(run: LevelRun, start: number): boolean {
  const [first, last] = [valueAt(run.panLane!, start), valueAt(run.panLane!, start + CELL_FRAMES)]
  if (run.pan === 'balance' && first <= 0 !== last <= 0) return false
  for (let n = 0; n < 4; n++) {
    setLevels(run, start + CELL_POINTS[n]!)
    atPoints[0][n] = levels[0]!
    atPoints[1][n] = levels[1]!
  }
  throughPoints(atPoints[0], cellLeft)
  throughPoints(atPoints[1], cellRight)
  return true
}

const atPoints = [new Float64Array(4), new Float64Array(4)] as const

function throughPoints(values: Float64Array, factors: Float64Array): void {
  const [f0, f1, f2, f3] = [values[0]!, values[1]!, values[2]!, values[3]!]
  factors[0] = f0
  for (let k = 0; k < 3; k++) {
    const row = CELL_MATRIX[k]!
    factors[k + 1] = f0 * row[0] + f1 * row[1] + f2 * row[2] + f3 * row[3]
  }
}

const cubic = (factors: Float64Array, t: number): number =>
  factors[0]! + t * (factors[1]! + t * (factors[2]! + t * factors[3]!))
