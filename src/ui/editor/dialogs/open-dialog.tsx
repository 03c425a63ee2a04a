import { isBus } from '../../../core/model/strips'
import { renameSelected } from '../../../store/actions/region-actions'
import { changeTracks, groupHeads } from '../../../store/actions/track-actions'
import { pathTrack, shownSession } from '../../../store/selectors'
import { dialogShown, type DialogName } from '../../../store/view-slice'
import { duplicateHere } from '../hands/duplicate'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { TextQuestion } from '../../parts/fields/text-question'
import { useCommands } from '../parts/command-context'
import { Button } from '../../parts/button'
import { Question } from '../../parts/panel'
import { TempoFields } from '../parts/fields/tempo-fields'
import { CommandSearch } from './command-search'
import { CrossfadesDialog } from './crossfades-dialog'
import { EvenOutDialog } from './even-out-dialog'
import { GiveWayDialog } from './give-way-dialog'
import { FadesDialog } from './fades-dialog'
import { InsertTimeDialog } from './insert-time-dialog'
import { LoudnessPanel } from './loudness-panel'
import { MatchDialog } from './match-dialog'
import { SidesDialog } from './sides/sides-dialog'
import { MoveGainDialog } from './move-gain-dialog'
import { SeamsPanel } from './seams-panel'
import { SilenceDialog } from './silence-dialog'
import { StripPanel } from './strip-panel'
import { VersionsDialog } from './versions-dialog'

/** The most copies that can be made at once. */
const MOST_REPEATS = 200

const goodName = (text: string) =>
  (text.trim().length > 0 && text.length <= 255) || 'Type a name of 1 to 255 characters.'

/** The dialog of a name. */
export function OpenDialog({ dialog }: { dialog: DialogName }) {
  const dispatch = useAppDispatch()
  const session = useAppSelector(shownSession)
  const track = useAppSelector(pathTrack)
  const heads = useAppSelector((s) => s.view.trackIds)
  const runs = useCommands()
  const first = useAppSelector((s) => s.session.session?.regions[s.view.selection[0] ?? ''])
  if (!session) return null
  const close = () => void dispatch(dialogShown(null))
  switch (dialog) {
    case 'match':
      return <MatchDialog session={session} onClose={close} />
    case 'even-out':
      return <EvenOutDialog session={session} onClose={close} />
    case 'silence':
      return <SilenceDialog session={session} onClose={close} />
    case 'fades':
      return <FadesDialog session={session} onClose={close} />
    case 'crossfades':
      return <CrossfadesDialog session={session} onClose={close} />
    case 'seams':
      return <SeamsPanel session={session} onClose={close} />
    case 'give-way':
      return <GiveWayDialog session={session} onClose={close} />
    case 'versions':
      return <VersionsDialog session={session} onClose={close} />
    case 'strip':
      return track && <StripPanel session={session} id={track.id} onClose={close} />
    case 'move-gain':
      return <MoveGainDialog session={session} onClose={close} />
    case 'sides':
      return <SidesDialog session={session} onClose={close} />
    case 'loudness':
      return <LoudnessPanel session={session} onClose={close} />
    case 'mix-inserts':
      return <StripPanel session={session} id={null} onClose={close} />
    case 'repeat':
      return (
        <TextQuestion
          title="Repeat linked"
          about="Copies follow one after another and share one gain thread: shaping one shapes all."
          label="How many copies"
          initial="4"
          verb="Repeat"
          onClose={close}
          check={(text) =>
            (/^\s*\d+\s*$/.test(text) && Number(text) >= 1 && Number(text) <= MOST_REPEATS) ||
            `Type a whole number from 1 to ${MOST_REPEATS}.`
          }
          onText={(text) => dispatch(duplicateHere(true, Number(text)))}
        />
      )
    case 'commands':
      return <CommandSearch runs={runs} onClose={close} />
    case 'tempo':
      return (
        <Question title="Tempo and metre" onClose={close}>
          <div className="mt-4">
            <TempoFields session={session} />
          </div>
          <div className="mt-5 flex justify-end">
            <Button kind="solid" onClick={close}>
              Done
            </Button>
          </div>
        </Question>
      )
    case 'insert-time':
      return <InsertTimeDialog session={session} onClose={close} />
    case 'group-tracks':
      return (
        <TextQuestion
          title={`Group ${heads.length} tracks`}
          about="An edit of a region goes to those of the other tracks that begin and end with it, so that what was recorded together stays together."
          label="Name of the group"
          initial={`Group ${(session.groups?.length ?? 0) + 1}`}
          verb="Group"
          onClose={close}
          check={goodName}
          onText={(text) => void dispatch(groupHeads(heads, text.trim()))}
        />
      )
    case 'rename-track':
      return track ? (
        <TextQuestion
          title={isBus(session, track.id) ? 'Rename the bus' : 'Rename the track'}
          label="Name"
          initial={track.name}
          verb="Rename"
          onClose={close}
          check={goodName}
          onText={(text) => void dispatch(changeTracks([track.id], { name: text.trim() }))}
        />
      ) : null
    case 'rename':
      return (
        <TextQuestion
          title="Rename"
          label="Name of the region"
          initial={first?.name ?? ''}
          verb="Rename"
          onClose={close}
          check={goodName}
          onText={(text) => dispatch(renameSelected(text.trim()))}
        />
      )
  }
}
