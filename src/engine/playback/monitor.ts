/** What of the sound is listened to. */
export const monitorViews = ['stereo', 'mono', 'left', 'right', 'swapped', 'side'] as const
export type MonitorView = (typeof monitorViews)[number]

/** How the sound is led to the ears: never part of a file. */
export interface Monitor {
  /** In dB, at most 0. */
  levelDb: number
  dim: boolean
  view: MonitorView
  /** The id of an output device; empty for the one of the system. */
  deviceId: string
}

export const PLAIN_MONITOR: Monitor = { levelDb: 0, dim: false, view: 'stereo', deviceId: '' }

/** By how many dB dimming is softer. */
export const DIM_DB = -20

/** What of left and right goes to the left ear, and to the right one. */
const VIEWS: Record<MonitorView, readonly [readonly [number, number], readonly [number, number]]> = {
  stereo: [
    [1, 0],
    [0, 1],
  ],
  mono: [
    [0.5, 0.5],
    [0.5, 0.5],
  ],
  // What is alone is in the middle: both ears hear it.
  left: [
    [1, 0],
    [1, 0],
  ],
  right: [
    [0, 1],
    [0, 1],
  ],
  swapped: [
    [0, 1],
    [1, 0],
  ],
  side: [
    [0.5, -0.5],
    [0.5, -0.5],
  ],
}

/** The gains from left and right to the left ear, and to the right one. */
export function monitorGains({ levelDb, dim, view }: Monitor): [number, number, number, number] {
  const level = 10 ** ((levelDb + (dim ? DIM_DB : 0)) / 20)
  const [left, right] = VIEWS[view]
  return [left[0] * level, left[1] * level, right[0] * level, right[1] * level]
}

/** In how many seconds a change is there, without a click. */
const GLIDE = 0.01

/** What lies between what is played and the output of an audio context. */
export class MonitorPath {
  private monitor = PLAIN_MONITOR
  private context: AudioContext | null = null
  private gains: GainNode[] = []

  connect(context: AudioContext, source: AudioNode): void {
    this.context = context
    const splitter = new ChannelSplitterNode(context, { numberOfOutputs: 2 })
    const merger = new ChannelMergerNode(context, { numberOfInputs: 2 })
    const values = monitorGains(this.monitor)
    this.gains = values.map((gain, n) => {
      const node = new GainNode(context, { gain })
      splitter.connect(node, n % 2)
      node.connect(merger, 0, n < 2 ? 0 : 1)
      return node
    })
    source.connect(splitter)
    merger.connect(context.destination)
    void this.lead()
  }

  set(monitor: Monitor): void {
    const device = monitor.deviceId !== this.monitor.deviceId
    this.monitor = monitor
    const { context } = this
    if (!context) return
    monitorGains(monitor).forEach((gain, n) =>
      this.gains[n]!.gain.setTargetAtTime(gain, context.currentTime, GLIDE),
    )
    if (device) void this.lead()
  }

  /** Leads to the chosen device, where the browser lets one choose; else it stays with the one of the system. */
  private async lead(): Promise<void> {
    const context = this.context as (AudioContext & { setSinkId?(id: string): Promise<void> }) | null
    const { deviceId } = this.monitor
    if (deviceId === '' && !this.led) return
    this.led = true
    await context?.setSinkId?.(deviceId).catch(() => undefined)
  }
  private led = false
}
