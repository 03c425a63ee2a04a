import { dbToGain } from '../units/decibel'
import type { Insert, SidesChange } from './session'

/** Sides that change nothing. */
export const PLAIN_SIDES: SidesChange = { gainDb: [0, 0], polarity: [1, 1] }

/** How the sides of a region or a track are changed, if they are. */
export const sidesOf = ({ sides }: { sides?: SidesChange | undefined }): SidesChange => sides ?? PLAIN_SIDES

const isPlain = ({ gainDb, polarity }: SidesChange) =>
  gainDb.every((db) => db === 0) && polarity.every((p) => p === 1)

/** The factors of left and right; null where they change nothing. */
export function sideFactors(of: { sides?: SidesChange | undefined }): readonly [number, number] | null {
  const sides = sidesOf(of)
  if (isPlain(sides)) return null
  return [dbToGain(sides.gainDb[0]) * sides.polarity[0], dbToGain(sides.gainDb[1]) * sides.polarity[1]]
}

/** Something with other sides; without the field where they change nothing. */
export function withSides<T extends { sides?: SidesChange | undefined }>(of: T, sides: SidesChange): T {
  if (!isPlain(sides)) return { ...of, sides }
  if (of.sides === undefined) return of
  const { sides: _, ...rest } = of
  return rest as T
}

/** No insert of a session has such an id: ids of inserts come from a session, and this one does not. */
const SIDES_ID = ':sides'

/** The sides of a stereo strip as a gain before its inserts, which is what they are to the sound; none where they change nothing. */
export function sidesAsInsert(strip: { sides?: SidesChange | undefined; channels?: 1 | 2 }): Insert[] {
  const { gainDb, polarity } = sidesOf(strip)
  if (strip.channels !== 2 || isPlain({ gainDb, polarity })) return []
  return [
    {
      id: SIDES_ID,
      kind: 'gain',
      bypassed: false,
      values: {
        leftDb: gainDb[0],
        rightDb: gainDb[1],
        invertLeft: polarity[0] === -1,
        invertRight: polarity[1] === -1,
      },
    },
  ]
}
