import fc from 'fast-check'
import { testRegion } from '../model/fixture.test-util'
import {
  crossfadeLaws,
  fadeCurves,
  type Crossfade,
  type Fade,
  type GainThread,
  type Knot,
  type Region,
  type SidesChange,
} from '../model/session'
import { CHUNK_FRAMES } from './region/chunk-cache'

const bend = fc.constantFrom(0, 0, 0.6, -0.4)

/** Knots at odd frames; neighbours often have the same value, so that there are plateaus. */
const threadKnots: fc.Arbitrary<Knot[]> = fc
  .uniqueArray(fc.integer({ min: 0, max: 6000 }), { minLength: 1, maxLength: 7 })
  .chain((frames) =>
    fc.tuple(
      ...frames
        .sort((a, b) => a - b)
        .map((frame) =>
          fc.record({
            frame: fc.constant(2 * frame + 1),
            value: fc.constantFrom(0, 0.4, 0.4, 0.63096, 0.63096, 0.8),
            shape: fc.constantFrom<Knot['shape']>('line', 'line', 's-curve', 'hold'),
            bend,
          }),
        ),
    ),
  )

const fade: fc.Arbitrary<Fade> = fc.oneof(
  fc.record({
    kind: fc.constant('gain' as const),
    length: fc.integer({ min: 1, max: 440 }),
    curve: fc.constantFrom(...fadeCurves),
    bend,
    level: fc.constantFrom(0, 0.2),
  }),
  fc.record({
    kind: fc.constant('tape' as const),
    length: fc.integer({ min: 100, max: 440 }),
    k: fc.constantFrom(1, 2),
  }),
)
/** Something that is rarely there. */
const rarely = <T>(of: fc.Arbitrary<T>) => fc.option(of, { freq: 2 })

export const sides: fc.Arbitrary<SidesChange> = fc.record({
  gainDb: fc.tuple(fc.integer({ min: -6, max: 6 }), fc.integer({ min: -6, max: 6 })),
  polarity: fc.tuple(fc.constantFrom<1 | -1>(1, -1), fc.constantFrom<1 | -1>(1, -1)),
})

/** A region of a track: where it begins after the one before it (before its end: a crossfade), and what shapes it. */
const placed = fc.record({
  after: fc.oneof(
    { arbitrary: fc.integer({ min: 0, max: 2500 }), weight: 3 },
    fc.integer({ min: -400, max: -1 }),
  ),
  law: fc.constantFrom(...crossfadeLaws),
  length: fc.integer({ min: 900, max: 6000 }),
  offset: fc.integer({ min: 0, max: 3000 }),
  clipGainDb: fc.integer({ min: -9, max: 6 }),
  polarity: fc.constantFrom<1 | -1>(1, 1, -1),
  reversed: fc.constantFrom(false, false, false, true),
  muted: fc.constantFrom(false, false, false, false, true),
  fadeIn: rarely(fade),
  fadeOut: rarely(fade),
  knots: fc.option(threadKnots),
  sides: rarely(sides),
})

/** The regions of a track, with what belongs to them. */
export interface RandomRegions {
  regions: Region[]
  gainThreads: GainThread[]
  crossfades: Crossfade[]
}

/** The places of the regions of a track; `regionsOf` makes them. */
export const randomRegions = fc.array(placed, { minLength: 1, maxLength: 4 })

/** Regions of track `t<n>`, whose source is `s<n>`, that keep the rules. */
export function regionsOf(n: number, stereo: boolean, list: readonly RegionPlace[]): RandomRegions {
  const made: RandomRegions = { regions: [], gainThreads: [], crossfades: [] }
  let end = 0
  let before: Region | undefined
  list.forEach((place, k) => {
    const { after, law, knots, sides: changed, fadeIn, fadeOut, ...rest } = place
    const id = `r${n}-${k}`
    const overlap = before && after < 0 ? -after : 0
    const start = overlap ? end - overlap : end + Math.max(0, after)
    const region: Region = {
      ...testRegion(id, { trackId: `t${n}`, sourceId: `s${n}`, ...rest, start }),
      offset: Math.min(rest.offset, CHUNK_FRAMES - rest.length),
      fadeIn: overlap ? null : fadeIn,
      fadeOut,
      gainThreadId: knots ? `g${n}-${k}` : null,
      ...(changed && stereo ? { sides: changed } : {}),
    }
    if (knots) made.gainThreads.push({ id: `g${n}-${k}`, knots })
    if (overlap && before) {
      before.fadeOut = null
      const side = { curve: 'linear' as const, bend: 0.3 }
      made.crossfades.push({ id: `x${id}`, leftId: before.id, rightId: id, law, out: side, in: side })
    }
    made.regions.push(region)
    before = region
    end = start + region.length
  })
  return made
}

type RegionPlace = typeof placed extends fc.Arbitrary<infer Place> ? Place : never
