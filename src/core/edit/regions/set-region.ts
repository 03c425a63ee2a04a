import type { Region } from '../../model/session'
import { defineEdit, groupRegions, mapRegions, regionWords } from '../shared/edit'
import { freshId } from '../shared/span'

/** What of a region can be set directly. */
export type RegionChange = Partial<
  Pick<Region, 'name' | 'muted' | 'reversed' | 'polarity' | 'colour' | 'locked'>
>

const HEARD = ['muted', 'reversed', 'polarity'] as const

const changeWords = (change: RegionChange): string =>
  change.name !== undefined
    ? 'Rename'
    : change.muted !== undefined
      ? change.muted
        ? 'Mute'
        : 'Unmute'
      : change.reversed !== undefined
        ? 'Reverse'
        : change.polarity !== undefined
          ? 'Turn polarity of'
          : 'locked' in change
            ? change.locked
              ? 'Lock'
              : 'Unlock'
            : 'Colour of'

/**
 * Sets name, mute, direction, polarity, colour or lock of regions. A reversed region keeps its edges, its
 * sound and its thread on it.
 */
export const setRegion = defineEdit<{ regionIds: readonly string[]; change: RegionChange }>({
  name: 'setRegion',
  // What is heard goes along; names, colours and locks are each region's own.
  together: (session, args) =>
    HEARD.some((key) => key in args.change) ? groupRegions(session, args) : { args, missing: [] },
  label: (session, { regionIds, change }) => `${changeWords(change)} ${regionWords(session, regionIds)}`,
  apply: (session, { regionIds, change }) =>
    mapRegions(session, regionIds, (region) =>
      (Object.keys(change) as (keyof RegionChange)[]).every((key) => region[key] === change[key])
        ? region
        : { ...region, ...change },
    ),
})

/** Gives regions gain threads of their own, with the shape that they shared so far. */
export const unlinkRegions = defineEdit<{ regionIds: readonly string[] }>({
  name: 'unlinkRegions',
  label: (session, { regionIds }) => `Unlink ${regionWords(session, regionIds)}`,
  apply(session, { regionIds }) {
    const shared = new Map<string, number>()
    for (const r of Object.values(session.regions))
      if (r.gainThreadId !== null) shared.set(r.gainThreadId, (shared.get(r.gainThreadId) ?? 0) + 1)
    const gainThreads = { ...session.gainThreads }
    const next = mapRegions(session, regionIds, (region) => {
      const threadId = region.gainThreadId
      if (threadId === null || (shared.get(threadId) ?? 0) < 2) return region
      shared.set(threadId, shared.get(threadId)! - 1)
      const id = freshId(gainThreads, threadId)
      gainThreads[id] = { id, knots: gainThreads[threadId]!.knots }
      return { ...region, gainThreadId: id }
    })
    return next === session ? session : { ...next, gainThreads }
  },
})
