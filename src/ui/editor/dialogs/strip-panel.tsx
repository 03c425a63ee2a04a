import { ArrowDown, ArrowUp, Plus, Spline, Trash2 } from 'lucide-react'
import clsx from 'clsx'
import { DropdownMenu } from 'radix-ui'
import { useMemo, type ReactNode } from 'react'
import { busesFor, isAutomated, type Chain } from '../../../core/edit'
import {
  BYPASSED,
  INSERT_KINDS,
  insertKindOf,
  insertValue,
  type InsertParameter,
} from '../../../core/model/insert-kinds'
import { insertLaneKey, parameterOf, sendLaneKey } from '../../../core/model/parameters'
import { TO_MIX, type Insert, type Send, type Session } from '../../../core/model/session'
import { lastInsertsOf, rowOf, stripOf } from '../../../core/model/strips'
import { planSession } from '../../../core/render'
import { parseNumber, showNumber } from '../../../core/units/number-scale'
import {
  changeSend,
  dropInsert,
  dropSend,
  giveInsertValue,
  leadTo,
  letInsertAct,
  putInsert,
  sendTo,
  shiftInsert,
} from '../../../store/strip-actions'
import { lanesToggled } from '../../../store/view-slice'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { MENU, MENU_ITEM } from '../../parts/menu-look'
import { Choice, Panel, Tick } from '../../parts/panel'
import { ValueField } from '../../parts/value-field'
import { ParameterField } from '../parts/parameter-field'
import { settleWords } from '../parts/settle-words'

const NEW_BUS = 'new bus'

/**
 * The inserts of a strip and where it leads, beside the timeline: what of the Path lies between the regions and the mix. With
 * null as `id` it is the mix, whose inserts come before its fader and after its pan.
 */
export function StripPanel({
  session,
  id,
  onClose,
}: {
  session: Session
  id: string | null
  onClose(): void
}) {
  const row = id === null ? null : rowOf(session, id)
  if (id !== null && !row) return null
  return (
    <Panel
      title={row ? `Inserts and ways of “${row.name}”` : 'Inserts of the mix'}
      about={
        row
          ? 'The sound of the regions passes the inserts from the top, then volume and pan, and leaves by its output and sends.'
          : 'All that comes to the mix passes these. What must have the last word, such as a ceiling, comes after the pan.'
      }
      onClose={onClose}
      footer={
        <>
          <Settling session={session} />
          <Button onClick={onClose}>Close</Button>
        </>
      }
    >
      <div className="flex flex-col gap-5">
        <ChainSection
          session={session}
          id={id}
          chain="inserts"
          title={row ? 'Inserts' : 'Before the fader of the mix'}
        />
        {row ? (
          <WaysSection session={session} id={row.id} />
        ) : (
          <ChainSection session={session} id={null} chain="lastInserts" title="After its pan" />
        )}
      </div>
    </Panel>
  )
}

function Settling({ session }: { session: Session }) {
  const words = useMemo(() => settleWords(session, planSession(session)), [session])
  return <p className="mr-auto min-w-0 text-xs text-soft">{words}</p>
}

/** A section of the panel with a heading and something to add. */
function Section({ title, action, children }: { title: string; action: ReactNode; children: ReactNode }) {
  return (
    <section aria-label={title}>
      <div className="mb-1.5 flex items-center gap-2">
        <h3 className="flex-1 text-sm font-bold">{title}</h3>
        {action}
      </div>
      {children}
    </section>
  )
}

function ChainSection({
  session,
  id,
  chain,
  title,
}: {
  session: Session
  id: string | null
  chain: Chain
  title: string
}) {
  const dispatch = useAppDispatch()
  const strip = stripOf(session, id)!
  const list = chain === 'inserts' ? strip.inserts : lastInsertsOf(strip)
  return (
    <Section
      title={title}
      action={
        <AddMenu label="Add an insert">
          {INSERT_KINDS.map(({ kind, name, about }) => (
            <DropdownMenu.Item
              key={kind}
              className={MENU_ITEM}
              onSelect={() => void dispatch(putInsert(id, chain, kind))}
            >
              <span className="max-w-64">
                <span className="font-medium">{name}</span>
                <span className="block text-xs text-soft">{about}</span>
              </span>
            </DropdownMenu.Item>
          ))}
        </AddMenu>
      }
    >
      {list.length === 0 ? (
        <p className="rounded-xl border border-dashed border-seam px-3 py-2.5 text-sm text-soft">
          Nothing yet. Add a gain, a delay or a ceiling; what it does is heard at once.
        </p>
      ) : (
        <ol className="flex flex-col gap-2">
          {list.map((insert, at) => (
            <InsertCard
              key={insert.id}
              session={session}
              id={id}
              insert={insert}
              first={at === 0}
              last={at === list.length - 1}
            />
          ))}
        </ol>
      )}
    </Section>
  )
}

