import { isOnlyHeard, type RenderPlan, type TrackMeter } from '../../core/render'
import type { RingProbe } from './probes'
import {
  copyRing,
  METER_CHANNELS,
  METER_FRAMES,
  METER_NUMBERS,
  METER_ROW,
  meterRow,
  PROBES,
  AUDIO_QUANTUM,
  RING_FRAMES,
  setFramesWritten,
  type RingMemory,
  type RingMessage,
} from './ring'

/** Sound to be put into the ring. */
export interface Block {
  /** The stream frame of its beginning, and how many frames it has. */
  at: number
  count: number
  /** The session frame of every quantum. */
  positions: readonly number[]
}

/** The slots of strips, counted from 1 on; 0 for one that is none of the session and has no meter. */
function meterSlots({ tracks }: RenderPlan): number[] {
  let slot = 0
  return tracks.map(({ id }) => (isOnlyHeard(id) ? 0 : ++slot))
}

/** Writes blocks and their levels into the ring. */
export class RingWriter {
  private slots: readonly number[] = []

  /** `send` gets every block written, for a ring whose memory is not shared. */
  constructor(
    private readonly ring: RingMemory,
    private readonly probe: RingProbe,
    private readonly send: ((message: RingMessage) => void) | null,
  ) {}

  /** Whose strips are metered from now on. */
  setPlan(plan: RenderPlan): void {
    this.slots = meterSlots(plan)
  }

  /** Begins the levels of a block at a stream frame. Returns what notes those of the strips. */
  beginMeters(at: number): TrackMeter {
    const { meters } = this.ring
    const row = meterRow(at)
    const kept = (at % METER_FRAMES) / METER_FRAMES
    this.probe.begin(row, at % METER_FRAMES)
    if (kept === 0) meters.fill(0, row, row + PROBES)
    // Of what is written anew from the middle of a row on, the energy of before no longer counts.
    else
      for (let slot = row; slot < row + PROBES; slot += METER_NUMBERS) {
        meters[slot + 2] = meters[slot + 2]! * kept
        meters[slot + 3] = meters[slot + 3]! * kept
      }
    return (index, left, right, energyLeft, energyRight) => {
      const slot = this.slots[index] ?? 0
      if (slot === 0 || slot >= METER_CHANNELS) return
      const first = row + slot * METER_NUMBERS
      meters[first] = Math.max(meters[first]!, left)
      meters[first + 1] = Math.max(meters[first + 1]!, right)
      meters[first + 2] = meters[first + 2]! + energyLeft
      meters[first + 3] = meters[first + 3]! + energyRight
    }
  }

  /** Notes the levels of the mix in a block. */
  meterMix({ at, count }: Block, left: Float32Array, right: Float32Array): void {
    const { meters } = this.ring
    const row = meterRow(at)
    let [peakLeft, peakRight] = [meters[row]!, meters[row + 1]!]
    let [energyLeft, energyRight] = [0, 0]
    for (let i = 0; i < count; i++) {
      peakLeft = Math.max(peakLeft, Math.abs(left[i]!))
      peakRight = Math.max(peakRight, Math.abs(right[i]!))
      energyLeft += left[i]! ** 2
      energyRight += right[i]! ** 2
    }
    meters[row] = peakLeft
    meters[row + 1] = peakRight
    meters[row + 2] = meters[row + 2]! + energyLeft
    meters[row + 3] = meters[row + 3]! + energyRight
  }

  /** Puts a rendered block, from one of its frames on (a quantum's start), and what follows it into the ring, which then ends at `write`. */
  put({ at, positions }: Block, entry: number, left: Float32Array, right: Float32Array, write: number): void {
    const { ring } = this
    const from = at + entry
    const [newLeft, newRight] = [left.subarray(entry), right.subarray(entry)]
    copyRing(ring.left, from, newLeft, 'write')
    copyRing(ring.right, from, newRight, 'write')
    const newPositions = positions.slice(entry / AUDIO_QUANTUM)
    const first = (from % RING_FRAMES) / AUDIO_QUANTUM
    newPositions.forEach((frame, q) => (ring.positions[first + q] = frame))
    setFramesWritten(ring, write)
    const row = meterRow(at)
    this.send?.({
      from,
      left: newLeft.slice(),
      right: newRight.slice(),
      positions: Float64Array.from(newPositions),
      meters: ring.meters.slice(row, row + METER_ROW),
      write,
    })
  }
}
