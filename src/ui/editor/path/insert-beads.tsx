import { useDrag } from '@use-gesture/react'
import clsx from 'clsx'
import { Plus } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import type { Chain } from '../../../core/edit'
import { insertKindOf } from '../../../core/model/inserts/insert-kinds'
import type { Insert, Session, Track } from '../../../core/model/session'
import { lastInsertsOf, rowOf, stripOf } from '../../../core/model/strips'
import { letInsertAct, shiftInsert } from '../../../store/actions/strip-actions'
import { setWatch } from '../../../store/playback/watching'
import { insertPicked, type InsertRef } from '../../../store/view'
import { useAppDispatch } from '../../parts/hooks'
import { AddInsertMenu } from '../parts/inserts/add-insert-menu'
import { slotOfWatched, type Watched } from '../parts/watch/watched'
import { ChainMenu } from './chain-menu'
import { BeadLevel } from './bead-level'
import { onThread } from './path-parts'

/** What the Path is of. */
export interface PathOf {
  session: Session
  track: Track
  folded: boolean
  picked: InsertRef | null
  watched: readonly Watched[]
}

/** Watches the places of the Path while it is seen, and what is picked. */
export function usePathWatch(watched: readonly Watched[], picked: InsertRef | null): void {
  useEffect(() => setWatch({ slots: watched, sound: picked }), [watched, picked])
  useEffect(() => () => setWatch({ slots: [], sound: null }), [])
}

/**
 * The inserts of a chain as beads on the thread, in their order: a press picks one, a drag along the thread or Shift with the arrow
 * keys moves it, a double press bypasses it. Behind them is what adds one.
 */
export function InsertBeads({
  stripId,
  chain,
  ...of
}: PathOf & {
  stripId: string | null
  chain: Chain
}) {
  const { session, folded } = of
  const strip = stripOf(session, stripId)
  if (!strip) return null
  const list = chain === 'inserts' ? strip.inserts : lastInsertsOf(strip)
  const name = stripId === null ? 'the mix' : (rowOf(session, stripId)?.name ?? '')
  const where = chain === 'lastInserts' ? ', after its pan' : stripId === null ? ', before its fader' : ''
  return (
    <span role="group" aria-label={`Inserts of ${name}${where}`} className="flex items-stretch" data-chain>
      {list.map((insert) => (
        <InsertBead key={insert.id} {...of} stripId={stripId} insert={insert} />
      ))}
      <span className={onThread(folded)}>
        <span className="relative flex items-center gap-0.5">
          <AddInsertMenu id={stripId} chain={chain}>
            <button
              type="button"
              aria-label={`Add an insert to ${name}${where}`}
              title={`Add an insert to ${name}${where}`}
              className={clsx(
                'flex h-5.5 items-center gap-1 rounded-md border border-dashed border-walnut/70 bg-cloth text-xs text-soft hover:bg-linen hover:text-ink',
                list.length || stripId === null ? 'w-5.5 justify-center' : 'px-1.5',
              )}
            >
              <Plus size={13} aria-hidden />
              {!list.length && stripId !== null && 'insert'}
            </button>
          </AddInsertMenu>
          <ChainMenu session={session} stripId={stripId} chain={chain} name={`${name}${where}`} />
        </span>
        {!folded && <span className="h-5.5" />}
      </span>
    </span>
  )
}

/** By how many places a bead that was dragged by so many pixels has passed the others of its chain. */
function placesPassed(bead: HTMLElement, dx: number): number {
  const all = [...(bead.closest('[data-chain]')?.querySelectorAll<HTMLElement>('[data-insert]') ?? [])]
  const at = all.indexOf(bead)
  const own = bead.getBoundingClientRect()
  const [left, right] = [own.left + dx, own.right + dx]
  const middle = (e: HTMLElement) => {
    const box = e.getBoundingClientRect()
    return (box.left + box.right) / 2
  }
  // The box of the bead itself goes along with the drag, so the others tell.
  return all.reduce(
    (sum, other, n) =>
      n > at && right > middle(other) ? sum + 1 : n < at && left < middle(other) ? sum - 1 : sum,
    0,
  )
}

function InsertBead({
  session,
  track,
  folded,
  picked,
  watched,
  stripId,
  insert,
}: PathOf & { stripId: string | null; insert: Insert }) {
  const dispatch = useAppDispatch()
  const bead = useRef<HTMLButtonElement>(null)
  const [dx, setDx] = useState(0)
  const kind = insertKindOf(insert.kind)
  const isPicked = picked?.insertId === insert.id && picked.stripId === stripId
  const bind = useDrag<PointerEvent>(
    ({ movement: [x], last, canceled, tap }) => {
      setDx(last ? 0 : x)
      if (!last || tap || canceled || !bead.current) return
      // Measured where it stood before it was dragged.
      bead.current.style.transform = ''
      const by = placesPassed(bead.current, x)
      if (by !== 0) dispatch(shiftInsert(stripId, insert.id, by))
    },
    { pointer: { keys: false }, filterTaps: true, axis: 'x' },
  )
  const heard = insert.key ? rowOf(session, insert.key)?.name : undefined
  return (
    <button
      type="button"
      ref={bead}
      data-insert=""
      data-lead={isPicked || undefined}
      aria-pressed={isPicked}
      {...bind()}
      style={dx ? { transform: `translateX(${dx}px)`, zIndex: 1 } : undefined}
      title={`${kind.name}${insert.bypassed ? ', bypassed' : ''}${heard ? `, listens to ${heard}` : ''}: drag it along the thread, Shift+←→ moves it, Shift+B or a double press bypasses it`}
      onClick={() => dispatch(insertPicked({ trackId: track.id, stripId, insertId: insert.id }))}
      onDoubleClick={() => void dispatch(letInsertAct(stripId, insert.id, insert.bypassed))}
      className={clsx('group/bead touch-none', onThread(folded), dx && 'cursor-grabbing')}
    >
      <span
        className={clsx(
          'relative flex items-center gap-1.5 rounded-md border py-px pr-2 pl-1.5 text-sm leading-5 font-medium whitespace-nowrap',
          isPicked ? 'border-oak bg-linen' : 'border-transparent bg-cloth group-hover/bead:bg-linen',
          insert.bypassed && 'text-soft line-through decoration-walnut/60',
        )}
      >
        <span
          className={clsx(
            'h-2.5 w-2.5 rounded-full border-2 border-heather',
            insert.bypassed ? 'border-dashed bg-cloth' : 'bg-heather',
          )}
          aria-hidden
        />
        {kind.name}
        {kind.hearsLevel && (
          <span className="text-2xs text-heather" title="What it does depends on level" aria-hidden>
            ◆
          </span>
        )}
        {insert.bypassed && <span className="sr-only">, bypassed</span>}
        {kind.hearsLevel && <span className="sr-only">, depends on level</span>}
      </span>
      {!folded && (
        <BeadLevel
          slot={slotOfWatched(watched, { stripId, insertId: insert.id })}
          number={kind.reduces && !insert.bypassed ? 'reduction' : 'loudness'}
          name={`the ${kind.name.toLowerCase()}`}
        />
      )}
    </button>
  )
}
