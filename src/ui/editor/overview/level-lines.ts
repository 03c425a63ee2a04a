import { FADER } from '../../../core/model/parameters'
import { isAutomated, threadOf } from '../../../core/edit'
import { valueAt } from '../../../core/curve/knots'
import { isAudible, regionEnd, regionsOf } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { gainAt, planRegion } from '../../../core/render'
import { dbToGain } from '../../../core/units/decibel'
import { heightToGain } from '../../../core/units/taper'
import type { Pictures } from '../../../engine/sound-pictures'

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

/**
 * The level in dBFS of each of so many columns of a session: the powers of all sounding regions after their
 * gains and faders, added, as in the middle of the column.
 */
export function levelsOf(
  session: Session,
  pictures: Pick<Pictures, 'meanSquare'>,
  columns: number,
  framesPerColumn: number,
): Float64Array {
  const power = new Float64Array(columns)
  for (const trackId of session.trackIds) {
    if (!isAudible(session, trackId)) continue
    const fader = faderGain(session, trackId)
    const trim = dbToGain(session.tracks[trackId]!.trimDb)
    for (const region of regionsOf(session, trackId)) {
      if (region.muted) continue
      const plan = planRegion(session, region, undefined)
      const sha = session.sources[region.sourceId]!.sha256
      const last = Math.min(columns - 1, Math.floor((regionEnd(region) - 1) / framesPerColumn))
      for (let c = Math.floor(region.start / framesPerColumn); c <= last; c++) {
        const from = Math.max(region.start, c * framesPerColumn)
        const to = Math.min(regionEnd(region), (c + 1) * framesPerColumn)
        const source = region.reversed
          ? region.offset + region.length - (to - region.start)
          : region.offset + from - region.start
        const middle = (from + to) / 2
        const gain = gainAt(plan, middle) * trim * fader(middle)
        power[c] =
          power[c]! +
          pictures.meanSquare(sha, source, source + to - from) * gain * gain * ((to - from) / framesPerColumn)
      }
    }
  }
  const mix = faderGain(session, null)
  return power.map((p, c) => 10 * Math.log10(p * mix((c + 0.5) * framesPerColumn) ** 2))
}
