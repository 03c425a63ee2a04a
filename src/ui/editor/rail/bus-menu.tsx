import { EllipsisVertical } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import type { ReactNode } from 'react'
import { dyes, type Bus } from '../../../core/model/session'
import { undo } from '../../../store/edits'
import { dropBuses } from '../../../store/strip-actions'
import { changeTracks, moveHeads, soloOnly } from '../../../store/track-actions'
import type { Thunk } from '../../../store/store'
import { dialogShown, headPicked } from '../../../store/view-slice'
import { dyeClass } from '../../look/colours'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { keyWords } from '../../parts/key-words'
import { MENU, MENU_ITEM } from '../../parts/menu-look'
import { toast } from '../../parts/toast'

/** The menu of a bus's head. */
export function BusMenu({ bus, open, onOpen }: { bus: Bus; open: boolean; onOpen(open: boolean): void }) {
  const dispatch = useAppDispatch()
  const readOnly = useAppSelector((s) => s.session.readOnly !== null)
  const run = (action: Thunk<unknown>) => () => void dispatch(action)
  const item = (text: ReactNode, action: () => void, keys?: string) => (
    <DropdownMenu.Item disabled={readOnly} onSelect={action} className={MENU_ITEM}>
      {text}
      {keys && <span className="font-mono text-2xs text-soft">{keys}</span>}
    </DropdownMenu.Item>
  )
  const remove = () => {
    if (dispatch(dropBuses([bus.id])))
      toast({
        text: `The bus “${bus.name}” was removed. What went through it goes where it went.`,
        action: { label: 'Undo', run: () => void dispatch(undo()) },
        stays: 8000,
      })
  }
  const lead = () => void dispatch(headPicked({ trackId: bus.id }))
  return (
    <DropdownMenu.Root open={open} onOpenChange={onOpen}>
      <DropdownMenu.Trigger
        aria-label={`What to do with ${bus.name}`}
        title="Rename, colour, move, remove … the bus"
        onPointerDown={(e) => e.stopPropagation()}
        className="flex h-6 w-6 shrink-0 items-center justify-center rounded-md text-soft hover:bg-white hover:text-ink"
      >
        <EllipsisVertical size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={4}
          className={MENU}
          onPointerDown={(e) => e.stopPropagation()}
        >
          {item(
            'Rename…',
            () => {
              lead()
              dispatch(dialogShown('rename-track'))
            },
            'F2',
          )}
          <DropdownMenu.Sub>
            <DropdownMenu.SubTrigger disabled={readOnly} className={MENU_ITEM}>
              Colour
              <span aria-hidden className="text-soft">
                ›
              </span>
            </DropdownMenu.SubTrigger>
            <DropdownMenu.Portal>
              <DropdownMenu.SubContent className={MENU}>
                {dyes.map((colour) => (
                  <DropdownMenu.Item
                    key={colour}
                    className={MENU_ITEM}
                    onSelect={run(changeTracks([bus.id], { colour }))}
                  >
                    <span className="inline-flex items-center gap-2">
                      <span className={`h-3 w-3 rounded-full ${dyeClass[colour]}`} />
                      {colour}
                    </span>
                    {bus.colour === colour && <span aria-hidden>✓</span>}
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.SubContent>
            </DropdownMenu.Portal>
          </DropdownMenu.Sub>
          {item('Inserts and ways…', () => {
            lead()
            dispatch(dialogShown('strip'))
          })}
          {item(
            bus.polarity === -1 ? 'Polarity back to normal' : 'Invert the polarity',
            run(changeTracks([bus.id], { polarity: bus.polarity === -1 ? 1 : -1 })),
          )}
          <DropdownMenu.Separator className="my-1 h-px bg-fold" />
          {item('Move up', run(moveHeads([bus.id], -1)), keyWords('shift+alt+up'))}
          {item('Move down', run(moveHeads([bus.id], 1)), keyWords('shift+alt+down'))}
          {item('Solo only this', run(soloOnly([bus.id])))}
          <DropdownMenu.Separator className="my-1 h-px bg-fold" />
          {item('Remove the bus', remove)}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
