import { MOST_TAIL_SECONDS, type Tail } from '../../core/render'
import type { Typed } from '../../core/units/typed'
import { ValueField } from '../parts/fields/value-field'
import { Choice } from './choice'

/** Seconds that are proposed where so many are asked for. */
const SOME_SECONDS = 5

/** What comes after the last region of a file. */
export function TailField({ tail, onTail }: { tail: Tail; onTail(tail: Tail): void }) {
  return (
    <div className="flex items-end gap-2">
      <Choice
        label="Tail"
        value={typeof tail === 'number' ? 'seconds' : tail}
        onValue={(value) => onTail(value === 'seconds' ? SOME_SECONDS : (value as Tail))}
      >
        <option value="audible">Until silent (−100 dBFS)</option>
        <option value="none">None</option>
        <option value="seconds">Fixed length</option>
      </Choice>
      {typeof tail === 'number' && (
        <ValueField
          label="Tail length"
          className="w-28"
          shown={`${tail} s`}
          parse={typedSeconds}
          onValue={onTail}
        />
      )}
    </div>
  )
}

function typedSeconds(text: string): Typed<number> {
  const [, number] = /^\s*(\d+(?:[.,]\d+)?)\s*s?\s*$/i.exec(text) ?? []
  const value = Number(number?.replace(',', '.'))
  return number !== undefined && value <= MOST_TAIL_SECONDS
    ? { ok: true, value }
    : { ok: false, message: `Type seconds from 0 to ${MOST_TAIL_SECONDS}, such as ${SOME_SECONDS}.` }
}

/** What is said of a tail before it is rendered, as the end of a sentence; `seconds` is how long it is at most. */
export const tailWords = (tail: Tail, seconds: number): string =>
  seconds === 0
    ? ''
    : tail === 'audible'
      ? `, and up to ${seconds < 1 ? seconds.toFixed(1) : Math.ceil(seconds)} s of tail`
      : `, and ${seconds} s of tail`