function AddMenu({ label, children }: { label: string; children: ReactNode }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button className="h-7 px-2">
          <Plus size={14} />
          {label}
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={4} className={MENU}>
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

const SMALL =
  'flex h-6 w-6 shrink-0 items-center justify-center rounded-md text-soft hover:bg-fold hover:text-ink disabled:opacity-35'

function InsertCard({
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
        <button
          type="button"
          className={SMALL}
          disabled={first}
          aria-label={`Move the ${kind.name.toLowerCase()} earlier`}
          title="Earlier in the chain"
          onClick={() => void dispatch(shiftInsert(id, insert.id, -1))}
        >
          <ArrowUp size={14} />
        </button>
        <button
          type="button"
          className={SMALL}
          disabled={last}
          aria-label={`Move the ${kind.name.toLowerCase()} later`}
          title="Later in the chain"
          onClick={() => void dispatch(shiftInsert(id, insert.id, 1))}
        >
          <ArrowDown size={14} />
        </button>
        <button
          type="button"
          className={SMALL}
          aria-label={`Remove the ${kind.name.toLowerCase()}`}
          title="Remove it, with its lanes"
          onClick={() => void dispatch(dropInsert(id, insert.id))}
        >
          <Trash2 size={14} />
        </button>
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
function LaneButton({
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

/** Where a strip leads: its output, and its sends. */
function WaysSection({ session, id }: { session: Session; id: string }) {
  const dispatch = useAppDispatch()
  const row = rowOf(session, id)!
  const buses = busesFor(session, [id])
  const nameOf = (busId: string) => session.buses[busId]?.name ?? ''
  return (
    <>
      <Section title="Output" action={null}>
        <select
          aria-label={`Output of ${row.name}`}
          value={row.output}
          onChange={(e) => dispatch(leadTo([id], e.target.value === NEW_BUS ? null : e.target.value))}
          className="h-8 w-full rounded-lg border border-seam bg-linen px-2 text-sm"
        >
          <option value={TO_MIX}>Mix</option>
          {session.busIds
            .filter((busId) => busId === row.output || buses.includes(busId))
            .map((busId) => (
              <option key={busId} value={busId}>
                {nameOf(busId)}
              </option>
            ))}
          <option value={NEW_BUS}>A new bus…</option>
        </select>
      </Section>
      <Section
        title="Sends"
        action={
          <AddMenu label="Add a send">
            {buses.map((busId) => (
              <DropdownMenu.Item
                key={busId}
                className={MENU_ITEM}
                onSelect={() => dispatch(sendTo(id, busId))}
              >
                {nameOf(busId)}
              </DropdownMenu.Item>
            ))}
            <DropdownMenu.Item className={MENU_ITEM} onSelect={() => dispatch(sendTo(id, null))}>
              A new bus
            </DropdownMenu.Item>
          </AddMenu>
        }
      >
        {row.sends.length === 0 ? (
          <p className="rounded-xl border border-dashed border-seam px-3 py-2.5 text-sm text-soft">
            None. A send leads some of the sound to a bus besides the output, such as to a delay that several
            tracks share.
          </p>
        ) : (
          <ul className="flex flex-col gap-2">
            {row.sends.map((send) => (
              <SendCard key={send.id} session={session} id={id} send={send} name={nameOf(send.to)} />
            ))}
          </ul>
        )}
      </Section>
    </>
  )
}

function SendCard({ session, id, send, name }: { session: Session; id: string; send: Send; name: string }) {
  const dispatch = useAppDispatch()
  const lane = sendLaneKey(send.id)
  const parameter = parameterOf(rowOf(session, id)!, lane)
  return (
    <li
      aria-label={`Send to ${name}`}
      className={clsx(
        'rounded-xl border bg-white px-3 py-2',
        send.muted ? 'border-dashed border-seam' : 'border-seam',
      )}
    >
      <div className="flex items-center gap-1">
        <h4 className="flex-1 truncate text-sm font-semibold">to {name}</h4>
        <Tick checked={!send.muted} onChange={(on) => void dispatch(changeSend(id, send.id, { muted: !on }))}>
          on
        </Tick>
        <button
          type="button"
          className={SMALL}
          aria-label={`Remove the send to ${name}`}
          title="Remove it, with its lane"
          onClick={() => void dispatch(dropSend(id, send.id))}
        >
          <Trash2 size={14} />
        </button>
      </div>
      <div className="mt-1.5 flex items-end gap-2">
        <ParameterField session={session} trackId={id} parameter={parameter} label="Level" className="w-28" />
        <LaneButton session={session} id={id} lane={lane} what={`the send to ${name}`} />
        <div className="ml-auto">
          <Choice
            label={`Where the send to ${name} is taken`}
            value={send.point}
            onChange={(point) => void dispatch(changeSend(id, send.id, { point }))}
            options={[
              { value: 'post', text: 'After fader' },
              { value: 'pre', text: 'Before' },
            ]}
          />
        </div>
      </div>
    </li>
  )
}
