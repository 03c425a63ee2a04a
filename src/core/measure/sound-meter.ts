import { isSilence } from './finite'
import { LevelMeter, type Levels } from './levels'
import { LoudnessMeter, type Loudness } from './loudness'
import { CorrelationMeter, TruePeakMeter } from './true-peak'

/** All that is measured of a sound: levels linear, loudness in LUFS and LU. */
export interface SoundMeasure {
  frames: number
  peak: number
  truePeak: number
  rms: number
  loudness: Loudness
  /** Correlation of left and right, -1…1; null for mono. */
  correlation: number | null
  perChannel: Levels[]
  /** The short-term loudness of every 100 ms from the third second on, in LUFS. */
  shortTerm: number[]
}

/** Measures a sound over blocks of any size, an array a channel; of any length in little memory. */
export class SoundMeter {
  private readonly levels: LevelMeter[]
  private readonly truePeaks: TruePeakMeter[]
  private readonly loudness: LoudnessMeter
  private readonly correlation = new CorrelationMeter()
  private frames = 0

  constructor(
    sampleRate: number,
    private readonly channels: 1 | 2,
  ) {
    this.levels = Array.from({ length: channels }, () => new LevelMeter())
    this.truePeaks = this.levels.map(() => new TruePeakMeter())
    this.loudness = new LoudnessMeter(sampleRate, channels)
  }

  /** Takes the next block, one array a channel. Silence costs next to nothing, however long it is. */
  add(block: readonly Float32Array[], silent = isSilence(block)): void {
    block.forEach((samples, c) => {
      if (silent) this.levels[c]!.addSilence(samples.length)
      else this.levels[c]!.add(samples)
      this.truePeaks[c]!.add(samples, silent)
    })
    this.loudness.add(block, silent)
    if (block[1] && !silent) this.correlation.add(block[0]!, block[1])
    this.frames += block[0]!.length
  }

  /** Ends the measuring. The RMS is that of all channels together. */
  finish(): SoundMeasure {
    const perChannel = this.levels.map((meter) => meter.levels())
    return {
      frames: this.frames,
      peak: Math.max(...perChannel.map(({ peak }) => peak)),
      truePeak: Math.max(...this.truePeaks.map((meter) => meter.peak())),
      rms: Math.sqrt(perChannel.reduce((sum, { rms }) => sum + rms * rms, 0) / this.channels),
      loudness: this.loudness.loudness(),
      correlation: this.channels === 2 ? this.correlation.correlation() : null,
      perChannel,
      shortTerm: this.loudness.shortTerm(),
    }
  }
}
