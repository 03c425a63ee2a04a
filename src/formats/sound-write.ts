import { tpdfQuantiser } from '../core/dsp/dither'
import { firstNotFinite } from '../core/measure/finite'
import { AiffEncoder, aiffHeader } from './aiff-write'
import { TooLarge } from './failure'
import { FLAC_MD5_AT, flacHeader, type FlacInfo } from './flac-write'
import { broadcastLoudness, WavEncoder, wavHeader, type BroadcastLoudness } from './wav-write'

/** The formats in which sound is exported: integers have TPDF dither, floats are as rendered. */
export const soundFormats = ['wav24', 'wav16', 'wav32f', 'flac24', 'flac16', 'aiff24', 'aiff16'] as const
export type SoundFormat = (typeof soundFormats)[number]

interface FormatFacts {
  name: string
  bits: 16 | 24 | 32
  extension: 'wav' | 'flac' | 'aiff'
  mime: string
}

const facts = (
  kind: string,
  bits: FormatFacts['bits'],
  extension: FormatFacts['extension'],
): FormatFacts => ({
  name: `${kind}, ${bits === 32 ? '32-bit float' : `${bits} bit`}`,
  bits,
  extension,
  mime: `audio/${extension}`,
})

/** What is known of each format. */
export const formatFacts: Record<SoundFormat, FormatFacts> = {
  wav24: facts('WAV', 24, 'wav'),
  wav16: facts('WAV', 16, 'wav'),
  wav32f: facts('WAV', 32, 'wav'),
  flac24: facts('FLAC', 24, 'flac'),
  flac16: facts('FLAC', 16, 'flac'),
  aiff24: facts('AIFF', 24, 'aiff'),
  aiff16: facts('AIFF', 16, 'aiff'),
}

/** Bytes that a file has at most, without its header. */
export const soundBytes = (format: SoundFormat, channels: number, frames: number): number =>
  (frames * channels * formatFacts[format].bits) / 8

/** What goes into a file besides its samples. */
export interface SoundFileInfo {
  format: SoundFormat
  channels: 1 | 2
  sampleRate: number
  frames: number
  /** Seed of the dither: the same seed gives the same file. */
  seed: number
  title: string
  /** The frame, at the file's rate, at which it begins in the session. */
  timeReference: number
  writtenAt: Date
  /** Markers, frames counted from the start of the file. */
  cues: { frame: number; name: string }[]
}

/** Bytes that replace what was written at a place of the file. */
export interface Patch {
  at: number
  bytes: Uint8Array<ArrayBuffer>
}

/** Writes a file of sound piece by piece: `header`, then the bytes of `encode` for all blocks, those of `finish`, then the patches. */
export interface SoundWriter {
  header(): Uint8Array<ArrayBuffer>
  /** The bytes of a block, one array a channel, whose samples become those that the file has. Throws `TooLarge` where one is no number. */
  encode(block: readonly Float32Array[]): Uint8Array<ArrayBuffer>
  finish(): Uint8Array<ArrayBuffer>
  /** What is known only at the end: checksums, and the loudness if it was measured. */
  patches(loudness: BroadcastLoudness | null): Patch[]
  /** Samples that passed full scale so far: limited, except in 32-bit float. */
  readonly clipped: number
}

/** What makes FLAC frames of integers, one array a channel. */
export interface FlacFrames {
  encode(channels: readonly Int32Array[]): Uint8Array<ArrayBuffer>
  finish(): Uint8Array<ArrayBuffer>
  /** The MD5 of all samples, after `finish`. */
  md5(): Uint8Array
}

/**
 * Makes the samples of blocks those that a file of a word length has: dithered, rounded and limited. `clipped` counts what was cut off.
 */
function wordSamples(bits: 16 | 24, seed: number) {
  const quantiser = tpdfQuantiser(bits, seed)
  const step = 2 ** (1 - bits)
  return {
    make(block: readonly Float32Array[]): void {
      for (let i = 0; i < block[0]!.length; i++)
        for (const samples of block) samples[i] = quantiser.next(samples[i]!) * step
    },
    get clipped() {
      return quantiser.clipped
    },
  }
}

/** Opens a writer. FLAC frames are made by `flacFrames`. */
export async function soundWriter(
  info: SoundFileInfo,
  flacFrames: (info: FlacInfo) => FlacFrames | Promise<FlacFrames>,
): Promise<SoundWriter> {
  const { extension, bits } = formatFacts[info.format]
  const writer =
    extension === 'wav'
      ? wavWriter(info)
      : extension === 'aiff'
        ? aiffWriter(info)
        : await flacWriter(info, flacFrames)
  const word = bits === 32 ? null : wordSamples(bits, info.seed)
  let frames = 0
  return {
    ...writer,
    encode(block) {
      const bad = firstNotFinite(block)
      if (bad >= 0) throw new TooLarge((frames + bad) / info.sampleRate)
      frames += block[0]!.length
      word?.make(block)
      return writer.encode(block)
    },
    get clipped() {
      return (word ?? writer).clipped
    },
  }
}

function wavWriter({ title, timeReference, writtenAt, ...info }: SoundFileInfo): SoundWriter {
  const wav = {
    ...info,
    format: info.format as 'wav16' | 'wav24' | 'wav32f',
    seed: null,
    broadcast: { description: title, timeReference, writtenAt },
  }
  const encoder = new WavEncoder(wav)
  return {
    header: () => wavHeader(wav),
    encode: (block) => encoder.encode(block),
    finish: () => encoder.finish(),
    patches(loudness) {
      const patch = loudness && broadcastLoudness(wav, loudness)
      return patch ? [patch] : []
    },
    get clipped() {
      return encoder.clipped
    },
  }
}

function aiffWriter(info: SoundFileInfo): SoundWriter {
  const aiff = { ...info, seed: null, bitsPerSample: formatFacts[info.format].bits as 16 | 24 }
  const encoder = new AiffEncoder(aiff)
  return {
    header: () => aiffHeader(aiff),
    encode: (block) => encoder.encode(block),
    finish: () => encoder.finish(),
    patches: () => [],
    clipped: 0,
  }
}

async function flacWriter(
  info: SoundFileInfo,
  flacFrames: (info: FlacInfo) => FlacFrames | Promise<FlacFrames>,
): Promise<SoundWriter> {
  const bitsPerSample = formatFacts[info.format].bits as 16 | 24
  const { channels, sampleRate, frames, cues, title, writtenAt, timeReference } = info
  const flac: FlacInfo = {
    channels,
    sampleRate,
    bitsPerSample,
    frames,
    cues,
    comments: [
      ['TITLE', title],
      ['DATE', writtenAt.toISOString().slice(0, 10)],
      ['TIMEREFERENCE', String(timeReference)],
    ],
  }
  const encoder = await flacFrames(flac)
  const scale = 2 ** (bitsPerSample - 1)
  return {
    header: () => flacHeader(flac),
    encode: (block) => encoder.encode(block.map((samples) => Int32Array.from(samples, (x) => x * scale))),
    finish: () => encoder.finish(),
    patches: () => [{ at: FLAC_MD5_AT, bytes: Uint8Array.from(encoder.md5()) }],
    clipped: 0,
  }
}
