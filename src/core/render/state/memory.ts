import { processorKind, QUANTUM_FRAMES } from '../../dsp/processors'
import type { InsertPlan, MixPlan, PlanMemory, RenderPlan, TrackPlan } from '../plan/render-plan'
import { MOST_TAIL_SECONDS } from './most-tail'

interface Lengths {
  latency: number
  tail: number
  ring: number
  settle: number
}

const LENGTHS = ['latency', 'tail', 'ring', 'settle'] as const

/** The lengths of inserts one after the other, and the samples that they hold to repeat them. */
function lengthsOf(inserts: readonly InsertPlan[]): Lengths & { held: number } {
  const sum = { latency: 0, tail: 0, ring: 0, settle: 0, held: 0 }
  for (const { kind, setup } of inserts) {
    const processor = processorKind(kind)
    const latency = processor.latencyFrames(setup)
    const memory = processor.memory(setup)
    sum.latency += latency
    // Silence is noticed, and things are reset, at whole quanta.
    sum.tail += memory ? memory.tailFrames + QUANTUM_FRAMES : 0
    sum.ring += memory?.ringFrames ?? 0
    sum.settle += latency + (memory?.settleFrames ?? 0)
    sum.held += memory?.heldSamples ?? 0
  }
  return sum
}

/** The memory of strips that are given in the order of the plan. */
export function planMemory(tracks: readonly TrackPlan[], order: readonly number[], mix: MixPlan): PlanMemory {
  const last = lengthsOf([...mix.inserts, ...mix.lastInserts])
  const after = new Map<string | null, Lengths>([[null, last]])
  const most: Lengths = { ...last }
  let { held } = last
  let remembers = last.tail > 0
  for (const index of [...order].reverse()) {
    const { id, inserts, feeds } = tracks[index]!
    const own = lengthsOf(inserts)
    if (own.tail > 0) remembers = true
    held += own.held
    const whole: Lengths = { latency: 0, tail: 0, ring: 0, settle: 0 }
    for (const length of LENGTHS) {
      const beyond = feeds.map(({ to }) => after.get(to)?.[length] ?? 0)
      whole[length] = own[length] + Math.max(0, ...beyond)
      most[length] = Math.max(most[length], whole[length])
    }
    after.set(id, whole)
  }
  return {
    remembers,
    aheadFrames: most.latency,
    tailFrames: most.tail,
    ringFrames: most.ring,
    settleFrames: most.settle,
    heldSamples: held,
  }
}

/** Whether a strip is put out below the mix: the only ones, or each whose output is the mix. */
export const isPutOut = ({ only }: RenderPlan, { id, feeds }: TrackPlan): boolean =>
  only ? only.has(id) : feeds.some((feed) => feed.isOutput && feed.to === null)

/** Seconds of the fade that ends what would sound on for longer. */
const TAIL_FADE_SECONDS = 1

/**
 * The session frame after which nothing sounds any more, at most a minute after the last region: by then all that rings has died away.
 * `fadeFrom` is where it begins to fade out where it would not by itself, null where it does. Where the sound is no longer
 * heard is told by rendering it (`tailEnd`).
 */
export function soundingEnd({
  length,
  memory,
  sampleRate,
}: Pick<RenderPlan, 'length' | 'sampleRate'> & { memory: Pick<PlanMemory, 'ringFrames'> }): {
  end: number
  fadeFrom: number | null
} {
  const most = MOST_TAIL_SECONDS * sampleRate
  if (length === 0) return { end: 0, fadeFrom: null }
  if (memory.ringFrames <= most) return { end: length + memory.ringFrames, fadeFrom: null }
  const fadeFrom = length + most
  return { end: fadeFrom + Math.round(TAIL_FADE_SECONDS * sampleRate), fadeFrom }
}

/** The same for what the inserts of one strip put out of a sound that ends at a session frame. */
export const stripEnd = ({ inserts }: TrackPlan, end: number, sampleRate: number) =>
  soundingEnd({ length: end, sampleRate, memory: { ringFrames: lengthsOf(inserts).ring } })

/** The gain of the fade that ends what sounds on, at a session frame. */
export const tailGain = (plan: Pick<RenderPlan, 'sampleRate'>, fadeFrom: number, frame: number): number =>
  frame <= fadeFrom
    ? 1
    : Math.max(0, 1 - (frame - fadeFrom) / Math.round(TAIL_FADE_SECONDS * plan.sampleRate))

/**
 * The session frame from which a file of a range that begins at `from` is rendered: files begin at frame 0 with nothing
 * remembered, and what lies before a silence in which everything is forgotten need not be rendered.
 */
export function fileStart(plan: RenderPlan, from: number): number {
  const { memory, tracks } = plan
  if (!memory.remembers) return from
  const forgotten = memory.tailFrames + memory.aheadFrames + (tracks.length + 2) * QUANTUM_FRAMES
  // What looks ahead may be heard before a region begins: filters that ring to both sides are.
  const heard = tracks
    .filter((track) => track.feeds.length > 0)
    .flatMap((track) => track.regions)
    .map((region) => ({ from: Math.max(0, region.start - memory.aheadFrames), end: region.end }))
    .filter((sound) => sound.from < from)
    .sort((a, b) => a.from - b.from)
  let start = 0
  let end = 0
  for (const sound of heard) {
    if (sound.from - end >= forgotten) start = sound.from
    end = Math.max(end, sound.end)
  }
  if (from - end >= forgotten) start = from
  return Math.floor(start / QUANTUM_FRAMES) * QUANTUM_FRAMES
}
