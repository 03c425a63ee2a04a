import type { z } from 'zod/mini'
import type { crossfadeLaws, dyes, fadeCurves, panLaws, weaveShapes } from './limits'
import type {
  busSchema,
  crossfadeSchema,
  fadeSchema,
  gainFadeSchema,
  gainThreadSchema,
  giveWaySchema,
  groupSchema,
  insertSchema,
  knotSchema,
  laneSchema,
  laneWeaveSchema,
  markerSchema,
  movedGainSchema,
  regionSchema,
  sendSchema,
  sessionSchema,
  sidesSchema,
  sourceSchema,
  tapeFadeSchema,
  trackSchema,
  weaveSchema,
} from './session-schema'

export {
  LIMITS,
  isReservedName,
  TO_MIX,
  dyes,
  fadeCurves,
  crossfadeLaws,
  panLaws,
  stretchShapes,
  weaveShapes,
  MOST_WEAVES,
} from './limits'

export type Session = z.infer<typeof sessionSchema>
export type Track = z.infer<typeof trackSchema>
export type Bus = z.infer<typeof busSchema>
export type Mix = Session['mix']
export type Insert = z.infer<typeof insertSchema>
export type MovedGain = z.infer<typeof movedGainSchema>
export type Send = z.infer<typeof sendSchema>
export type Region = z.infer<typeof regionSchema>
export type Source = z.infer<typeof sourceSchema>
export type SidesChange = z.infer<typeof sidesSchema>
export type Fade = z.infer<typeof fadeSchema>
export type GainFade = z.infer<typeof gainFadeSchema>
export type TapeFade = z.infer<typeof tapeFadeSchema>
export type FadeCurve = (typeof fadeCurves)[number]
export type Knot = z.infer<typeof knotSchema>
export type Lane = z.infer<typeof laneSchema>
export type Weave = z.infer<typeof weaveSchema>
export type WeaveShape = (typeof weaveShapes)[number]
export type LaneWeave = z.infer<typeof laneWeaveSchema>
export type GiveWay = z.infer<typeof giveWaySchema>
export type GainThread = z.infer<typeof gainThreadSchema>
export type Crossfade = z.infer<typeof crossfadeSchema>
export type CrossfadeLaw = (typeof crossfadeLaws)[number]
export type Group = z.infer<typeof groupSchema>
export type Marker = z.infer<typeof markerSchema>
export type PanLaw = (typeof panLaws)[number]
export type Dye = (typeof dyes)[number]
