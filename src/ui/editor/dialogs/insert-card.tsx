import clsx from 'clsx'
import { ArrowDown, ArrowUp, Spline, Trash2 } from 'lucide-react'
import type { ReactNode } from 'react'
import { isAutomated } from '../../../core/edit'
import { BYPASSED, insertKindOf, insertValue, type InsertParameter } from '../../../core/model/insert-kinds'
import { insertLaneKey, parameterOf } from '../../../core/model/parameters'
import type { Insert, Session } from '../../../core/model/session'
import { stripOf } from '../../../core/model/strips'
import { parseNumber, showNumber } from '../../../core/units/number-scale'
import { dropInsert, giveInsertValue, letInsertAct, shiftInsert } from '../../../store/strip-actions'
import { lanesToggled } from '../../../store/view-slice'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { Tick } from '../../parts/panel'
import { ValueField } from '../../parts/value-field'
import { ParameterField } from '../parts/parameter-field'

/** A small button of a card. */
export function SmallButton({
  label,
  title,
  disabled = false,
  onPress,
  children,
}: {
  label: string
  title: string
  disabled?: boolean
  onPress(): void
  children: ReactNode
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={title}
      disabled={disabled}
      onClick={onPress}
      className="flex h-6 w-6 shrink-0 items-center justify-center rounded-md text-soft hover:bg-fold hover:text-ink disabled:opacity-35"
    >
      {children}
    </button>
  )
}

/** An insert with its values, its order and its bypass. */
export function InsertCard({
  session,
  id,
  insert,
  first,
  last,
}: {
  session: Session
  id: string | null
  insert: Insert
  first: boolean
  last: boolean
}) {
  const dispatch = useAppDispatch()
  const kind = insertKindOf(insert.kind)
  const numbers = kind.parameters.filter((p) => p.type !== 'switch')
  const switches = kind.parameters.filter((p) => p.type === 'switch')
  return (
    <li
      aria-label={kind.name}
      className={clsx(
        'rounded-xl border bg-white px-3 py-2',
        insert.bypassed ? 'border-dashed border-seam' : 'border-seam',
      )}
    >
      <div className="flex items-center gap-1">
        <span
          className={clsx('h-2.5 w-2.5 rotate-45 border-2 border-heather', !insert.bypassed && 'bg-heather')}
          aria-hidden
        />
        <h4 className="ml-1 flex-1 text-sm font-semibold">{kind.name}</h4>
        <Tick
          checked={!insert.bypassed}
          onChange={(acts) => void dispatch(letInsertAct(id, insert.id, acts))}
        >
          acts
        </Tick>
        <LaneButton
          session={session}
          id={id}
          lane={insertLaneKey(insert.id, BYPASSED.key)}
          what={`Bypass of the ${kind.name.toLowerCase()}`}
        />
        <SmallButton
          label={`Move the ${kind.name.toLowerCase()} earlier`}
          title="Earlier in the chain"
          disabled={first}
          onPress={() => void dispatch(shiftInsert(id, insert.id, -1))}
        >
          <ArrowUp size={14} />
        </SmallButton>
        <SmallButton
          label={`Move the ${kind.name.toLowerCase()} later`}
          title="Later in the chain"
          disabled={last}
          onPress={() => void dispatch(shiftInsert(id, insert.id, 1))}
        >
          <ArrowDown size={14} />
        </SmallButton>
        <SmallButton
          label={`Remove the ${kind.name.toLowerCase()}`}
          title="Remove it, with its lanes"
          onPress={() => void dispatch(dropInsert(id, insert.id))}
        >
          <Trash2 size={14} />
        </SmallButton>
      </div>
      <div className={clsx('mt-1.5 grid grid-cols-2 gap-x-3 gap-y-2', insert.bypassed && 'opacity-60')}>
        {numbers.map((parameter) => (
          <InsertField key={parameter.key} session={session} id={id} insert={insert} parameter={parameter} />
        ))}
      </div>
      {switches.length > 0 && (
        <div className={clsx('mt-2 grid grid-cols-2 gap-x-3 gap-y-1', insert.bypassed && 'opacity-60')}>
          {switches.map((parameter) => (
            <div key={parameter.key} className="flex items-center justify-between gap-1">
              <Tick
                checked={insertValue(insert, parameter.key) > 0}
                onChange={(on) => void dispatch(giveInsertValue(id, insert.id, parameter.key, on))}
              >
                {parameter.label}
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
          ))}
        </div>
      )}
    </li>
  )
}

/** A value of an insert as a field; what moves has its lane beside it. */
function InsertField({
  session,
  id,
  insert,
  parameter,
}: {
  session: Session
  id: string | null
  insert: Insert
  parameter: InsertParameter
}) {
  const dispatch = useAppDispatch()
  const { key, label, range, type, moves } = parameter
  if (type === 'beats') return <NoteField id={id} insert={insert} parameter={parameter} />
  const lane = insertLaneKey(insert.id, key)
  if (moves === 'never')
    return (
      <ValueField
        label={label}
        shown={showNumber(insertValue(insert, key), range)}
        parse={(text) => parseNumber(text, range)}
        onValue={(value) => void dispatch(giveInsertValue(id, insert.id, key, value))}
      />
    )
  return (
    <div className="flex items-end gap-1">
      <ParameterField
        session={session}
        trackId={id}
        parameter={parameterOf(stripOf(session, id)!, lane)}
        label={label}
        className="min-w-0 flex-1"
      />
      <LaneButton session={session} id={id} lane={lane} what={label} />
    </div>
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
  const open = useAppSelector((s) => s.view.openLanes.some((o) => o.trackId === id && o.lane === lane))
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
