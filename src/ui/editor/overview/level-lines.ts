import { FADER } from '../../../core/model/parameters'
import { isAutomated, threadOf } from '../../../core/edit'
import { valueAt } from '../../../core/curve/knots'
import { isAudible, regionEnd, regionsOf } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import { gainAt, planRegion, type RegionPlan } from '../../../core/render'
import { dbToGain } from '../../../core/units/decibel'
import { heightToGain } from '../../../core/units/taper'
import type { Pictures } from '../../../engine/storage'

/**
 * The linear gain of the fader of a track, or (null) of the mix, at a session frame: that of its lane where
 * one acts.
 */
function faderGain(session: Session, trackId: string | null): (frame: number) => number {
  const ref = { kind: 'lane', trackId, lane: FADER } as const
  const { knots, kind } = threadOf(session, ref)!
  if (isAutomated(session, ref)) return (frame) => heightToGain(valueAt(kind, knots, frame))
  const still = heightToGain(kind.neutral)
  return () => still
}

/** The powers of regions before the faders of their tracks, in the columns that they reach into, as they were worked out before. */
export type RegionPowers = WeakMap<RegionPlan, Float64Array>

/**
 * The level in dBFS of each of so many columns of a session: the powers of all sounding regions after their
 * gains and faders, added, as in the middle of the column. `known` has what was worked out before for the same pictures and
 * columns, and gets what is new: an edit works out only what it is about.
 */
export function levelsOf(
  session: Session,
  pictures: Pick<Pictures, 'meanSquare'>,
  columns: number,
  framesPerColumn: number,
  known: RegionPowers = new WeakMap(),
): Float64Array {
  const power = new Float64Array(columns)
  for (const trackId of session.trackIds) {
    if (!isAudible(session, trackId)) continue
    const fader = faderGain(session, trackId)
    const trim = dbToGain(session.tracks[trackId]!.trimDb)
    for (const region of regionsOf(session, trackId)) {
      if (region.muted) continue
      const plan = planRegion(session, region, undefined)
      let powers = known.get(plan)
      if (!powers) {
        const { sha256 } = session.sources[region.sourceId]!
        known.set(plan, (powers = powersOf(region, plan, sha256, pictures, columns, framesPerColumn)))
      }
      const first = Math.floor(region.start / framesPerColumn)
      for (let i = 0; i < powers.length; i++) {
        const middle =
          (columnStart(region, first + i, framesPerColumn) + columnEnd(region, first + i, framesPerColumn)) /
          2
        const gain = trim * fader(middle)
        power[first + i] = power[first + i]! + powers[i]! * gain * gain
      }
    }
  }
  const mix = faderGain(session, null)
  return power.map((p, c) => 10 * Math.log10(p * mix((c + 0.5) * framesPerColumn) ** 2))
}

const columnStart = (region: Region, column: number, framesPerColumn: number) =>
  Math.max(region.start, column * framesPerColumn)
const columnEnd = (region: Region, column: number, framesPerColumn: number) =>
  Math.min(regionEnd(region), (column + 1) * framesPerColumn)

/** The power of a region after its gains in each column that it reaches into, as a part of the whole column. */
function powersOf(
  region: Region,
  plan: RegionPlan,
  sha256: string,
  pictures: Pick<Pictures, 'meanSquare'>,
  columns: number,
  framesPerColumn: number,
): Float64Array {
  const first = Math.floor(region.start / framesPerColumn)
  const last = Math.min(columns - 1, Math.floor((regionEnd(region) - 1) / framesPerColumn))
  return Float64Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => {
    const from = columnStart(region, first + i, framesPerColumn)
    const to = columnEnd(region, first + i, framesPerColumn)
    const source = region.reversed
      ? region.offset + region.length - (to - region.start)
      : region.offset + from - region.start
    const gain = gainAt(plan, (from + to) / 2)
    return (
      pictures.meanSquare(sha256, source, source + to - from) * gain * gain * ((to - from) / framesPerColumn)
    )
  })
}
