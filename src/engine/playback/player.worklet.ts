import {
  copyRing,
  createRing,
  METER_FRAMES,
  meterRow,
  PLAYING,
  positionAt,
  AUDIO_QUANTUM,
  READ,
  setFramesRead,
  setFramesWritten,
  framesRead,
  framesWritten,
  RING_FRAMES,
  STATE,
  STOPPED,
  STOPPING,
  UNDERRUNS,
  type RingMemory,
  type RingMessage,
  type RingReport,
} from './ring'

declare const registerProcessor: (name: string, processor: unknown) => void
declare class AudioWorkletProcessor {
  readonly port: MessagePort
}

/** What the page tells the worklet. */
export type WorkletMessage =
  { ring: RingMemory } | { link: MessagePort } | { state: number } | { capture: boolean }

/**
 * What the worklet tells the page when asked to capture: frames as they were played, from a session frame on, after so many that
 * were played since playing began.
 */
export interface Captured {
  captured: { left: Float32Array; right: Float32Array; sessionFrame: number; after: number }
}

/** Copies from the ring to the output, counts underruns, and does nothing else. */
class RingPlayer extends AudioWorkletProcessor {
  private ring: RingMemory | null = null
  private link: MessagePort | null = null
  private capture = false
  private quanta = 0
  private epoch = 0

  constructor() {
    super()
    this.port.onmessage = (event: MessageEvent<WorkletMessage>) => {
      const message = event.data
      if ('ring' in message) this.ring = message.ring
      else if ('link' in message) this.connect(message.link)
      else if ('capture' in message) this.capture = message.capture
      else if (this.ring) this.ring.control[STATE] = message.state
    }
  }

  /** Without shared memory: a ring of its own, filled by messages. */
  private connect(link: MessagePort): void {
    const ring = createRing(false)
    this.ring = ring
    this.link = link
    link.onmessage = (event: MessageEvent<RingMessage | { reset: number }>) => {
      if ('reset' in event.data) {
        setFramesRead(ring, 0)
        setFramesWritten(ring, 0)
        this.epoch = event.data.reset
        return
      }
      const { from, left, right, positions, meters, write } = event.data
      copyRing(ring.left, from, left, 'write')
      copyRing(ring.right, from, right, 'write')
      for (let q = 0; q < positions.length; q++)
        ring.positions[(from % RING_FRAMES) / AUDIO_QUANTUM + q] = positions[q]!
      ring.meters.set(meters, meterRow(from))
      setFramesWritten(ring, write)
    }
  }

  private report(ring: RingMemory): void {
    if (!this.link || this.quanta % 8) return
    const read = framesRead(ring)
    const report: RingReport = {
      epoch: this.epoch,
      read,
      state: ring.control[STATE]!,
      underruns: ring.control[UNDERRUNS]!,
    }
    this.link.postMessage(report)
    this.port.postMessage({
      ...report,
      sessionFrame: positionAt(ring, read),
      meters: ring.meters.slice(
        meterRow(read),
        meterRow(read) + (ring.meters.length * METER_FRAMES) / RING_FRAMES,
      ),
    })
  }

  process(_inputs: unknown, outputs: Float32Array[][]): boolean {
    const ring = this.ring
    const [left, right] = outputs[0] ?? []
    if (!ring || !left || !right) return true
    this.quanta++
    const { control } = ring
    const state = Atomics.load(control, STATE)
    if (state !== STOPPED) {
      const read = framesRead(ring)
      if (framesWritten(ring) - read < left.length) {
        Atomics.add(control, UNDERRUNS, 1)
        if (state === STOPPING) Atomics.store(control, STATE, STOPPED)
      } else {
        copyRing(ring.left, read, left, 'read')
        copyRing(ring.right, read, right, 'read')
        if (this.capture && state === PLAYING)
          this.port.postMessage({
            captured: {
              left: left.slice(),
              right: right.slice(),
              sessionFrame: positionAt(ring, read),
              after: read,
            },
          } satisfies Captured)
        if (state === STOPPING) {
          // The last quantum falls to silence, so that a stop does not click.
          for (let i = 0; i < left.length; i++) {
            left[i] = left[i]! * (1 - i / left.length)
            right[i] = right[i]! * (1 - i / left.length)
          }
          Atomics.store(control, STATE, STOPPED)
        }
        setFramesRead(ring, read + left.length)
        if (ring.shared) Atomics.notify(control, READ)
      }
    }
    this.report(ring)
    return true
  }
}

registerProcessor('ring-player', RingPlayer)
