import { createSHA256 } from 'hash-wasm'
import { SoundMeter, type SoundMeasure } from '../../core/measure/sound-meter'
import { gainToDb } from '../../core/units/decibel'
import { blobBytes } from '../../formats/bytes'
import { openSoundFile } from '../../formats/sound-file'

/** What is found when a file is read again. */
export interface FileCheck {
  /** Of the whole file, in hexadecimal. */
  sha256: string
  /** Levels linear, loudness in LUFS, as they are in the file. */
  peak: number
  truePeak: number
  integrated: number
  range: number
  /** What is not as it was rendered, in words; empty for a good file. */
  faults: string[]
}

/** Bytes that are hashed at a time. */
const PIECE = 1 << 20
/** Largest difference of loudness that measuring in other blocks makes, in LU. */
const LOUDNESS_OFF = 1e-6

/** Reads a file again, from its first byte to its last, and holds it against what was written into it. */
export async function checkFile(
  file: Blob,
  written: SoundMeasure,
  onPart: (part: number) => Promise<void>,
): Promise<FileCheck> {
  const hash = (await createSHA256()).init()
  for (let at = 0; at < file.size; at += PIECE) {
    hash.update(new Uint8Array(await file.slice(at, at + PIECE).arrayBuffer()))
    await onPart((0.3 * at) / file.size)
  }
  const sha = hash.digest('hex')
  const none = { sha256: sha, peak: 0, truePeak: 0, integrated: -Infinity, range: 0 }
  const sound = await openSoundFile(blobBytes(file))
  if (!sound) return { ...none, faults: ['it cannot be read as sound'] }
  const meter = new SoundMeter(sound.sampleRate, sound.channels)
  let done = 0
  for await (const block of sound.blocks(1 << 16)) {
    meter.add(block)
    done += block[0]!.length
    await onPart(0.3 + (0.7 * done) / Math.max(1, sound.frames))
  }
  const is = meter.finish()
  return {
    sha256: sha,
    peak: is.peak,
    truePeak: is.truePeak,
    integrated: is.loudness.integrated,
    range: is.loudness.range,
    faults: differences(is, written),
  }
}

function differences(is: SoundMeasure, written: SoundMeasure): string[] {
  const faults: string[] = []
  if (is.frames !== written.frames) faults.push(`it has ${is.frames} frames in place of ${written.frames}`)
  if (is.peak !== written.peak)
    faults.push(
      `its peak is ${gainToDb(is.peak).toFixed(2)} dBFS in place of ${gainToDb(written.peak).toFixed(2)}`,
    )
  const [loud, wanted] = [is.loudness.integrated, written.loudness.integrated]
  if (loud !== wanted && !(Math.abs(loud - wanted) <= LOUDNESS_OFF))
    faults.push(`its loudness is ${loud.toFixed(2)} LUFS in place of ${wanted.toFixed(2)}`)
  return faults
}
