import { processorKind } from '../../../../core/dsp/processors'
import type { RenderPlan } from '../../../../core/render'

/** How far the inserts of a strip look ahead, by their ids, in words; null is the mix. Those that do not are not there. */
export function aheadWords(plan: RenderPlan, id: string | null): ReadonlyMap<string, string> {
  const inserts =
    id === null
      ? [...plan.mix.inserts, ...plan.mix.lastInserts]
      : (plan.tracks.find((track) => track.id === id)?.inserts ?? [])
  const words = new Map<string, string>()
  for (const { id: insertId, kind, setup } of inserts) {
    const frames = processorKind(kind).latencyFrames(setup)
    const ms = Math.round((frames / setup.sampleRate) * 10_000) / 10
    if (frames > 0) words.set(insertId, `${ms} ms`)
  }
  return words
}
