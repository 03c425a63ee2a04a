import type { Session } from '../../../core/model/session'
import { lengthChange } from '../../../core/units/typed-change'
import { parseLength, showLength, showTime } from '../../../core/units/typed'
import { ValueField, type FieldChange, type ValueFieldProps } from './value-field'

type Given = Omit<ValueFieldProps<number>, 'shown' | 'parse' | 'onValue' | 'change'>

/** A field for a length or a time, in frames. It takes every way of typing one, and changes such as "+20 ms". */
export function LengthField({
  session,
  frames,
  min,
  max,
  bareUnit = 'ms',
  as = 'length',
  none,
  several,
  all,
  onFrames,
  ...rest
}: Given & {
  session: Pick<Session, 'sampleRate' | 'tempo'>
  frames: number
  min: number
  max: number
  /** The unit of a bare number. */
  bareUnit?: 'ms' | 's'
  /** Shown as a length ("250 ms") or as a time of the clock ("0:00.250"). */
  as?: 'length' | 'time'
  /** The word for a length of 0, which can be typed, too. */
  none?: string
  /** Whether it stands for several lengths that differ; then none is shown. */
  several?: boolean
  /** What changes several at once. */
  all?: FieldChange['all']
  onFrames(frames: number): void
}) {
  const { sampleRate } = session
  const context = { sampleRate, bpm: session.tempo[0]!.bpm }
  const show = (n: number) =>
    none !== undefined && n === 0 ? none : as === 'time' ? showTime(n, sampleRate) : showLength(n, sampleRate)
  return (
    <ValueField
      {...rest}
      shown={several ? '' : show(frames)}
      placeholder={several ? 'differ' : rest.placeholder}
      parse={(text) =>
        none !== undefined && /^\s*(none|no|off|-)\s*$/i.test(text)
          ? { ok: true, value: 0 }
          : parseLength(text, context, { min, max }, bareUnit)
      }
      onValue={onFrames}
      change={{ ...lengthChange(frames, context, { min, max }, bareUnit, show), all }}
    />
  )
}
