import type { Session } from '../../../core/model/session'
import { pathTrack } from '../../../store/selectors'
import type { DialogName } from '../../../store/view-slice'
import { useAppSelector } from '../../parts/hooks'
import { CrossfadesDialog } from './crossfades-dialog'
import { EvenOutDialog } from './even-out-dialog'
import { FadesDialog } from './fades-dialog'
import { GiveWayDialog } from './give-way-dialog'
import { InsertTimeDialog } from './insert-time-dialog'
import { LoudnessPanel } from './loudness-panel'
import { MatchDialog } from './match-dialog'
import { MoveGainDialog } from './move-gain-dialog'
import { SeamsPanel } from './seams-panel'
import { SidesDialog } from './sides/sides-dialog'
import { SilenceDialog } from './silence-dialog'
import { StripPanel } from './strip-panel'
import { VersionsDialog } from './versions-dialog'

/** A panel that measures or proposes something. */
export type LargeDialogName = Extract<
  DialogName,
  | 'match'
  | 'even-out'
  | 'silence'
  | 'fades'
  | 'crossfades'
  | 'seams'
  | 'give-way'
  | 'versions'
  | 'strip'
  | 'move-gain'
  | 'sides'
  | 'loudness'
  | 'mix-inserts'
  | 'insert-time'
>

export interface LargeDialogProps {
  dialog: LargeDialogName
  session: Session
  onClose(): void
}

/** The panel of a name. */
export function LargeDialog({ dialog, session, onClose }: LargeDialogProps) {
  const track = useAppSelector(pathTrack)
  switch (dialog) {
    case 'match':
      return <MatchDialog session={session} onClose={onClose} />
    case 'even-out':
      return <EvenOutDialog session={session} onClose={onClose} />
    case 'silence':
      return <SilenceDialog session={session} onClose={onClose} />
    case 'fades':
      return <FadesDialog session={session} onClose={onClose} />
    case 'crossfades':
      return <CrossfadesDialog session={session} onClose={onClose} />
    case 'seams':
      return <SeamsPanel session={session} onClose={onClose} />
    case 'give-way':
      return <GiveWayDialog session={session} onClose={onClose} />
    case 'versions':
      return <VersionsDialog session={session} onClose={onClose} />
    case 'strip':
      return track && <StripPanel session={session} id={track.id} onClose={onClose} />
    case 'move-gain':
      return <MoveGainDialog session={session} onClose={onClose} />
    case 'sides':
      return <SidesDialog session={session} onClose={onClose} />
    case 'loudness':
      return <LoudnessPanel session={session} onClose={onClose} />
    case 'mix-inserts':
      return <StripPanel session={session} id={null} onClose={onClose} />
    case 'insert-time':
      return <InsertTimeDialog session={session} onClose={onClose} />
  }
}
