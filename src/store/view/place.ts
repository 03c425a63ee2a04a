/** What part of the session is seen. `left` is a session frame (may be a fraction), `top` is in pixels. */
export interface View {
  left: number
  framesPerPixel: number
  top: number
  width: number
  height: number
  /** Heights in pixels of the rows of tracks, without opened lanes; rows beyond the list have the usual one. */
  heights?: readonly number[]
  /** Pixels that the rows of tracks have below their regions, for opened lanes; rows beyond the list have none. */
  below?: readonly number[]
  /** Where what is seen begins, in pixels from `left`: 0 in a view, some way off on a sheet. */
  x0?: number
}

/** A lane that is opened below its track, or (null) below the mix. */
export interface OpenLane {
  trackId: string | null
  lane: string
  height: number
}

/** Where a session is looked at: zoom, scroll, and its opened lanes. */
export type Place = Pick<View, 'left' | 'framesPerPixel' | 'top'> & {
  openLanes: OpenLane[]
  rowHeights?: Record<string, number>
  soundFactors?: Record<string, number>
}

/** An insert of a track or bus, or with null of the mix. */
export interface InsertRef {
  stripId: string | null
  insertId: string
}
