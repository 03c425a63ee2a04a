import { Fragment, useState, type ReactNode } from 'react'
import { groupOf } from '../../../core/model/groups'
import type { Track } from '../../../core/model/session'
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
} from '../../../store/actions/track-actions'
import { useAppDispatch, useAppSelector, useAppStore } from '../../parts/hooks'
import { keyWords } from '../../parts/commands/key-words'
import { TextQuestion } from '../../parts/fields/text-question'
import { toast } from '../../parts/messages/toast'
import { renderPart } from '../../../store/actions/region-actions'
import { addBusFor } from '../../../store/actions/strip-actions'
import { undo } from '../../../store/edits'
import { dialogShown, headPicked } from '../../../store/view'
import { ColourMenu, HeadMenu, MenuGap, MenuLine } from './head-menu'

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
      <HeadMenu name={track.name} title="Add, duplicate, move, delete … tracks" open={open} onOpen={onOpen}>
        <Items track={track} meant={meant} onTrim={() => setAsksTrim(true)} />
      </HeadMenu>
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
  const ids = meant()
  const many = ids.length > 1 ? ` ${ids.length} tracks` : ''
  const other = track.channels === 1 ? 2 : 1
  const run = (action: Thunk<unknown>) => () => void dispatch(action)
  const item = (text: ReactNode, action: () => void, more: { keys?: string; disabled?: boolean } = {}) => (
    <MenuLine action={action} {...more}>
      {text}
    </MenuLine>
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
      <ColourMenu colour={track.colour} onColour={(colour) => run(changeTracks(ids, { colour }))()} />
      {item('Input trim…', onTrim)}
      {item(
        track.polarity === -1 ? 'Polarity back to normal' : 'Invert the polarity',
        run(changeTracks(ids, { polarity: track.polarity === -1 ? 1 : -1 })),
      )}
      {(ids.length === 2 || (ids.length === 1 && track.channels === 2 && session.tracks[track.id])) &&
        item(ids.length === 2 ? 'Phase of these two tracks…' : 'Left and right, and phase…', () => {
          ids.forEach((trackId, i) => dispatch(headPicked({ trackId, add: i > 0 })))
          dispatch(dialogShown('sides'))
        })}
      {item(other === 2 ? 'Make stereo' : 'Make mono', run(setChannels(ids, other)))}
      {item('Inserts and ways…', () => {
        dispatch(headPicked({ trackId: track.id }))
        dispatch(dialogShown('strip'))
      })}
      {(['clip', 'insert'] as const).map((stage) => (
        <Fragment key={stage}>
          {item(
            `Render it in place, ${stage === 'clip' ? 'before' : 'after'} its inserts`,
            () =>
              void dispatch(renderPart(stage, track.id)).then(
                (outcome) => outcome?.done === false && toast({ text: outcome.message }),
              ),
            { disabled: ids.length > 1 },
          )}
        </Fragment>
      ))}
      {item(`Lead ${ids.length > 1 ? `${ids.length} tracks` : 'it'} through a new bus`, run(addBusFor(ids)))}
      <MenuGap />
      {item('Add a mono track below', run(addTrackBelow(track.id, 1)))}
      {item('Add a stereo track below', run(addTrackBelow(track.id, 2)))}
      {item(`Duplicate${many}`, run(duplicateHeads(ids, true)))}
      {item(`Duplicate${many} without regions`, run(duplicateHeads(ids, false)))}
      {item('Move up', run(moveHeads(ids, -1)), { keys: keyWords('shift+alt+up'), disabled: first })}
      {item('Move down', run(moveHeads(ids, 1)), { keys: keyWords('shift+alt+down') })}
      <MenuGap />
      {item(
        'Group these tracks…',
        () => {
          if (ids.length > 1) dispatch(dialogShown('group-tracks'))
        },
        { disabled: ids.length < 2 },
      )}
      {group && item(`Leave the group “${group.name}”`, run(ungroupHeads(ids)))}
      {group && item('Select the tracks of its group', () => selectGroup(group.trackIds))}
      <MenuGap />
      {item('Select all its regions', run(selectRegionsOf(ids)))}
      {item(`Solo only ${ids.length > 1 ? 'these' : 'this'}`, run(soloOnly(ids)))}
      <MenuGap />
      {item(`Delete${many || ' the track'}, with regions`, remove)}
    </>
  )
}
