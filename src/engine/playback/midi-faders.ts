/** A movement of a fader or knob, as a MIDI control change says it. */
export interface FaderMove {
  /** 1…16. */
  channel: number
  control: 'volume' | 'pan'
  /** Volume: how high the fader stands, 0…1. Pan: -1 (left) … 1 (right). */
  value: number
}

/** A device with faders. */
export interface FaderDevice {
  id: string
  name: string
  /** Returns how to stop listening. */
  listen(onMove: (move: FaderMove) => void): () => void
}

/** The controllers of MIDI 1.0 that are heard, channel volume and pan, and how their 0…127 are read and written. */
const controllers: Readonly<
  Record<number, { control: FaderMove['control']; read(step: number): number; write(value: number): number }>
> = {
  7: { control: 'volume', read: (step) => step / 127, write: (value) => Math.round(value * 127) },
  // The middle of pan is 64; both ends are reached.
  10: {
    control: 'pan',
    read: (step) => Math.max(-1, (step - 64) / 63),
    write: (value) => Math.round(64 + value * (value < 0 ? 64 : 63)),
  },
}

/** Reads a MIDI message; null for everything but a change of channel volume or pan. */
export function readMidi(bytes: ArrayLike<number>): FaderMove | null {
  const [status = 0, number = -1, step = 0] = [bytes[0], bytes[1], bytes[2]]
  const controller = controllers[number]
  if (bytes.length < 3 || status >> 4 !== 0xb || !controller || step > 127) return null
  return { channel: (status & 15) + 1, control: controller.control, value: controller.read(step) }
}

/** The message that a fader sends for a movement. */
export function writeMidi({ channel, control, value }: FaderMove): number[] {
  const [number, { write }] = Object.entries(controllers).find(([, c]) => c.control === control)!
  return [0xb0 | (channel - 1), Number(number), write(value)]
}

/** How near a fader must be to a value to take hold of it, as a part of its way. */
const NEAR = 0.02

/**
 * Lets a fader that stands elsewhere take hold of a value only when it has come to it or passed it, so that the value
 * does not jump. One for each fader and value.
 */
export class PickUp {
  private last: number | null = null
  private held = false

  /** Whether the fader, now at a value of the range `span` wide, moves what stands at `present`. */
  takes(value: number, present: number, span: number): boolean {
    const [before, was] = [this.last, this.held]
    this.last = value
    this.held =
      was ||
      Math.abs(value - present) <= NEAR * span ||
      (before !== null && (before - present) * (value - present) <= 0)
    return this.held
  }

  get isHeld(): boolean {
    return this.held
  }

  /** Lets go: the value may have changed by other means. */
  release(): void {
    this.held = false
  }
}

const simulated = new Set<(move: FaderMove) => void>()

/** A fader on the screen that sends the same messages as a real one, for trying riding without hardware. */
export const simulatedFader: FaderDevice = {
  id: 'simulated',
  name: 'Simulated fader',
  listen(onMove) {
    simulated.add(onMove)
    return () => void simulated.delete(onMove)
  },
}

/** Moves the simulated fader. */
export function moveSimulated(move: FaderMove): void {
  const read = readMidi(writeMidi(move))
  if (read) for (const onMove of simulated) onMove(read)
}

/**
 * The faders of this computer, by Web MIDI. Rejects with an Error that says why where there is no MIDI or it
 * is not allowed.
 */
export async function midiDevices(): Promise<FaderDevice[]> {
  if (!('requestMIDIAccess' in navigator))
    throw new Error('This browser has no Web MIDI; the simulated fader works all the same.')
  const access = await navigator.requestMIDIAccess().catch(() => {
    throw new Error(
      'MIDI was not allowed for this page. Allow it in the site’s permissions and choose the fader again.',
    )
  })
  return [...access.inputs.values()].map((input) => ({
    id: input.id,
    name: input.name ?? 'MIDI input',
    listen(onMove) {
      const hear = (event: MIDIMessageEvent) => {
        const move = event.data && readMidi(event.data)
        if (move) onMove(move)
      }
      input.addEventListener('midimessage', hear)
      return () => input.removeEventListener('midimessage', hear)
    },
  }))
}
