import { DropdownMenu } from 'radix-ui'
import { useRef, type ReactNode } from 'react'
import type { Chain } from '../../../../core/edit'
import { INSERT_KINDS } from '../../../../core/model/inserts/insert-kinds'
import { putInsert } from '../../../../store/actions/strip-actions'
import { useAppDispatch } from '../../../parts/hooks'
import { MENU, MENU_ITEM } from '../../../parts/menu-look'

/** A menu of all kinds of inserts, opened by what is inside; the chosen one goes to the end of a chain. */
export function AddInsertMenu({
  id,
  chain,
  children,
}: {
  id: string | null
  chain: Chain
  children: ReactNode
}) {
  const dispatch = useAppDispatch()
  const chosen = useRef(false)
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>{children}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          collisionPadding={8}
          className={MENU}
          // What was added leads, and the keys are the editor's: Space plays it.
          onCloseAutoFocus={(event) => {
            if (chosen.current) event.preventDefault()
            chosen.current = false
          }}
        >
          {INSERT_KINDS.map(({ kind, name, about }) => (
            <DropdownMenu.Item
              key={kind}
              className={MENU_ITEM}
              onSelect={() => {
                chosen.current = true
                dispatch(putInsert(id, chain, kind))
              }}
            >
              <span className="max-w-64">
                <span className="font-medium">{name}</span>
                <span className="block text-xs text-soft">{about}</span>
              </span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
