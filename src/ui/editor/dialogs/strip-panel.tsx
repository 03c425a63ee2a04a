import clsx from 'clsx'
import { Plus, Trash2 } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { useMemo, type ReactNode } from 'react'
import { busesFor, type Chain } from '../../../core/edit'
import { parameterOf, sendLaneKey } from '../../../core/model/parameters'
import { TO_MIX, type Send, type Session } from '../../../core/model/session'
import { lastInsertsOf, rowOf, stripOf } from '../../../core/model/strips'
import { planSession } from '../../../core/render'
import { changeSend, dropSend, leadTo, sendTo } from '../../../store/actions/strip-actions'
import { Button } from '../../parts/button'
import { useAppDispatch } from '../../parts/hooks'
import { MENU, MENU_ITEM } from '../../parts/menu-look'
import { Choice, Panel, Tick } from '../../parts/panel'
import { AddInsertMenu } from '../parts/inserts/add-insert-menu'
import { ParameterField } from '../parts/inserts/parameter-field'
import { aheadWords } from '../parts/watch/ahead-words'
import { settleWords } from '../parts/watch/settle-words'
import { InsertCard } from './insert-card'
import { LaneButton } from '../parts/inserts/insert-fields'
import { SmallButton } from '../parts/small-button'
import { unlessInDialog } from '../../parts/focus-return'

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
  // What latencies and settling times are read from.
  const plan = useMemo(() => planSession(session), [session])
  const ahead = useMemo(() => aheadWords(plan, id), [plan, id])
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
          <p className="mr-auto min-w-0 text-xs text-soft">{settleWords(session, plan)}</p>
          <Button onClick={onClose}>Close</Button>
        </>
      }
    >
      <div className="flex flex-col gap-5">
        <ChainSection
          session={session}
          id={id}
          chain="inserts"
          ahead={ahead}
          title={row ? 'Inserts' : 'Before the fader of the mix'}
        />
        {row ? (
          <WaysSection session={session} id={row.id} />
        ) : (
          <ChainSection session={session} id={null} chain="lastInserts" ahead={ahead} title="After its pan" />
        )}
      </div>
    </Panel>
  )
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
  ahead,
  title,
}: {
  session: Session
  id: string | null
  chain: Chain
  /** How far inserts look ahead, in words. */
  ahead: ReadonlyMap<string, string>
  title: string
}) {
  const strip = stripOf(session, id)!
  const list = chain === 'inserts' ? strip.inserts : lastInsertsOf(strip)
  return (
    <Section
      title={title}
      action={
        <AddInsertMenu id={id} chain={chain}>
          <Button className="h-7 px-2">
            <Plus size={14} />
            Add an insert
          </Button>
        </AddInsertMenu>
      }
    >
      {list.length === 0 ? (
        <p className="rounded-xl border border-dashed border-seam px-3 py-2.5 text-sm text-soft">
          Nothing yet. Add an equaliser, a compressor or a delay; what it does is heard at once.
        </p>
      ) : (
        <ol className="flex flex-col gap-2">
          {list.map((insert, at) => (
            <InsertCard
              key={insert.id}
              session={session}
              id={id}
              insert={insert}
              ahead={ahead.get(insert.id) ?? ''}
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
        <DropdownMenu.Content onCloseAutoFocus={unlessInDialog} align="end" sideOffset={4} className={MENU}>
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
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
        <SmallButton
          label={`Remove the send to ${name}`}
          title="Remove it, with its lane"
          onPress={() => void dispatch(dropSend(id, send.id))}
        >
          <Trash2 size={14} />
        </SmallButton>
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
