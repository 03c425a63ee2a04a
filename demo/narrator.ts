import fs from 'node:fs/promises'
import { Resampler } from '../src/core/dsp/resample'
import { bytesOf } from '../src/formats/bytes'
import { decodeWav, readWavHeader } from '../src/formats/wav-read'
import { activeRms, at, bandPass, enveloped, mixInto, noise, RATE, scaled, silence } from './synth'

/** A take: its sound, and where (in seconds) each line in it begins and ends. */
export interface Take {
  samples: Float32Array
  lines: Record<string, { from: number; to: number }>
}

const LEVEL = 0.088

/** How much louder the line at the rail was shouted than the others were spoken, in dB. */
export const LOUD_LINE_DB = 10

/** Where in the first take the mouth click is, in seconds after the end of its first line. */
export const CLICK_AFTER = 0.18

/** A spoken line of `demo/speech`, at the session's rate and at one level. */
async function spoken(name: string): Promise<Float32Array> {
  const bytes = await fs.readFile(new URL(`speech/${name}.wav`, import.meta.url))
  const header = await readWavHeader(bytesOf(bytes))
  const [samples] = decodeWav(header, bytes.subarray(header.dataFrom, header.dataFrom + header.frames * header.bytesPerFrame), 0)
  const resampler = new Resampler(header.sampleRate, RATE)
  const parts = [resampler.push(samples!), resampler.finish(header.frames)]
  const out = new Float32Array(parts[0]!.length + parts[1]!.length)
  out.set(parts[0]!)
  out.set(parts[1]!, parts[0]!.length)
  return scaled(out, LEVEL / activeRms(out))
}

/** An intake of breath before a line. */
function breath(seed: number): Float32Array {
  const air = bandPass(noise(at(0.38), seed), 1500, 0.7)
  return enveloped(air, (t) => 0.07 * Math.sin(Math.PI * Math.min(1, t / 0.38)) ** 1.5)
}

const mouthClick = () => enveloped(bandPass(noise(at(0.004), 5), 3400, 2), (t) => 0.55 * Math.exp(-t / 0.0009))

interface Line {
  name: string
  gainDb?: number
  pauseAfter?: number
}

/** One recording: breath, line, pause, …, over a little room noise. */
async function take(lines: readonly Line[], seed: number): Promise<Take> {
  const marks: Take['lines'] = {}
  const spokenLines = await Promise.all(lines.map((line) => spoken(line.name)))
  const starts: number[] = []
  let time = 0.75
  lines.forEach((line, i) => {
    starts.push(time)
    const length = spokenLines[i]!.length / RATE
    marks[line.name] = { from: time, to: time + length }
    time += length + (line.pauseAfter ?? 0.95)
  })
  const samples = silence(time + 0.4)
  lines.forEach((line, i) => {
    mixInto(samples, breath(seed + i), starts[i]! - 0.46)
    mixInto(samples, spokenLines[i]!, starts[i]!, 10 ** ((line.gainDb ?? 0) / 20))
  })
  mixInto(samples, noise(samples.length, seed + 90), 0, 0.0004)
  return { samples, lines: marks }
}

/** The three takes: walk-in; the wheel pit with the line that is far too loud; the same line again and the rest. */
export async function narratorTakes(): Promise<[Take, Take, Take]> {
  const one = await take([{ name: '1-stop' }, { name: '2-twice' }], 21)
  mixInto(one.samples, mouthClick(), one.lines['1-stop']!.to + CLICK_AFTER)
  const two = await take([{ name: '3-listen' }, { name: '4-rail', gainDb: LOUD_LINE_DB }, { name: '5-hammers' }], 31)
  const three = await take([{ name: '5-hammers-again' }, { name: '6-keeper', gainDb: -3 }, { name: '7-slack' }, { name: '8-end' }], 41)
  return [one, two, three]
}
