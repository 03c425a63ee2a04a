import { clamp } from '../../units/clamp'
import { EQUALISER_BANDS } from '../../model/inserts/kinds/equaliser'
import { dbToGain, gainToDb } from '../../units/decibel'
import { bandSections } from './equaliser'
import type { SectionNumbers } from './filters/filter-design'
import type { ProcessorSetup } from './processor'

/*
 * What processors do to a steady sound, as curves for pictures: dB for dB, or dB for Hz. Tests hold them to what the processors
 * put out.
 */

/**
 * The squared magnitude of a section at w radians a sample. With z = e^(jw) and T = (q²/(z - p) + r)/(z - 1) it is
 * |d + l·T + c·q/(z - p)|² / |1 + T|², from its definition in `kernels/filter.ts`.
 */
function sectionPower([p, q, r, d, l, c]: SectionNumbers, w: number): number {
  if (w < 1e-9) return l * l
  const [zr, zi] = [Math.cos(w), Math.sin(w)]
  // 1 / (z - p), and 1 / (z - 1).
  const inverse = (x: number): [number, number] => {
    const size = (zr - x) * (zr - x) + zi * zi
    return [(zr - x) / size, -zi / size]
  }
  const [ar, ai] = inverse(p)
  const [br, bi] = inverse(1)
  const [ur, ui] = [q * q * ar + r, q * q * ai]
  const [tr, ti] = [ur * br - ui * bi, ur * bi + ui * br]
  const [nr, ni] = [d + l * tr + c * q * ar, l * ti + c * q * ai]
  return (nr * nr + ni * ni) / ((1 + tr) * (1 + tr) + ti * ti)
}

/**
 * What a band of an equaliser (0 is the first) does at a session frame, in dB at each of some frequencies in Hz; null for one
 * that is off.
 */
export function bandResponseDb(
  setup: ProcessorSetup,
  band: number,
  frame: number,
  frequencies: ArrayLike<number>,
): Float64Array | null {
  const sections = bandSections(setup, band, frame)
  if (!sections) return null
  return Float64Array.from(frequencies, (hz) => {
    const w = (2 * Math.PI * Math.min(hz, setup.sampleRate / 2)) / setup.sampleRate
    return sections.reduce(
      (db, section) => db + 10 * Math.log10(Math.max(1e-12, sectionPower(section, w))),
      0,
    )
  })
}

/** What all bands do together to what lies on both sides alike, in dB at each of some frequencies; with the output gain. */
export function equaliserResponseDb(
  setup: ProcessorSetup,
  frame: number,
  frequencies: ArrayLike<number>,
): Float64Array {
  const sum = new Float64Array(frequencies.length).fill(setup.values.outputDb!.at(frame))
  EQUALISER_BANDS.forEach((name, band) => {
    // 0 is both sides, 3 is the middle, which is the same of what both sides have alike.
    const channel = setup.values[`${name}.channel`]!.still
    if (channel !== 0 && channel !== 3) return
    bandResponseDb(setup, band, frame, frequencies)?.forEach((db, i) => (sum[i] = sum[i]! + db))
  })
  return sum
}

/** The shapes of a saturator, as their choices stand. */
export type SaturatorShape = 'soft' | 'hard' | 'asymmetric'

/** What a saturator makes of a sample: its shape at the drive, then the mix with the dry one, then the output gain. */
export function saturated(
  x: number,
  {
    driveDb,
    shape,
    mix,
    outputDb,
  }: { driveDb: number; shape: SaturatorShape; mix: number; outputDb: number },
): number {
  const g = dbToGain(driveDb) * x
  const wet =
    shape === 'soft' ? Math.tanh(g) : shape === 'hard' ? clamp(g, -1, 1) : Math.tanh(g + 0.3) - Math.tanh(0.3)
  return (wet * mix + x * (1 - mix)) * dbToGain(outputDb)
}

/** One repeat of a delay: ms after the sound, and its level in dB; below -60 dB none is listed, and at most so many. */
export function echoesOf(
  { timeMs, feedback, mix }: { timeMs: number; feedback: number; mix: number },
  most = 64,
): { ms: number; db: number }[] {
  const echoes: { ms: number; db: number }[] = []
  for (let n = 1, gain = mix; n <= most && gain > 0.001; n++, gain *= feedback)
    echoes.push({ ms: n * timeMs, db: gainToDb(gain) })
  return echoes
}
