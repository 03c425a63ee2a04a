import { Copy } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { insertKindOf } from '../../../core/model/inserts/insert-kinds'
import type { Insert, Session } from '../../../core/model/session'
import { insertsOf, rowIds, rowOf, stripOf } from '../../../core/model/strips'
import { copyInsertsTo } from '../../../store/actions/strip-actions'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { MENU, MENU_ITEM } from '../../parts/menu-look'
import { unlessInDialog } from '../../parts/focus-return'

/** Duplicates an insert, or copies it or the whole chain, with values and lanes, to another strip. */
export function CopyMenu({ session, id, insert }: { session: Session; id: string | null; insert: Insert }) {
  const dispatch = useAppDispatch()
  const name = insertKindOf(insert.kind).name.toLowerCase()
  const chain = insertsOf(stripOf(session, id)!).map((i) => i.id)
  const others = [
    ...rowIds(session).map((to) => ({ to: to as string | null, called: rowOf(session, to)!.name })),
    { to: null, called: 'Mix' },
  ].filter(({ to }) => to !== id)
  const heads = useAppSelector((s) => s.selection.trackIds).filter((to) => to !== id && rowOf(session, to))
  const copy = (insertIds: readonly string[], to: readonly (string | null)[]) =>
    void dispatch(copyInsertsTo(id, insertIds, to))
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`Copy the ${name}`}
        title="Duplicate it, or copy it to another strip"
        className="flex h-6 w-6 shrink-0 items-center justify-center rounded-md text-soft hover:bg-fold hover:text-ink"
      >
        <Copy size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content onCloseAutoFocus={unlessInDialog} align="end" sideOffset={4} className={MENU}>
          <DropdownMenu.Item className={MENU_ITEM} onSelect={() => copy([insert.id], [id])}>
            Duplicate
          </DropdownMenu.Item>
          {heads.length > 1 && (
            <DropdownMenu.Item className={MENU_ITEM} onSelect={() => copy([insert.id], heads)}>
              Copy to the {heads.length} selected tracks
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Label className="px-3 py-1 text-xs text-soft">Copy the {name} to</DropdownMenu.Label>
          {others.map(({ to, called }) => (
            <DropdownMenu.Item key={to ?? ''} className={MENU_ITEM} onSelect={() => copy([insert.id], [to])}>
              {called}
            </DropdownMenu.Item>
          ))}
          {chain.length > 1 && (
            <>
              <DropdownMenu.Label className="px-3 py-1 text-xs text-soft">
                Copy all {chain.length} inserts to
              </DropdownMenu.Label>
              {others.map(({ to, called }) => (
                <DropdownMenu.Item key={to ?? ''} className={MENU_ITEM} onSelect={() => copy(chain, [to])}>
                  {called}
                </DropdownMenu.Item>
              ))}
            </>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
