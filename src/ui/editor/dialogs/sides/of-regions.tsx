import { useEffect, useState } from 'react'
import { alone, moveRegions, setRegion, setRegionSides } from '../../../../core/edit'
import { regionEnd } from '../../../../core/model/queries'
import type { Region, Session } from '../../../../core/model/session'
import { sidesOf } from '../../../../core/model/sides'
import type { PhaseRelation } from '../../../../core/suggest/phase'
import { measureFailed, phaseOf } from '../../../../engine/background'
import { commit, preview } from '../../../../store/edits'
import { useMeasured } from '../../parts/watch/use-measured'
import { Balance } from './balance'
import { PhaseOfPair } from './phase-of-pair'

/** The sides of stereo regions. */
export function SidesOfRegions({ session, regions }: { session: Session; regions: readonly Region[] }) {
  const measures = useMeasured(session, regions)
  const regionIds = regions.map(({ id }) => id)
  return (
    <Balance
      session={session}
      of={{
        sides: sidesOf(regions[0]!),
        measure:
          regions.length === 1
            ? (measures[0] ?? (measureFailed(session, regions[0]!) ? 'failed' : null))
            : undefined,
        start: regions[0]!.start,
        preview: (change) => preview(setRegionSides, { regionIds, change }),
        commit: (change) => commit(setRegionSides, { regionIds, change }),
      }}
    />
  )
}

// One is set against the other: where both are in a group, they do not go along.
const [INVERT, SHIFT] = [alone(setRegion), alone(moveRegions)]

/** Two regions of one event. */
export function PhaseOfRegions({
  session,
  pair: [first, second],
}: {
  session: Session
  pair: readonly [Region, Region]
}) {
  const key = JSON.stringify([first, second])
  const [found, setFound] = useState<{ key: string; is: PhaseRelation | 'failed' | null } | null>(null)
  useEffect(() => {
    let over = false
    phaseOf(session, first.id, second.id).then(
      (is) => over || setFound({ key, is }),
      () => over || setFound({ key, is: 'failed' }),
    )
    return () => void (over = true)
    // The session is new with every edit; what counts are the two regions.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key])
  const invert = { regionIds: [second.id], change: { polarity: (second.polarity === 1 ? -1 : 1) as 1 | -1 } }
  const from = Math.max(first.start, second.start)
  return (
    <PhaseOfPair
      session={session}
      relation={found?.key === key ? found.is : undefined}
      at={Math.floor((from + Math.min(regionEnd(first), regionEnd(second))) / 2)}
      name={second.name}
      compared="as they sound, before the inserts of their tracks"
      invert={{ preview: preview(INVERT, invert), commit: commit(INVERT, invert) }}
      shift={(byFrames) => {
        const shift = { regionIds: [second.id], byFrames, byTracks: 0 }
        return { preview: preview(SHIFT, shift), commit: commit(SHIFT, shift) }
      }}
    />
  )
}
