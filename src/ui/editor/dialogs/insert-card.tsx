import clsx from 'clsx'
import { ArrowDown, ArrowUp, Trash2 } from 'lucide-react'
import { BYPASSED, insertKindOf } from '../../../core/model/inserts/insert-kinds'
import { insertLaneKey } from '../../../core/model/parameters'
import type { Insert, Session } from '../../../core/model/session'
import { dropInsert, letInsertAct, shiftInsert } from '../../../store/actions/strip-actions'
import { useAppDispatch } from '../../parts/hooks'
import { Tick } from '../../parts/panel'
import { LaneButton } from '../parts/inserts/insert-fields'
import { InsertValues } from '../parts/inserts/insert-values'
import { CopyMenu } from '../parts/copy-menu'
import { SmallButton } from '../parts/small-button'

/** An insert with its values, its order and its bypass. */
export function InsertCard({
  session,
  id,
  insert,
  ahead,
  first,
  last,
}: {
  session: Session
  id: string | null
  insert: Insert
  /** How far it looks ahead, in words; empty where it does not. */
  ahead: string
  first: boolean
  last: boolean
}) {
  const dispatch = useAppDispatch()
  const kind = insertKindOf(insert.kind)
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
        <h4 className="ml-1 text-sm font-semibold">{kind.name}</h4>
        <span
          className="flex-1 truncate pl-1 text-xs text-soft"
          title={
            ahead &&
            `Looks ${ahead} ahead; its strip is rendered as much earlier, so that all stays in its place`
          }
        >
          {ahead && <span className="sr-only">looks ahead </span>}
          {ahead}
        </span>
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
        <CopyMenu session={session} id={id} insert={insert} />
        <SmallButton
          label={`Remove the ${kind.name.toLowerCase()}`}
          title="Remove it, with its lanes"
          onPress={() => void dispatch(dropInsert(id, insert.id))}
        >
          <Trash2 size={14} />
        </SmallButton>
      </div>
      <div className={clsx('mt-1.5', insert.bypassed && 'opacity-60')}>
        <InsertValues session={session} id={id} insert={insert} />
      </div>
    </li>
  )
}
