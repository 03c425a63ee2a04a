import { useEffect, useMemo, useState, useSyncExternalStore } from 'react'
import type { RegionMeasure } from '../../../../core/measure/region-meter'
import type { Region, Session } from '../../../../core/model/session'
import { measuredVersion, measureOf, onMeasured } from '../../../../engine/background'

/**
 * How long a session must stay unchanged before its regions are measured, in milliseconds. Nothing is
 * requested during a drag.
 */
const CALM = 150

/** What regions measure at a clip gain of 0 dB, null for those that are still being measured. */
export function useMeasured(session: Session, regions: readonly Region[]): (RegionMeasure | null)[] {
  const version = useSyncExternalStore(onMeasured, measuredVersion)
  const [calm, setCalm] = useState({ session, regions })
  useEffect(() => {
    const timer = window.setTimeout(() => setCalm({ session, regions }), CALM)
    return () => window.clearTimeout(timer)
  }, [session, regions])
  // While a hand moves, what is shown is that of the session before.
  return useMemo(
    () =>
      regions.map((region) => {
        const known = calm.session.regions[region.id]
        return known ? measureOf(calm.session, known) : null
      }),
    // `version` is listed because what was measured meanwhile is asked for anew.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [calm, regions, version],
  )
}
