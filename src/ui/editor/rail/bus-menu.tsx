import type { Bus } from '../../../core/model/session'
import { undo } from '../../../store/edits'
import { dropBuses } from '../../../store/actions/strip-actions'
import { changeTracks, moveHeads, soloOnly } from '../../../store/actions/track-actions'
import { dialogShown, headPicked, type DialogName } from '../../../store/view'
import { useAppDispatch } from '../../parts/hooks'
import { keyWords } from '../../parts/commands/key-words'
import { toast } from '../../parts/messages/toast'
import { ColourMenu, HeadMenu, MenuGap, MenuLine } from './head-menu'

/** The menu of a bus's head. */
export function BusMenu({ bus, open, onOpen }: { bus: Bus; open: boolean; onOpen(open: boolean): void }) {
  const dispatch = useAppDispatch()
  const ids = [bus.id]
  const ask = (dialog: DialogName) => {
    dispatch(headPicked({ trackId: bus.id }))
    dispatch(dialogShown(dialog))
  }
  const remove = () => {
    if (dispatch(dropBuses(ids)))
      toast({
        text: `The bus “${bus.name}” was removed. What went through it goes where it went.`,
        action: { label: 'Undo', run: () => void dispatch(undo()) },
        stays: 8000,
      })
  }
  return (
    <HeadMenu name={bus.name} title="Rename, colour, move, remove … the bus" open={open} onOpen={onOpen}>
      <MenuLine action={() => ask('rename-track')} keys="F2">
        Rename…
      </MenuLine>
      <ColourMenu colour={bus.colour} onColour={(colour) => void dispatch(changeTracks(ids, { colour }))} />
      <MenuLine action={() => ask('strip')}>Inserts and ways…</MenuLine>
      <MenuLine action={() => void dispatch(changeTracks(ids, { polarity: bus.polarity === -1 ? 1 : -1 }))}>
        {bus.polarity === -1 ? 'Polarity back to normal' : 'Invert the polarity'}
      </MenuLine>
      <MenuGap />
      <MenuLine action={() => void dispatch(moveHeads(ids, -1))} keys={keyWords('shift+alt+up')}>
        Move up
      </MenuLine>
      <MenuLine action={() => void dispatch(moveHeads(ids, 1))} keys={keyWords('shift+alt+down')}>
        Move down
      </MenuLine>
      <MenuLine action={() => void dispatch(soloOnly(ids))}>Solo only this</MenuLine>
      <MenuGap />
      <MenuLine action={remove}>Remove the bus</MenuLine>
    </HeadMenu>
  )
}
