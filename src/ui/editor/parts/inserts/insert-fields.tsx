import clsx from 'clsx'
import { Spline } from 'lucide-react'
import { isAutomated } from '../../../../core/edit'
import type { InsertParameter } from '../../../../core/model/inserts/insert-types'
import { insertValue } from '../../../../core/model/inserts/insert-values'
import { keysFor } from '../../../../core/model/sidechain'
import { insertLaneKey, parameterOf } from '../../../../core/model/parameters'
import type { Insert, Session } from '../../../../core/model/session'
import { rowOf, stripOf } from '../../../../core/model/strips'
import { parseNumber, showNumber } from '../../../../core/units/number-scale'
import { giveInsertKey, giveInsertValue } from '../../../../store/actions/strip-actions'
import { lanesToggled } from '../../../../store/view'
import { useAppDispatch, useAppSelector } from '../../../parts/hooks'
import { Tick } from '../../../parts/panel'
import { ValueField } from '../../../parts/fields/value-field'
import { ParameterField } from './parameter-field'

/** What a field of an insert is of. */
export interface FieldOf {
  session: Session
  /** The strip; null for the mix. */
  id: string | null
  insert: Insert
}

/** A value of an insert as a field; what moves has its lane beside it. */
export function InsertField({
  session,
  id,
  insert,
  parameter,
  label = parameter.label,
}: FieldOf & {
  parameter: InsertParameter
  /** What it is called where its group is named above it. */
  label?: string
}) {
  const dispatch = useAppDispatch()
  const { key, range, type, moves } = parameter
  if (type === 'beats') return <NoteField id={id} insert={insert} parameter={parameter} />
  if (type === 'choice') return <ChoiceField id={id} insert={insert} parameter={parameter} label={label} />
  const lane = insertLaneKey(insert.id, key)
  if (moves === 'never')
    return (
      <ValueField
        label={label}
        shown={showNumber(insertValue(insert, key), range)}
        parse={(text) => parseNumber(text, range)}
        onValue={(value) => void dispatch(giveInsertValue(id, insert.id, key, value))}
        reset={
          insertValue(insert, key) === range.defaultValue
            ? undefined
            : {
                words: showNumber(range.defaultValue, range),
                run: () => void dispatch(giveInsertValue(id, insert.id, key, range.defaultValue)),
              }
        }
      />
    )
  return (
    <div className="flex items-end gap-1">
      <ParameterField
        session={session}
        trackId={id}
        parameter={parameterOf(stripOf(session, id)!, lane)}
        label={label}
        resets
        className="min-w-0 flex-1"
      />
      <LaneButton session={session} id={id} lane={lane} what={label} />
    </div>
  )
}

/** A switch of an insert, with its lane where it has one. */
export function InsertSwitch({
  session,
  id,
  insert,
  parameter,
  label = parameter.label,
}: FieldOf & { parameter: InsertParameter; label?: string }) {
  const dispatch = useAppDispatch()
  return (
    <div className="flex items-center justify-between gap-1">
      <Tick
        checked={insertValue(insert, parameter.key) > 0}
        onChange={(on) => void dispatch(giveInsertValue(id, insert.id, parameter.key, on))}
      >
        {label}
      </Tick>
      {parameter.moves !== 'never' && (
        <LaneButton
          session={session}
          id={id}
          lane={insertLaneKey(insert.id, parameter.key)}
          what={parameter.label}
        />
      )}
    </div>
  )
}

/** One of several things that a parameter may be. */
function ChoiceField({
  id,
  insert,
  parameter,
  label,
}: Omit<FieldOf, 'session'> & { parameter: InsertParameter; label: string }) {
  const dispatch = useAppDispatch()
  const choices = parameter.choices ?? []
  return (
    <label className="flex min-w-0 flex-col text-xs text-soft">
      {label}
      <select
        value={insertValue(insert, parameter.key)}
        onChange={(e) =>
          void dispatch(giveInsertValue(id, insert.id, parameter.key, choices[Number(e.target.value)]!.value))
        }
        className="h-8 rounded-lg border border-seam bg-linen px-2 text-sm text-ink"
      >
        {choices.map(({ value, label }, n) => (
          <option key={value} value={n}>
            {label}
          </option>
        ))}
      </select>
    </label>
  )
}

/** Which strip steers an insert by its level: its own sound, or that of another. */
export function KeyField({ session, id, insert }: FieldOf) {
  const dispatch = useAppDispatch()
  const key = insert.key ?? ''
  const free = keysFor(session, id)
  // One that has since come to lie behind it cannot be: rules refuse circles.
  const ids = key && !free.includes(key) ? [key, ...free] : free
  return (
    <label className="flex min-w-0 flex-col text-xs text-soft">
      Listens to
      <select
        value={key}
        title="The sound whose level steers it: its own, or that of another strip after its inserts, muted or not"
        onChange={(e) => void dispatch(giveInsertKey(id, insert.id, e.target.value || null))}
        className="h-8 rounded-lg border border-seam bg-linen px-2 text-sm text-ink"
      >
        <option value="">what comes in</option>
        {ids.map((row) => (
          <option key={row} value={row}>
            {rowOf(session, row)?.name}
          </option>
        ))}
      </select>
    </label>
  )
}

const NOTES: readonly { text: string; beats: number }[] = [
  { text: '1/16', beats: 0.25 },
  { text: '1/8', beats: 0.5 },
  { text: '1/8 dotted', beats: 0.75 },
  { text: '1/4', beats: 1 },
  { text: '1/4 dotted', beats: 1.5 },
  { text: '1/2', beats: 2 },
]

/** A note value, or none: then the time in ms holds. */
function NoteField({
  id,
  insert,
  parameter,
}: {
  id: string | null
  insert: Insert
  parameter: InsertParameter
}) {
  const dispatch = useAppDispatch()
  const value = insertValue(insert, parameter.key)
  return (
    <label className="flex min-w-0 flex-col text-xs text-soft">
      {parameter.label}
      <select
        value={String(value)}
        onChange={(e) =>
          void dispatch(giveInsertValue(id, insert.id, parameter.key, Number(e.target.value) || null))
        }
        className="h-8 rounded-lg border border-seam bg-linen px-2 text-sm text-ink"
      >
        <option value="0">off: the time in ms</option>
        {NOTES.some((n) => n.beats === value) || value === 0 ? null : (
          <option value={String(value)}>{value} beats</option>
        )}
        {NOTES.map(({ text, beats }) => (
          <option key={text} value={String(beats)}>
            {text}
          </option>
        ))}
      </select>
    </label>
  )
}

/** Opens or closes a lane below its strip. */
export function LaneButton({
  session,
  id,
  lane,
  what,
}: {
  session: Session
  id: string | null
  lane: string
  what: string
}) {
  const dispatch = useAppDispatch()
  const open = useAppSelector((s) => s.navigation.openLanes.some((o) => o.trackId === id && o.lane === lane))
  const automated = isAutomated(session, { kind: 'lane', trackId: id, lane })
  return (
    <button
      type="button"
      aria-label={`Lane of ${what}`}
      aria-pressed={open}
      title={`${open ? 'Close' : 'Open'} its lane below the strip${automated ? '; it moves the value' : ''}`}
      onClick={() => dispatch(lanesToggled({ trackId: id, lanes: [lane] }))}
      className={clsx(
        'flex h-8 w-7 shrink-0 items-center justify-center rounded-md border',
        open
          ? 'border-oak bg-oak text-white'
          : automated
            ? 'border-heather text-heather'
            : 'border-transparent text-soft hover:bg-fold',
      )}
    >
      <Spline size={14} />
    </button>
  )
}
