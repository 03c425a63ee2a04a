import type { Lane, Session } from './session'

/** What keeps a rendering from being the plain mix of all that is in the session. */
export interface MixAside {
  /** Names of the tracks that are soloed, and of those that are muted. */
  soloed: string[]
  muted: string[]
  /** How many regions are muted, and how many lanes with knots are bypassed. */
  mutedRegions: number
  bypassedLanes: number
}

const isBypassed = (lane: Lane) => lane.bypassed && lane.knots.length > 0

/** What is soloed, muted and bypassed in a session. */
export function mixAside(session: Session): MixAside {
  const tracks = session.trackIds.map((id) => session.tracks[id]!)
  const lanes = [session.mix, ...tracks].flatMap((strip) => Object.values(strip.lanes))
  return {
    soloed: tracks.filter((t) => t.soloed).map((t) => t.name),
    muted: tracks.filter((t) => t.muted).map((t) => t.name),
    mutedRegions: Object.values(session.regions).filter((r) => r.muted).length,
    bypassedLanes: lanes.filter(isBypassed).length,
  }
}

/** Whether a session is rendered as its plain mix. */
export const isPlainMix = ({ soloed, muted, mutedRegions, bypassedLanes }: MixAside): boolean =>
  soloed.length + muted.length + mutedRegions + bypassedLanes === 0

const acting = (lanes: Record<string, Lane>) =>
  Object.fromEntries(
    Object.entries(lanes).map(([key, lane]) => [key, lane.bypassed ? { ...lane, bypassed: false } : lane]),
  )

/** The session with nothing soloed, muted or bypassed. */
export const plainMix = (session: Session): Session => ({
  ...session,
  tracks: Object.fromEntries(
    Object.entries(session.tracks).map(([id, track]) => [
      id,
      { ...track, soloed: false, muted: false, lanes: acting(track.lanes) },
    ]),
  ),
  regions: Object.fromEntries(
    Object.entries(session.regions).map(([id, r]) => [id, r.muted ? { ...r, muted: false } : r]),
  ),
  mix: { ...session.mix, lanes: acting(session.mix.lanes) },
})

const some = (count: number, noun: string, verb: string) =>
  `${count} ${noun}${count === 1 ? '' : 's'} ${count === 1 ? 'is' : 'are'} ${verb}`

/** What is said of it before rendering, a sentence for each. */
export function asideWords({ soloed, muted, mutedRegions, bypassedLanes }: MixAside): string[] {
  return [
    ...(soloed.length
      ? [
          `${some(soloed.length, 'track', 'soloed')} (${soloed.join(', ')}): only ${soloed.length === 1 ? 'it' : 'they'} will be in the file.`,
        ]
      : []),
    ...(muted.length
      ? [`${some(muted.length, 'track', 'muted')} (${muted.join(', ')}) and will not be in the file.`]
      : []),
    ...(mutedRegions ? [`${some(mutedRegions, 'region', 'muted')} and will not be in the file.`] : []),
    ...(bypassedLanes ? [`${some(bypassedLanes, 'lane', 'bypassed')}: static values hold there.`] : []),
  ]
}
