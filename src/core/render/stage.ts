/**
 * Which point of the path is rendered: a track's regions summed, after trim, after volume and pan, or the
 * whole mix.
 */
export type Stage = 'clip' | 'insert' | 'track' | 'mix'

/**
 * Called with each audible track's largest sample (linear, left and right, as it leaves volume and pan) of
 * the frames just rendered, and with the sums of the squares of its samples.
 */
export type TrackMeter = (
  trackIndex: number,
  left: number,
  right: number,
  energyLeft: number,
  energyRight: number,
) => void
