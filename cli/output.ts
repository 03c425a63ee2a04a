import { tpdfQuantiser } from '../src/core/dsp/dither'
import { flacFile } from '../src/formats/flac-write'
import { WavEncoder, wavHeader, type WavFormat } from '../src/formats/wav-write'

export type OutputFormat = WavFormat | 'flac'
export const outputFormats: readonly OutputFormat[] = ['wav16', 'wav24', 'wav32f', 'flac']

/** What goes into an output file besides the samples. */
export interface OutputInfo {
  format: OutputFormat
  sampleRate: number
  seed: number
  title: string
  /** Session frame at which the file begins. */
  from: number
  cues: { frame: number; name: string }[]
}

/** A whole audio file in memory. FLAC is 24 bit with TPDF dither. */
export function plainOutput(channels: readonly Float32Array[], info: OutputInfo): Uint8Array {
  if (info.format === 'flac') {
    const quantiser = tpdfQuantiser(24, info.seed)
    const integers = channels.map((c) => new Int32Array(c.length))
    for (let i = 0; i < channels[0]!.length; i++)
      channels.forEach((samples, c) => (integers[c]![i] = quantiser.next(samples[i]!)))
    return flacFile(integers, info.sampleRate, 24)
  }
  const wav = {
    format: info.format,
    channels: channels.length as 1 | 2,
    sampleRate: info.sampleRate,
    frames: channels[0]!.length,
    seed: info.seed,
    broadcast: { description: info.title, timeReference: info.from },
    cues: info.cues,
  }
  const encoder = new WavEncoder(wav)
  return Buffer.concat([wavHeader(wav), encoder.encode(channels), encoder.finish()])
}
