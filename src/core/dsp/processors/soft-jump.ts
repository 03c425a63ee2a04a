import { clamp } from '../../units/clamp'
import type { ParameterReader } from './parameter-reader'
import { COEFFICIENT_FRAMES } from './processor'

/** Movement is looked at over stretches of this length, which begin at fixed places. */
const STRETCH_SECONDS = 0.004
/** So long after a jump a band is soft, and after so long it is whole again. */
const SOFT_SECONDS = 0.03
const WHOLE_SECONDS = 0.08
/** Octaves that frequency and Q may move by within a stretch, and those more that make a band as soft as it gets. */
const FREE_OCTAVES = 0.5
const JUMP_OCTAVES = 0.5
/** What is left of what a band does while it is softest. */
const SOFTEST = 0.4
/** Below this gain a shelf stays within 20 times what comes in, whatever jumps. */
export const LOUD_SHELF_DB = 18

/** What a band depends on here. */
interface Shelf {
  frequencyHz: ParameterReader
  gainDb: ParameterReader
  q: ParameterReader
}

const stretchFrames = (sampleRate: number) =>
  COEFFICIENT_FRAMES * Math.max(1, Math.round((STRETCH_SECONDS * sampleRate) / COEFFICIENT_FRAMES))

/** Frames after a movement during which a high shelf may still be soft; 0 for one that never is. */
export function softFrames({ frequencyHz, gainDb, q }: Shelf, sampleRate: number): number {
  const moves = frequencyHz.lane !== null || q.lane !== null
  if (!moves || gainDb.range().max <= LOUD_SHELF_DB) return 0
  return Math.ceil(WHOLE_SECONDS * sampleRate) + 2 * stretchFrames(sampleRate)
}

/**
 * How much of what a high shelf does is heard at a frame, 0.4…1. What a shelf of +24 dB remembers from one place is up to twice as
 * loud as the shelf itself when it is suddenly at another, 36 times what comes in; so after a jump it comes in softly. It is a
 * function of the lanes alone: wherever the sound starts, it is the same.
 */
export function softness(shelf: Shelf, frame: number, sampleRate: number): number {
  const behind = softFrames(shelf, sampleRate)
  if (behind === 0 || (stays(shelf.frequencyHz, frame, behind) && stays(shelf.q, frame, behind))) return 1
  const stretch = stretchFrames(sampleRate)
  const places = (at: number) => [Math.log2(shelf.frequencyHz.at(at)), Math.log2(shelf.q.at(at))] as const
  let jumped = 0
  let [hz, q] = places(frame)
  for (let begin = stretch * Math.floor((frame - 1) / stretch); begin > frame - behind; begin -= stretch) {
    const [hzBefore, qBefore] = places(begin)
    const octaves = Math.abs(hz - hzBefore) + Math.abs(q - qBefore)
    const age = Math.max(0, frame - begin - stretch) / sampleRate
    const left = clamp((WHOLE_SECONDS - age) / (WHOLE_SECONDS - SOFT_SECONDS), 0, 1)
    jumped += left * clamp((octaves - FREE_OCTAVES) / JUMP_OCTAVES, 0, 1)
    ;[hz, q] = [hzBefore, qBefore]
  }
  return 1 - (1 - SOFTEST) * Math.min(1, jumped)
}

const stays = (reader: ParameterReader, frame: number, behind: number) =>
  reader.constant(frame - behind, behind + 1) !== null
