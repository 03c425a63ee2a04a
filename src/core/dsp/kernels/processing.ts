import { head } from './head'
import { plainDynamics, wasmDynamics, type Dynamics, type DynamicsExports } from './dynamics'
import { plainFilters, wasmFilters, type FilterExports, type Filters } from './filter'
import { wantsPlain } from './form'
import { newInstance } from './instance'
import { LEFT, PROCESSING_END, RIGHT } from './processing-places'
import { plainPoints, wasmPoints, type PointExports, type Points } from './points'
import { PROCESSING_WASM } from './processing-wasm'
import { plainRepeats, wasmRepeats, type RepeatExports, type Repeats } from './repeats'
import { plainRoom, wasmRoom, type RoomExports, type RoomLoops } from './room'
import { plainSaturation, wasmSaturation, type Saturation, type SaturationExports } from './saturation'
import { SOUND_FRAMES } from './frames'
import { plainSound, wasmSound, type Sound, type SoundExports, type SoundLoops } from './sound'

/** The loops of all that works on the sound of a strip before its fader, on one sound. */
export interface ProcessingKernel {
  /** Both sides of the sound, changed in place. */
  readonly sound: Sound
  readonly loops: SoundLoops
  readonly filters: Filters
  readonly dynamics: Dynamics
  readonly points: Points
  readonly repeats: Repeats
  readonly saturation: Saturation
  readonly room: RoomLoops
}

/** The definition: what every other form must give, to the bit. */
export function plainProcessing(): ProcessingKernel {
  const buffer = new ArrayBuffer(PROCESSING_END)
  const sound = soundIn(buffer)
  return {
    sound,
    loops: plainSound(sound, buffer),
    filters: plainFilters(sound, buffer),
    dynamics: plainDynamics(sound, buffer),
    points: plainPoints(buffer),
    repeats: plainRepeats(sound, buffer),
    saturation: plainSaturation(buffer),
    room: plainRoom(sound, buffer),
  }
}

const soundIn = (buffer: ArrayBuffer): Sound => [
  new Float64Array(buffer, LEFT, SOUND_FRAMES),
  new Float64Array(buffer, RIGHT, SOUND_FRAMES),
]

/** The WebAssembly form; null where there is none. */
export function wasmProcessing(): ProcessingKernel | null {
  const exports = newInstance<
    { memory: WebAssembly.Memory } & SoundExports &
      FilterExports &
      DynamicsExports &
      PointExports &
      RepeatExports &
      SaturationExports &
      RoomExports
  >(PROCESSING_WASM)
  if (!exports) return null
  const { buffer } = exports.memory
  return {
    sound: soundIn(buffer),
    loops: wasmSound(buffer, exports),
    filters: wasmFilters(buffer, exports),
    dynamics: wasmDynamics(buffer, exports),
    points: wasmPoints(buffer, exports),
    repeats: wasmRepeats(buffer, exports),
    saturation: wasmSaturation(buffer, exports),
    room: wasmRoom(buffer, exports),
  }
}

let shared: ProcessingKernel | undefined
let plainShared: ProcessingKernel | undefined

/**
 * The quickest form that this machine has, shared by all that works on this thread: its sound is that of the strip that is
 * being rendered, and nothing else in it outlasts a call.
 */
export const processingKernel = (): ProcessingKernel =>
  wantsPlain() ? (plainShared ??= plainProcessing()) : (shared ??= wasmProcessing() ?? plainProcessing())

/** Puts sound into the kernel, unless it lies there. */
export function copyIn(kernel: ProcessingKernel, sound: Sound, channels: 1 | 2, count: number): void {
  for (let c = 0; c < channels; c++)
    if (sound[c] !== kernel.sound[c]) kernel.sound[c]!.set(head(sound[c]!, count))
}

/** Puts what the kernel made of it back, unless it lies there. */
export function copyOut(kernel: ProcessingKernel, sound: Sound, channels: 1 | 2, count: number): void {
  for (let c = 0; c < channels; c++)
    if (sound[c] !== kernel.sound[c]) sound[c]!.set(head(kernel.sound[c]!, count))
}
