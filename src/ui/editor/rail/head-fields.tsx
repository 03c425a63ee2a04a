import type { PointerEvent } from 'react'
import { isAutomated, laneKeysOf, stripOf } from '../../../core/edit'
import { parameterOf, parametersOf } from '../../../core/model/parameters'
import type { Session } from '../../../core/model/session'
import { beadOf } from '../../../store/beads'
import { beadPicked, headPicked, trackPicked } from '../../../store/view'
import { useAppDispatch } from '../../parts/hooks'
import { LiveField } from '../parts/fields/live-field'
import { ParameterField } from '../parts/inserts/parameter-field'
import { HEAD_FIELD } from './fader'

/** A parameter of a strip on its head: the static value, or while a lane moves it the one at the playhead. */
export function HeadField({
  session,
  trackId,
  parameterKey,
  label,
  riding,
  className,
}: {
  session: Session
  trackId: string | null
  parameterKey: string
  label: string
  riding: boolean
  className: string
}) {
  const dispatch = useAppDispatch()
  const lane = firstLane(session, trackId, parameterKey)
  const bead = beadOf(trackId, parameterKey)
  // The value that was pressed is the one that is current.
  const pick = (event: PointerEvent) => {
    event.stopPropagation()
    dispatch(trackId === null ? beadPicked(bead) : headPicked({ trackId, bead }))
  }
  const strip = stripOf(session, trackId)!
  const each = parametersOf(strip).filter((p) => p.shownAt === parameterKey)
  if (each.length > 1)
    return (
      <button
        type="button"
        aria-label={`${label}, one for each channel`}
        title={`One for each channel: ${each.map((p) => p.laneName).join(' and ')}. Press to see their lanes`}
        onClick={() => {
          if (trackId !== null) dispatch(trackPicked(trackId))
          dispatch(beadPicked(bead))
        }}
        className={`${className} h-6 rounded-md border border-seam px-0.5 text-right text-xs`}
      >
        pair
      </button>
    )
  return isAutomated(session, { kind: 'lane', trackId, lane }) || riding ? (
    <LiveField session={session} trackId={trackId} lane={lane} className={className} />
  ) : (
    <div onPointerDown={pick} className={className}>
      <ParameterField
        session={session}
        trackId={trackId}
        parameter={parameterOf(strip, parameterKey)}
        label={label}
        hideLabel
        className={HEAD_FIELD}
      />
    </div>
  )
}

/** The lane that stands for a parameter: its own, or the first of those that are shown at it. */
const firstLane = (session: Session, trackId: string | null, key: string): string =>
  stripOf(session, trackId)
    ? (laneKeysOf(session, trackId).find((lane) => beadOf(trackId, lane) === beadOf(trackId, key)) ?? key)
    : key
