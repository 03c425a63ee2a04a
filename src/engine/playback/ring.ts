/** Frames that are rendered ahead of what is played, at most. */
export const AHEAD_FRAMES = 65536
/** Frames that stay after they were played, for what looks at what is heard. */
export const HEARD_FRAMES = 16384

/**
 * The ring between the render worker, which writes it, and the worklet, which plays it. Stream frames count
 * from the start of playback; frame n lies in slot n mod RING_FRAMES. Beside the samples stand, for every
 * quantum, the session frame it was rendered from, and for every meter slot the peaks of the tracks.
 */
export const RING_FRAMES = AHEAD_FRAMES + HEARD_FRAMES
/** Frames that the audio thread plays at a time. */
export const AUDIO_QUANTUM = 128
/** Frames that one row of meter peaks covers. */
export const METER_FRAMES = 1024
/** A row has slots for the mix and then for up to this many tracks less one. */
export const METER_CHANNELS = 256
/** Numbers of a slot: largest sample left and right, and the sums of the squares of the row's samples, left and right. */
export const METER_NUMBERS = 4
/** Where in a row the slots of watched places begin (see `RingProbe`), and how many there are. */
export const PROBES = METER_CHANNELS * METER_NUMBERS
export const PROBE_SLOTS = 64
/**
 * Numbers of such a slot: largest sample left and right, the sum of the K-weighted squares of both, and reductions in dB, of up to
 * four bands, and how many milliseconds the insert took.
 */
export const PROBE_NUMBERS = 8
/** Where the sound that came to a watched insert in the row begins, and the sound that left it. */
export const SOUND_BEFORE = PROBES + PROBE_SLOTS * PROBE_NUMBERS
export const SOUND_AFTER = SOUND_BEFORE + METER_FRAMES
/** Where the sound at the place that is measured begins in the row, left and right. */
export const SCOPE_LEFT = SOUND_AFTER + METER_FRAMES
export const SCOPE_RIGHT = SCOPE_LEFT + METER_FRAMES
/** Numbers of a row. */
export const METER_ROW = SCOPE_RIGHT + METER_FRAMES

/**
 * Words of `control`. `READ` and `WRITE` count whole quanta since the start of playback and not frames: as
 * 32-bit numbers they last for 66 days at 48 kHz, where frames would for twelve hours. Use `framesRead` and
 * the like.
 */
export const STATE = 0
export const READ = 1
export const WRITE = 2
export const UNDERRUNS = 3
export const CONTROL_WORDS = 8

export const STOPPED = 0
export const PLAYING = 1
export const STOPPING = 2

/** The parts of a ring over shared memory, or over plain memory where there is none. */
export interface RingMemory {
  shared: boolean
  control: Int32Array<ArrayBufferLike>
  left: Float32Array<ArrayBufferLike>
  right: Float32Array<ArrayBufferLike>
  positions: Float64Array<ArrayBufferLike>
  meters: Float32Array<ArrayBufferLike>
}

/** Samples and what belongs to them, sent where memory cannot be shared. */
export interface RingMessage {
  from: number
  left: Float32Array
  right: Float32Array
  positions: Float64Array
  meters: Float32Array
  /** End of the ring after this block. */
  write: number
}

/** What the worklet says where memory cannot be shared. */
export interface RingReport {
  /** The start of playback that this belongs to; late reports of an earlier one are ignored. */
  epoch: number
  read: number
  state: number
  underruns: number
}

/** A new ring. */
export function createRing(shared: boolean): RingMemory {
  const buffer = (bytes: number): ArrayBufferLike =>
    shared ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes)
  return {
    shared,
    control: new Int32Array(buffer(CONTROL_WORDS * 4)),
    left: new Float32Array(buffer(RING_FRAMES * 4)),
    right: new Float32Array(buffer(RING_FRAMES * 4)),
    positions: new Float64Array(buffer((RING_FRAMES / AUDIO_QUANTUM) * 8)),
    meters: new Float32Array(buffer((RING_FRAMES / METER_FRAMES) * METER_ROW * 4)),
  }
}

/** Copies stream frames from `from` on between the ring and a plain array, as many as the array holds. */
export function copyRing(
  ring: Float32Array<ArrayBufferLike>,
  from: number,
  plain: Float32Array,
  direction: 'read' | 'write',
): void {
  for (let done = 0; done < plain.length;) {
    const slot = (from + done) % RING_FRAMES
    const take = Math.min(plain.length - done, RING_FRAMES - slot)
    if (direction === 'write') ring.set(plain.subarray(done, done + take), slot)
    else plain.set(ring.subarray(slot, slot + take), done)
    done += take
  }
}

/** The stream frame that is played next. */
export const framesRead = ({ control }: RingMemory): number => Atomics.load(control, READ) * AUDIO_QUANTUM

/** The stream frame at which the ring ends. */
export const framesWritten = ({ control }: RingMemory): number => Atomics.load(control, WRITE) * AUDIO_QUANTUM

/** Stores how far playback has got; `frame` is the start of a quantum. */
export const setFramesRead = ({ control }: RingMemory, frame: number): void =>
  void Atomics.store(control, READ, frame / AUDIO_QUANTUM)

/** Stores where the ring ends; `frame` is the start of a quantum. */
export const setFramesWritten = ({ control }: RingMemory, frame: number): void =>
  void Atomics.store(control, WRITE, frame / AUDIO_QUANTUM)

/** The session frame of a stream frame's quantum. */
export const positionAt = (ring: RingMemory, streamFrame: number) =>
  ring.positions[Math.floor((streamFrame % RING_FRAMES) / AUDIO_QUANTUM)]!

/** Index of the first meter number of the row that covers a stream frame. */
export const meterRow = (streamFrame: number) =>
  Math.floor((streamFrame % RING_FRAMES) / METER_FRAMES) * METER_ROW
