import { planMemory } from '../state/memory'
import type { RenderPlan } from './render-plan'

/** The strips that feed the mix directly by their outputs, in the order of the session: each is a stem. */
export const stemIds = ({ tracks }: RenderPlan): string[] =>
  tracks.filter(({ feeds }) => feeds.some((feed) => feed.to === null && feed.isOutput)).map(({ id }) => id)

/**
 * The plan of one stem: what a strip leads to the mix by its output, with all that feeds and steers it, through trim, volume and pan of the mix
 * with their lanes, and without its inserts. Where the mix has none, all stems add up to it.
 */
export function stemPlan(plan: RenderPlan, id: string): RenderPlan {
  const tracks = plan.tracks.map((track) => {
    const feeds = track.feeds.filter(
      (feed) => feed.to !== null || (feed.sidechainOf === null && feed.isOutput && track.id === id),
    )
    return feeds.length === track.feeds.length ? track : { ...track, feeds }
  })
  const mix = { ...plan.mix, inserts: [], lastInserts: [] }
  return { ...plan, tracks, mix, memory: planMemory(tracks, plan.order, mix) }
}
