import { AgainstMeter, type Against } from '../../core/measure/against'
import { RegionMeter, type RegionMeasure } from '../../core/measure/region-meter'
import type { Session } from '../../core/model/session'
import { planSession, renderedBlocks } from '../../core/render'
import { MOST_SHIFT_SECONDS, phaseRelation, type PhaseRelation } from '../../core/suggest/phase'
import type { SoundCache } from '../storage'
import { correlationsOf } from '../storage'

/** How much of two tracks is compared to find a shift, and by what steps that is looked for, in seconds. */
const PHASE_SECONDS = 4
const STEP_SECONDS = 1

/** How two tracks stand to each other: where they cancel, in session frames, and what would bring them together there. */
export interface TrackPhase {
  against: Against[]
  relation: PhaseRelation
  /** The session frame from which `relation` holds. */
  at: number
}

/** The sound of a track in a session, as it leaves its inserts, block by block. */
async function* blocksOf(session: Session, trackId: string, from: number, to: number, cache: SoundCache) {
  const plan = planSession(session, { trackId, correlations: await correlationsOf(session, cache) })
  const { channels } = plan.tracks.find(({ id }) => id === trackId)!
  for await (const { left, right } of renderedBlocks(plan, cache, { from, to, stage: 'insert' }))
    yield channels === 2 ? [left, right] : [left]
}

/** What a track measures between two session frames after its trim and its sides, before its inserts. */
export async function trackMeasure(
  session: Session,
  trackId: string,
  from: number,
  to: number,
  cache: SoundCache,
): Promise<RegionMeasure> {
  const track = { ...session.tracks[trackId]!, inserts: [] }
  const bare = { ...session, tracks: { ...session.tracks, [trackId]: track } }
  const meter = new RegionMeter(session.sampleRate, track.channels)
  for await (const block of blocksOf(bare, trackId, from, to, cache)) meter.add(block)
  return meter.finish()
}

const mono = ([left, right]: readonly Float32Array[]): Float32Array =>
  right ? left!.map((x, i) => (x + right[i]!) / 2) : left!

/**
 * How two tracks stand to each other between two session frames, as they leave their inserts; null where they do not sound together for
 * long enough. The shift is looked for where they cancel first, or else where both are loudest together.
 */
export async function trackPhase(
  session: Session,
  [firstId, secondId]: readonly [string, string],
  from: number,
  to: number,
  cache: SoundCache,
): Promise<TrackPhase | null> {
  const rate = session.sampleRate
  const most = Math.round(MOST_SHIFT_SECONDS * rate)
  const step = STEP_SECONDS * rate
  const meter = new AgainstMeter(rate)
  const together: { first: number; second: number }[] = []
  const second = blocksOf(session, secondId, from, to, cache)
  let at = 0
  for await (const block of blocksOf(session, firstId, from, to, cache)) {
    const [x, y] = [mono(block), mono((await second.next()).value!)]
    meter.add(x, y)
    for (let i = 0; i < x.length; i++, at++) {
      const sums = (together[Math.floor(at / step)] ??= { first: 0, second: 0 })
      sums.first += x[i]! * x[i]!
      sums.second += y[i]! * y[i]!
    }
  }
  const against = meter.finish().map((a) => ({ ...a, from: from + a.from, to: from + a.to }))
  const sizes = together.map((sums) => Math.sqrt(sums.first * sums.second))
  const loudest = sizes.reduce((best, size, i) => (size > sizes[best]! ? i : best), 0)
  const count = Math.min(to - from, PHASE_SECONDS * rate)
  if (!sizes[loudest] || count < 4 * most) return null
  const begin = Math.min(against[0]?.from ?? from + loudest * step, to - count)
  const excerpts = [firstId, secondId].map(async (id) => {
    const sound = new Float32Array(count)
    let done = 0
    for await (const block of blocksOf(session, id, begin, begin + count, cache)) {
      sound.set(mono(block), done)
      done += block[0]!.length
    }
    return sound
  })
  const [x, y] = await Promise.all(excerpts)
  return { against, relation: phaseRelation(x!, y!, most), at: begin }
}
