import { useEffect, useMemo, useState } from 'react'
import { alone, moveRegions, setTrack, setTrackSides } from '../../../../core/edit'
import type { RegionMeasure } from '../../../../core/measure/region-meter'
import { regionEnd, regionsOf } from '../../../../core/model/queries'
import type { Session, Track } from '../../../../core/model/session'
import { sidesOf } from '../../../../core/model/sides'
import { least, most } from '../../../../core/units/extremes'
import { showTime } from '../../../../core/units/typed'
import { measureTrack, phaseOfTracks } from '../../../../engine/background'
import type { TrackPhase } from '../../../../engine/background'
import { commit, preview } from '../../../../store/edits'
import { useAppSelector } from '../../../parts/hooks'
import { Balance } from './balance'
import { PhaseOfPair } from './phase-of-pair'

/** How long a session must stay unchanged before its tracks are measured, in milliseconds. */
const CALM = 200

/** The marked range, or from where to where all of some tracks sound; null where they do not. */
function useStretch(session: Session, trackIds: readonly string[]) {
  const range = useAppSelector((s) => s.selection.range)
  return useMemo(() => {
    const rows = trackIds.map((id) => regionsOf(session, id))
    if (rows.some((row) => row.length === 0)) return null
    const from = Math.max(...rows.map((row) => least(row, (r) => r.start)))
    const to = Math.min(...rows.map((row) => most(row, regionEnd)))
    const part = range ?? { from, to }
    return part.to > part.from ? part : null
  }, [session, trackIds, range])
}

/** What is found of a session, or that it failed, undefined until it is there; with every other session it is looked for anew. */
function useFound<T>(session: Session, key: string, look: () => Promise<T>): T | 'failed' | undefined {
  const [found, setFound] = useState<{ session: Session; key: string; is: T | 'failed' } | null>(null)
  useEffect(() => {
    let over = false
    const timer = window.setTimeout(() => {
      const tell = (is: T | 'failed') => over || setFound({ session, key, is })
      look().then(tell, () => tell('failed'))
    }, CALM)
    return () => {
      over = true
      window.clearTimeout(timer)
    }
    // `look` is new with every call; what it looks at is in the key.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [session, key])
  return found?.session === session && found.key === key ? found.is : undefined
}

/** The sides of a stereo track, as it comes to its inserts. */
export function SidesOfTrack({ session, track }: { session: Session; track: Track }) {
  const ids = useMemo(() => [track.id], [track.id])
  const part = useStretch(session, ids)
  const key = JSON.stringify([track.id, part])
  const measure = useFound<RegionMeasure | null>(session, key, () =>
    part ? measureTrack(session, track.id, part.from, part.to) : Promise.resolve(null),
  )
  return (
    <>
      {!part && <p className="mb-2 text-sm text-soft">There is no sound on it to be measured.</p>}
      <Balance
        session={session}
        of={{
          sides: sidesOf(track),
          measure: part ? (measure ?? null) : undefined,
          start: part?.from ?? 0,
          preview: (change) => preview(setTrackSides, { trackIds: ids, change }),
          commit: (change) => commit(setTrackSides, { trackIds: ids, change }),
        }}
      />
    </>
  )
}

// One is set against the other: where both are in a group, they do not go along.
const SHIFT = alone(moveRegions)

/** Two tracks of one event. */
export function PhaseOfTracks({
  session,
  pair: [first, second],
}: {
  session: Session
  pair: readonly [Track, Track]
}) {
  const ids = useMemo(() => [first.id, second.id] as const, [first.id, second.id])
  const part = useStretch(session, ids)
  const found = useFound<TrackPhase | null>(session, JSON.stringify([ids, part]), () =>
    part ? phaseOfTracks(session, ids, part.from, part.to) : Promise.resolve(null),
  )
  const time = (frame: number) => showTime(frame, session.sampleRate, 1)
  const known = found === 'failed' ? null : found
  const against = known?.against ?? []
  const invert = { trackIds: [second.id], change: { polarity: (second.polarity === 1 ? -1 : 1) as 1 | -1 } }
  return (
    <PhaseOfPair
      session={session}
      relation={found === 'failed' ? 'failed' : known === undefined ? undefined : (known?.relation ?? null)}
      at={known?.at ?? 0}
      name={second.name}
      where={
        against.length === 0
          ? undefined
          : against.length === 1
            ? `They cancel from ${time(against[0]!.from)} to ${time(against[0]!.to)}.`
            : `They cancel in ${against.length} stretches, first from ${time(against[0]!.from)} to ${time(against[0]!.to)}.`
      }
      compared="as they leave their inserts"
      invert={{ preview: preview(setTrack, invert), commit: commit(setTrack, invert) }}
      shift={(byFrames) => {
        // What lies at the very start cannot come earlier: then the other comes later.
        const row = regionsOf(session, second.id)
        const room = least(row, (r) => r.start)
        const other = byFrames < 0 && room < -byFrames
        const moved = other ? regionsOf(session, first.id) : row
        const shift = {
          regionIds: moved.map(({ id }) => id),
          byFrames: other ? -byFrames : byFrames,
          byTracks: 0,
        }
        return { preview: preview(SHIFT, shift), commit: commit(SHIFT, shift) }
      }}
    />
  )
}
