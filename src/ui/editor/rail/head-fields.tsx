import { isAutomated, laneKeysOf, stripOf } from '../../../core/edit'
import { parameterOf } from '../../../core/model/parameters'
import type { Session } from '../../../core/model/session'
import { beadOf } from '../../../store/beads'
import { LiveField } from '../parts/live-field'
import { ParameterField } from '../parts/parameter-field'
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
  const lane = firstLane(session, trackId, parameterKey)
  return isAutomated(session, { kind: 'lane', trackId, lane }) || riding ? (
    <LiveField session={session} trackId={trackId} lane={lane} className={className} />
  ) : (
    <ParameterField
      session={session}
      trackId={trackId}
      parameter={parameterOf(parameterKey)}
      label={label}
      hideLabel
      className={`${className} ${HEAD_FIELD}`}
    />
  )
}

/** The lane that stands for a parameter: its own, or the first of those that are shown at it. */
const firstLane = (session: Session, trackId: string | null, key: string): string =>
  stripOf(session, trackId)
    ? (laneKeysOf(session, trackId).find((lane) => beadOf(trackId, lane) === beadOf(trackId, key)) ?? key)
    : key
