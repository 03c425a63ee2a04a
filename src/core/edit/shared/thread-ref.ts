/**
 * Which thread is meant: that of a region (in source frames), or a lane of a track or, with null, of the mix
 * (in session frames).
 */
export type ThreadRef =
  { kind: 'region'; regionId: string } | { kind: 'lane'; trackId: string | null; lane: string }

/** A lane of a track, or with null as its id of the mix; `lane` is the key of its parameter. */
export type LaneRef = Extract<ThreadRef, { kind: 'lane' }>

/** A word for a reference, the same for the same thread of the same owner. */
export const refKey = (ref: ThreadRef): string =>
  ref.kind === 'region' ? `region ${ref.regionId}` : `lane ${ref.trackId ?? ''} ${ref.lane}`

export const sameRef = (a: ThreadRef, b: ThreadRef): boolean => refKey(a) === refKey(b)
