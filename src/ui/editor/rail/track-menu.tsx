import { EllipsisVertical } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { useState, type ReactNode } from 'react'
import { groupOf } from '../../../core/model/groups'
import { dyes, type Track } from '../../../core/model/session'
import { CLIP_GAIN_DB } from '../../../core/units/decibel'
import { parseLevel, showDb } from '../../../core/units/typed'
import { shownSession } from '../../../store/selectors'
import type { Thunk } from '../../../store/store'
import {
  addTrackBelow,
  changeTracks,
  deleteHeads,
  duplicateHeads,
  moveHeads,
  selectRegionsOf,
  setChannels,
  soloOnly,
  tracksMeant,
  ungroupHeads,
} from '../../../store/track-actions'
import { dyeClass } from '../../look/colours'
import { useAppDispatch, useAppSelector, useAppStore } from '../../parts/hooks'
import { keyWords } from '../../parts/key-words'
import { MENU, MENU_ITEM } from '../../parts/menu-look'
import { TextQuestion } from '../../parts/text-question'
import { toast } from '../../parts/toast'
import { addBusFor } from '../../../store/strip-actions'
import { undo } from '../../../store/edits'
import { dialogShown, headPicked } from '../../../store/view-slice'

/**
 * The menu of a track's head: for all selected heads where it is one of them. It opens by its button, by the right
 * button of the mouse and by the menu key.
 */
export function TrackMenu({
  track,
  open,
  onOpen,
}: {
  track: Track
  open: boolean
  onOpen(open: boolean): void
}) {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const [asksTrim, setAsksTrim] = useState(false)
  const meant = () => tracksMeant(store.getState(), track.id)
  return (
    <>
      <DropdownMenu.Root open={open} onOpenChange={onOpen}>
        <DropdownMenu.Trigger
          aria-label={`What to do with ${track.name}`}
          title="Add, duplicate, move, delete … tracks"
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
            <Items track={track} meant={meant} onTrim={() => setAsksTrim(true)} />
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {asksTrim && (
        <TextQuestion
          title="Input trim"
          about="The level at which the track’s regions enter its path, before everything else of the track."
          label="Trim"
          initial={showDb(track.trimDb)}
          verb="Set"
          onClose={() => setAsksTrim(false)}
          check={(text) => {
            const level = parseLevel(text, CLIP_GAIN_DB)
            return level.ok || level.message
          }}
          onText={(text) => {
            const level = parseLevel(text, CLIP_GAIN_DB)
            if (level.ok) dispatch(changeTracks(meant(), { trimDb: level.value! }))
          }}
        />
      )}
    </>
  )
}

function Items({ track, meant, onTrim }: { track: Track; meant(): string[]; onTrim(): void }) {
  const dispatch = useAppDispatch()
  const session = useAppSelector(shownSession)!
  const readOnly = useAppSelector((s) => s.session.readOnly !== null)
  const ids = meant()
  const many = ids.length > 1 ? ` ${ids.length} tracks` : ''
  const other = track.channels === 1 ? 2 : 1
  const run = (action: Thunk<unknown>) => () => void dispatch(action)
  const item = (text: ReactNode, action: () => void, more: { keys?: string; disabled?: boolean } = {}) => (
    <DropdownMenu.Item disabled={readOnly || more.disabled === true} onSelect={action} className={MENU_ITEM}>
      {text}
      {more.keys && <span className="font-mono text-2xs text-soft">{more.keys}</span>}
    </DropdownMenu.Item>
  )
  const first = session.trackIds.indexOf(ids[0]!) === 0
  const group = groupOf(session, track.id)
  const selectGroup = (trackIds: readonly string[]) =>
    trackIds.forEach((trackId, i) => dispatch(headPicked({ trackId, add: i > 0 })))
  const remove = () => {
    const names = ids.length === 1 ? `“${track.name}”` : `${ids.length} tracks`
    const regions = Object.values(session.regions).filter((r) => ids.includes(r.trackId)).length
    if (dispatch(deleteHeads(ids)))
      toast({
        text: `${names} ${ids.length === 1 ? 'was' : 'were'} deleted${regions ? `, with ${regions} ${regions === 1 ? 'region' : 'regions'}` : ''}.`,
        action: { label: 'Undo', run: () => void dispatch(undo()) },
        stays: 8000,
      })
  }
  return (
    <>
      {item(
        'Rename…',
        () => {
          dispatch(headPicked({ trackId: track.id }))
          dispatch(dialogShown('rename-track'))
        },
        { keys: 'F2', disabled: ids.length > 1 },
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
                onSelect={run(changeTracks(ids, { colour }))}
              >
                <span className="inline-flex items-center gap-2">
                  <span className={`h-3 w-3 rounded-full ${dyeClass[colour]}`} />
                  {colour}
                </span>
                {track.colour === colour && <span aria-hidden>✓</span>}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.SubContent>
        </DropdownMenu.Portal>
      </DropdownMenu.Sub>
      {item('Input trim…', onTrim)}
      {item(
        track.polarity === -1 ? 'Polarity back to normal' : 'Invert the polarity',
        run(changeTracks(ids, { polarity: track.polarity === -1 ? 1 : -1 })),
      )}
      {item(other === 2 ? 'Make stereo' : 'Make mono', run(setChannels(ids, other)))}
      {item('Inserts and ways…', () => {
        dispatch(headPicked({ trackId: track.id }))
        dispatch(dialogShown('strip'))
      })}
      {item(`Lead ${ids.length > 1 ? `${ids.length} tracks` : 'it'} through a new bus`, run(addBusFor(ids)))}
      <DropdownMenu.Separator className="my-1 h-px bg-fold" />
      {item('Add a mono track below', run(addTrackBelow(track.id, 1)))}
      {item('Add a stereo track below', run(addTrackBelow(track.id, 2)))}
      {item(`Duplicate${many}`, run(duplicateHeads(ids, true)))}
      {item(`Duplicate${many} without regions`, run(duplicateHeads(ids, false)))}
      {item('Move up', run(moveHeads(ids, -1)), { keys: keyWords('shift+alt+up'), disabled: first })}
      {item('Move down', run(moveHeads(ids, 1)), { keys: keyWords('shift+alt+down') })}
      <DropdownMenu.Separator className="my-1 h-px bg-fold" />
      {item(
        'Group these tracks…',
        () => {
          if (ids.length > 1) dispatch(dialogShown('group-tracks'))
        },
        { disabled: ids.length < 2 },
      )}
      {group && item(`Leave the group “${group.name}”`, run(ungroupHeads(ids)))}
      {group && item('Select the tracks of its group', () => selectGroup(group.trackIds))}
      <DropdownMenu.Separator className="my-1 h-px bg-fold" />
      {item('Select all its regions', run(selectRegionsOf(ids)))}
      {item(`Solo only ${ids.length > 1 ? 'these' : 'this'}`, run(soloOnly(ids)))}
      <DropdownMenu.Separator className="my-1 h-px bg-fold" />
      {item(`Delete${many || ' the track'}, with regions`, remove)}
    </>
  )
}
