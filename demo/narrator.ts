import fs from 'node:fs/promises'
import { Resampler, resampledLength } from '../src/core/dsp/resample'
import { bytesOf } from '../src/formats/bytes'
import { decodeWav, readWavHeader } from '../src/formats/wav-read'
import { activeRms, at, bandPass, enveloped, mixInto, noise, RATE, scaled, silence } from './synth'

/** A take: its sound, and where (in seconds) each line in it begins and ends. */
export interface Take {
  samples: Float32Array
  lines: Record<string, { from: number; to: number }>
}

const LEVEL = 0.056

/** How much louder the line at the rail was shouted than the others were spoken, in dB. */
export const LOUD_LINE_DB = 8

/** Where in the first take the mouth click is, in seconds after the end of its first line. */
export const CLICK_AFTER = 0.18

const speech = (name: string) => fs.readFile(new URL(`speech/${name}.wav`, import.meta.url))

/** A spoken line of `demo/speech`, at the session's rate and at one level. */
async function spoken(name: string): Promise<Float32Array> {
  const bytes = await speech(name)
  const header = await readWavHeader(bytesOf(bytes))
  const [samples] = decodeWav(
    header,
    bytes.subarray(header.dataFrom, header.dataFrom + header.frames * header.bytesPerFrame),
    0,
  )
  const resampler = new Resampler(header.sampleRate, RATE)
  const parts = [resampler.push(samples!), resampler.finish(header.frames)]
  const out = new Float32Array(parts[0]!.length + parts[1]!.length)
  out.set(parts[0]!)
  out.set(parts[1]!, parts[0]!.length)
  return scaled(out, LEVEL / activeRms(out))
}

/** Where in its take each line begins and ends, in seconds, by the lengths of the recordings. */
export async function lineTimes(lines: readonly Line[]): Promise<Take['lines']> {
  const marks: Take['lines'] = {}
  let time = 0.75
  for (const line of lines) {
    const header = await readWavHeader(bytesOf(await speech(line.name)))
    const length = resampledLength(header.frames, header.sampleRate, RATE) / RATE
    marks[line.name] = { from: time, to: time + length }
    time += length + PAUSE
  }
  return marks
}

/** An intake of breath before a line. */
function breath(seed: number): Float32Array {
  const air = bandPass(noise(at(0.38), seed), 1500, 0.7)
  return enveloped(air, (t) => 0.07 * Math.sin(Math.PI * Math.min(1, t / 0.38)) ** 1.5)
}

const mouthClick = () =>
  enveloped(bandPass(noise(at(0.004), 5), 3400, 2), (t) => 0.55 * Math.exp(-t / 0.0009))

/** A line of a take, and how much louder than the others it was spoken. */
interface Line {
  name: string
  gainDb?: number
}

/** Seconds between two lines. */
const PAUSE = 0.95

/**
 * The lines of the three takes: walk-in; the wheel pit with the line that is far too loud; the last line
 * again and the rest.
 */
export const script: readonly [Line[], Line[], Line[]] = [
  [{ name: '1-stop' }, { name: '2-twice' }],
  [{ name: '3-listen' }, { name: '4-rail', gainDb: LOUD_LINE_DB }, { name: '5-hammers' }],
  [{ name: '5-hammers-again' }, { name: '6-keeper', gainDb: -3 }, { name: '7-slack' }, { name: '8-end' }],
]

/** One recording: breath, line, pause, …, over a little room noise. */
async function take(lines: readonly Line[], seed: number): Promise<Take> {
  const marks = await lineTimes(lines)
  const samples = silence(marks[lines[lines.length - 1]!.name]!.to + PAUSE + 0.4)
  for (const [i, line] of lines.entries()) {
    mixInto(samples, breath(seed + i), marks[line.name]!.from - 0.46)
    mixInto(samples, await spoken(line.name), marks[line.name]!.from, 10 ** ((line.gainDb ?? 0) / 20))
  }
  mixInto(samples, noise(samples.length, seed + 90), 0, 0.0004)
  return { samples, lines: marks }
}

/** The three takes as recorded. */
export async function narratorTakes(): Promise<[Take, Take, Take]> {
  const [one, two, three] = await Promise.all([take(script[0], 21), take(script[1], 31), take(script[2], 41)])
  mixInto(one.samples, mouthClick(), one.lines['1-stop']!.to + CLICK_AFTER)
  return [one, two, three]
}
