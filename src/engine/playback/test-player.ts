import type { Captured } from './player.worklet'
import { Player } from './player'
import type { RenderReply } from './render-loop'
import {
  AHEAD_FRAMES,
  AUDIO_QUANTUM,
  copyRing,
  framesRead,
  framesWritten,
  METER_FRAMES,
  READ,
  setFramesRead,
} from './ring'

/**
 * A player that can be asked what it plays, for scripts that check it. Only pages with `?test` in their
 * address use it.
 */
export class TestPlayer extends Player {
  private captured: Captured['captured'][] | null = null
  /** Whether the worker has rendered enough to have rehearsed edits (see `RenderLoop`). */
  private rehearsed = false

  protected override onCaptured({ captured }: Captured): void {
    this.captured?.push(captured)
  }

  /** How many frames were played since playing began. */
  framesPlayed(): number {
    return framesRead(this.ring)
  }

  /** Begins to keep what the audio thread plays; `endCapture` returns it. */
  beginCapture(): void {
    this.captured = []
    this.tellWorklet({ capture: true })
  }

  /** How many frames have been kept since `beginCapture`. */
  capturedFrames(): number {
    return (this.captured?.length ?? 0) * AUDIO_QUANTUM
  }

  endCapture(): Captured['captured'][] {
    this.tellWorklet({ capture: false })
    const kept = this.captured ?? []
    this.captured = null
    return kept
  }

  /**
   * Plays from a frame without an audio device, as fast as the worker renders, and returns what went through the ring.
   * Nothing else may play meanwhile.
   */
  async drain(from: number, frames: number): Promise<{ left: Float32Array; right: Float32Array }> {
    this.events.onStarting()
    const left = new Float32Array(frames)
    const right = new Float32Array(frames)
    const run = ++this.run
    const before = this.worker.onmessage
    await new Promise<void>((resolve, reject) => {
      this.worker.onmessage = ({ data }: MessageEvent<RenderReply>) => {
        if (data.type === 'failed') reject(new Error(data.message))
        else if (data.type === 'ready' && data.run === run) resolve()
      }
      this.tell({ type: 'start', run, frame: from })
    })
    this.worker.onmessage = before
    // The first time until the ring is full: what is rewritten before, as a rehearsal, must not be overtaken. Where reading is further
    // ahead than what is remembered reaches, which no device comes to, sound goes on from nearly the same.
    while (!this.rehearsed && framesWritten(this.ring) + METER_FRAMES <= AHEAD_FRAMES)
      await new Promise((resolve) => setTimeout(resolve))
    this.rehearsed = true
    for (let done = 0; done < frames;) {
      const take = Math.min(frames - done, framesWritten(this.ring) - done)
      copyRing(this.ring.left, done, left.subarray(done, done + take), 'read')
      copyRing(this.ring.right, done, right.subarray(done, done + take), 'read')
      done += take
      setFramesRead(this.ring, Math.ceil(done / AUDIO_QUANTUM) * AUDIO_QUANTUM)
      Atomics.notify(this.ring.control, READ)
      await new Promise((resolve) => setTimeout(resolve))
    }
    this.tell({ type: 'stop' })
    return { left, right }
  }
}
