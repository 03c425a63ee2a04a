/** The rate at which voicing is looked for, about, in Hz: a voice's first harmonics lie below half of it. */
const LOW_RATE = 8000
/** Pitches that a voice has, in Hz, and the length of sound that is compared with itself, in seconds. */
const PITCH = { min: 70, max: 400 }
const WINDOW_SECONDS = 0.03

/**
 * How far a sound is that of a voice, in steps: the largest normalised autocorrelation at the periods of a voice's pitch
 * (70…400 Hz), of 30 ms from each step's start on. 1 for a sound that repeats itself exactly, below about 0.4 for noise such as
 * breath; 0 for silence. (W. Hess, "Pitch Determination of Speech Signals", 1983, chapter 8.)
 */
export class VoicingMeter {
  private readonly every: number
  private readonly rate: number
  private readonly window: number
  private readonly shortest: number
  private readonly longest: number
  private readonly steps: number[] = []
  /** What of the thinned-out sound is still needed, and the place of its first sample. */
  private low: number[] = []
  private base = 0
  private sum = 0
  private summed = 0

  /** `stepSeconds` is the distance of the steps. */
  constructor(
    sampleRate: number,
    private readonly stepSeconds: number,
  ) {
    this.every = Math.max(1, Math.round(sampleRate / LOW_RATE))
    this.rate = sampleRate / this.every
    this.window = Math.round(WINDOW_SECONDS * this.rate)
    this.shortest = Math.floor(this.rate / PITCH.max)
    this.longest = Math.ceil(this.rate / PITCH.min)
  }

  /** Takes a further block of sound, one array for each channel; they are heard as one. */
  add(channels: readonly Float32Array[]): void {
    for (let i = 0; i < channels[0]!.length; i++) {
      for (const samples of channels) this.sum += samples[i]!
      if (++this.summed < this.every) continue
      this.low.push(this.sum / (this.every * channels.length))
      this.sum = this.summed = 0
    }
    while (this.start() + this.window + this.longest <= this.base + this.low.length) this.step(this.start())
    // The last steps look back from the end.
    const kept = this.window + this.longest + Math.ceil(this.stepSeconds * this.rate)
    if (this.low.length > 8 * kept) {
      const gone = Math.min(this.low.length - kept, this.start() - this.base)
      this.low = this.low.slice(gone)
      this.base += gone
    }
  }

  /** One value for each step, 0…1. */
  finish(): number[] {
    const length = this.base + this.low.length
    const count = Math.ceil(length / (this.stepSeconds * this.rate) - 1e-9)
    while (this.steps.length < count) this.step(Math.max(this.base, length - this.window - this.longest))
    return this.steps
  }

  /** Where the next step begins. */
  private start(): number {
    return Math.round(this.steps.length * this.stepSeconds * this.rate)
  }

  private step(at: number): void {
    const from = at - this.base
    this.steps.push(voicingAt(this.low, from, this.window, this.shortest, this.longest))
  }
}

function voicingAt(
  x: readonly number[],
  from: number,
  window: number,
  shortest: number,
  longest: number,
): number {
  const count = Math.min(window, x.length - from - longest)
  if (count < longest) return 0
  let mean = 0
  for (let i = from; i < from + count + longest; i++) mean += x[i]!
  mean /= count + longest
  let own = 0
  for (let i = from; i < from + count; i++) own += (x[i]! - mean) ** 2
  let later = 0
  for (let i = from + shortest; i < from + shortest + count; i++) later += (x[i]! - mean) ** 2
  let best = 0
  for (let lag = shortest; lag <= longest; lag++) {
    let both = 0
    for (let i = from; i < from + count; i++) both += (x[i]! - mean) * (x[i + lag]! - mean)
    if (own > 0 && later > 0) best = Math.max(best, both / Math.sqrt(own * later))
    later += (x[from + lag + count]! - mean) ** 2 - (x[from + lag]! - mean) ** 2
  }
  return Math.min(1, best)
}
