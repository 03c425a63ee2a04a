import { clamp } from '../../../core/units/clamp'
import { percentChange } from '../../../core/units/typed-change'
import { parsePercent } from '../../../core/units/typed'
import { ValueField, type ValueFieldProps } from './value-field'

/** A field for a part of a whole, 1 being 100 %; the arrow keys change it by `step`, with Alt by `fineStep`. */
export function PercentField({
  value,
  min,
  max,
  what,
  shown,
  step = 0.05,
  fineStep = 0.01,
  onValue,
  ...rest
}: Omit<ValueFieldProps<number>, 'shown' | 'parse' | 'onNudge' | 'change'> & {
  value: number
  min: number
  max: number
  /** What is asked for, with its article: "a bend". */
  what: string
  /** What stands there instead of the value. */
  shown?: string
  step?: number
  fineStep?: number
}) {
  const change = percentChange(value, { min, max })
  return (
    <ValueField
      {...rest}
      shown={shown ?? change.show(value)}
      parse={(text) => parsePercent(text, { min, max }, what)}
      onValue={onValue}
      change={change}
      onNudge={(direction, fine) =>
        onValue(clamp(Math.round((value + direction * (fine ? fineStep : step)) * 1e3) / 1e3, min, max))
      }
    />
  )
}
