import { EllipsisVertical } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import type { ReactNode } from 'react'
import { dyes, type Dye } from '../../../core/model/session'
import { dyeClass } from '../../look/colours'
import { useAppSelector } from '../../parts/hooks'
import { MENU, MENU_ITEM } from '../../parts/menu-look'
import { unlessInDialog } from '../../parts/focus-return'

/** The menu of a head. It opens by its button, by the right button of the mouse and by the menu key. */
export function HeadMenu({
  name,
  title,
  open,
  onOpen,
  children,
}: {
  name: string
  title: string
  open: boolean
  onOpen(open: boolean): void
  children: ReactNode
}) {
  return (
    <DropdownMenu.Root open={open} onOpenChange={onOpen}>
      <DropdownMenu.Trigger
        aria-label={`What to do with ${name}`}
        title={title}
        onPointerDown={(e) => e.stopPropagation()}
        className="flex h-6 w-6 shrink-0 items-center justify-center rounded-md text-soft hover:bg-white hover:text-ink"
      >
        <EllipsisVertical size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          onCloseAutoFocus={unlessInDialog}
          align="start"
          sideOffset={4}
          className={MENU}
          onPointerDown={(e) => e.stopPropagation()}
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

/** A line of it, dead while the session can only be looked at. */
export function MenuLine({
  action,
  keys,
  disabled = false,
  children,
}: {
  action(): void
  keys?: string
  disabled?: boolean
  children: ReactNode
}) {
  const readOnly = useAppSelector((s) => s.session.readOnly !== null)
  return (
    <DropdownMenu.Item disabled={readOnly || disabled} onSelect={action} className={MENU_ITEM}>
      {children}
      {keys && <span className="font-mono text-2xs text-soft">{keys}</span>}
    </DropdownMenu.Item>
  )
}

export const MenuGap = () => <DropdownMenu.Separator className="my-1 h-px bg-fold" />

/** The dyes to choose from. */
export function ColourMenu({ colour, onColour }: { colour: Dye; onColour(colour: Dye): void }) {
  const readOnly = useAppSelector((s) => s.session.readOnly !== null)
  return (
    <DropdownMenu.Sub>
      <DropdownMenu.SubTrigger disabled={readOnly} className={MENU_ITEM}>
        Colour
        <span aria-hidden className="text-soft">
          ›
        </span>
      </DropdownMenu.SubTrigger>
      <DropdownMenu.Portal>
        <DropdownMenu.SubContent className={MENU}>
          {dyes.map((dye) => (
            <DropdownMenu.Item key={dye} className={MENU_ITEM} onSelect={() => onColour(dye)}>
              <span className="inline-flex items-center gap-2">
                <span className={`h-3 w-3 rounded-full ${dyeClass[dye]}`} />
                {dye}
              </span>
              {colour === dye && <span aria-hidden>✓</span>}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.SubContent>
      </DropdownMenu.Portal>
    </DropdownMenu.Sub>
  )
}
