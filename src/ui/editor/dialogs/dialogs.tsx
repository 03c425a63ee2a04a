import { useEffect } from 'react'
import { isBus } from '../../../core/model/strips'
import { renameSelected } from '../../../store/actions/region-actions'
import { changeTracks, groupHeads } from '../../../store/actions/track-actions'
import { pathTrack, shownSession } from '../../../store/selectors'
import { dialogShown, type DialogName } from '../../../store/view'
import { duplicateHere } from '../hands/duplicate'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { TextQuestion } from '../../parts/fields/text-question'
import { useCommands } from '../parts/command-context'
import { Button } from '../../parts/button'
import { Question } from '../../parts/panel'
import { TempoFields } from '../parts/fields/tempo-fields'
import { CommandSearch } from './command-search'
import { lazyPart } from '../../parts/opening/lazy-part'
import type { LargeDialogProps } from './large-dialog'

/** The most copies that can be made at once. */
const MOST_REPEATS = 200

const goodName = (text: string) =>
  (text.trim().length > 0 && text.length <= 255) || 'Type a name of 1 to 255 characters.'

const LargeDialog = lazyPart<LargeDialogProps>(
  async () => (await import('./large-dialog')).LargeDialog,
  ({ retry, onClose }) => (
    <Question
      title="This part could not be loaded"
      about="Are you offline, or is the server gone? Your work is saved in this browser."
      onClose={onClose}
    >
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={onClose}>Close</Button>
        <Button kind="solid" onClick={retry}>
          Try again
        </Button>
      </div>
    </Question>
  ),
)

/** The dialog of the editor that is open, if any. */
export function Dialogs() {
  const dialog = useAppSelector((s) => s.navigation.dialog)
  // With the editor, so that each opens at once.
  useEffect(() => void LargeDialog.preload().catch(() => undefined), [])
  return dialog && <OpenDialog dialog={dialog} />
}

function OpenDialog({ dialog }: { dialog: DialogName }) {
  const dispatch = useAppDispatch()
  const session = useAppSelector(shownSession)
  const track = useAppSelector(pathTrack)
  const heads = useAppSelector((s) => s.selection.trackIds)
  const runs = useCommands()
  const first = useAppSelector((s) => s.session.session?.regions[s.selection.regionIds[0] ?? ''])
  if (!session) return null
  const close = () => void dispatch(dialogShown(null))
  switch (dialog) {
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
    default:
      return <LargeDialog dialog={dialog} session={session} onClose={close} />
  }
}
