import { RotateCcw } from 'lucide-react'
import { stripOf } from '../../../core/edit'
import type { Parameter } from '../../../core/model/parameters'
import type { Session } from '../../../core/model/session'
import { giveValue, stepValue, resetValue } from '../../../store/parameter-actions'
import { Button } from '../../parts/button'
import { useAppDispatch } from '../../parts/hooks'
import { ValueField } from '../../parts/value-field'

/** The static value of a parameter as a field. Nothing is shown for a parameter that only a lane sets. */
export function ParameterField({
  session,
  trackId,
  parameter,
  label,
  name,
  hideLabel = false,
  className = 'flex-1',
}: {
  session: Session
  /** null is the mix. */
  trackId: string | null
  parameter: Parameter
  label: string
  /** Name by which Enter finds the field. */
  name?: string
  hideLabel?: boolean
  className?: string
}) {
  const dispatch = useAppDispatch()
  const strip = stripOf(session, trackId)
  const { value } = parameter
  if (!strip || !value) return null
  return (
    <ValueField
      {...(name === undefined ? {} : { name })}
      label={label}
      hideLabel={hideLabel}
      className={className}
      shown={value.show(value.read(strip))}
      parse={value.parse}
      onValue={(to) => void dispatch(giveValue(trackId, parameter, to))}
      onNudge={(direction, fine) => void dispatch(stepValue(trackId, parameter, direction, fine))}
    />
  )
}

/** The field with a reset button. */
export function ResettableField(props: {
  session: Session
  trackId: string | null
  parameter: Parameter
  name: string
}) {
  const { session, trackId, parameter } = props
  const dispatch = useAppDispatch()
  const strip = stripOf(session, trackId)
  const { value } = parameter
  if (!strip || !value) return null
  const label = parameter.fieldLabel[trackId === null ? 'mix' : 'track']
  return (
    <div className="flex items-end gap-2">
      <ParameterField {...props} label={label} />
      <Button
        aria-label={`${label} to ${value.plainWords}`}
        disabled={value.read(strip) === value.plain}
        onClick={() => void dispatch(resetValue(trackId, parameter))}
      >
        <RotateCcw size={15} />
        {value.plainShort}
      </Button>
    </div>
  )
}
