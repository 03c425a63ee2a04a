import { RotateCcw } from 'lucide-react'
import { stripOf } from '../../../../core/edit'
import type { Parameter } from '../../../../core/model/parameters'
import type { Session } from '../../../../core/model/session'
import { changeValue, giveValue, stepValue, resetValue } from '../../../../store/actions/parameter-actions'
import { Button } from '../../../parts/button'
import { useAppDispatch } from '../../../parts/hooks'
import { ValueField } from '../../../parts/fields/value-field'

/** The static value of a parameter as a field. Nothing is shown for a parameter that only a lane sets. */
export function ParameterField({
  session,
  trackId,
  along = [],
  parameter,
  label,
  name,
  hideLabel = false,
  resets = false,
  className = 'flex-1',
}: {
  session: Session
  /** null is the mix. */
  trackId: string | null
  /** Other tracks whose value is set along with it. */
  along?: readonly string[]
  parameter: Parameter
  label: string
  /** Name by which Enter finds the field. */
  name?: string
  hideLabel?: boolean
  /** Whether it can be put back to its plain value beside its label. */
  resets?: boolean
  className?: string
}) {
  const dispatch = useAppDispatch()
  const strip = stripOf(session, trackId)
  const { value } = parameter
  if (!strip || !value) return null
  const trackIds = [trackId, ...along]
  const changeAll = (by: number) => dispatch(changeValue(trackIds, parameter, by))
  return (
    <ValueField
      {...(name === undefined ? {} : { name })}
      label={label}
      hideLabel={hideLabel}
      className={className}
      shown={value.show(value.read(strip))}
      parse={value.parse}
      onValue={(to) => void dispatch(giveValue(trackIds, parameter, to))}
      change={{
        from: value.read(strip),
        show: value.show,
        all: along.length ? { words: `${trackIds.length} tracks`, by: changeAll } : undefined,
      }}
      reset={
        resets && value.read(strip) !== value.defaultValue
          ? { words: value.defaultWords, run: () => void dispatch(resetValue(trackIds, parameter)) }
          : undefined
      }
      onNudge={(direction, fine) => void dispatch(stepValue(trackIds, parameter, direction, fine))}
    />
  )
}

/** The field with a reset button. */
export function ResettableField(props: {
  session: Session
  trackId: string | null
  along?: readonly string[]
  parameter: Parameter
  name: string
}) {
  const { session, trackId, parameter, along = [] } = props
  const dispatch = useAppDispatch()
  const strip = stripOf(session, trackId)
  const { value } = parameter
  if (!strip || !value) return null
  // Whose value it is, where it is not that of the one track in the title beside it.
  const label = along.length
    ? `${parameter.name} of ${along.length + 1} tracks`
    : parameter.fieldLabel[trackId === null ? 'mix' : 'track']
  return (
    <div className="flex items-end gap-2">
      <ParameterField {...props} label={label} />
      <Button
        aria-label={`${label} to ${value.defaultWords}`}
        disabled={along.length === 0 && value.read(strip) === value.defaultValue}
        onClick={() => void dispatch(resetValue([trackId, ...along], parameter))}
      >
        <RotateCcw size={15} />
        {value.defaultShort}
      </Button>
    </div>
  )
}
