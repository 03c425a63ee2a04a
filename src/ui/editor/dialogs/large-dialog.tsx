import type { ComponentType } from 'react'
import type { Session } from '../../../core/model/session'
import { pathTrack } from '../../../store/selectors'
import type { DialogName } from '../../../store/view'
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

/** What each panel gets. */
interface PanelProps {
  session: Session
  onClose(): void
}

/** The inserts of the track that leads. */
function TrackInserts(props: PanelProps) {
  const track = useAppSelector(pathTrack)
  return track && <StripPanel id={track.id} {...props} />
}

const PANELS = {
  match: MatchDialog,
  'even-out': EvenOutDialog,
  silence: SilenceDialog,
  fades: FadesDialog,
  crossfades: CrossfadesDialog,
  seams: SeamsPanel,
  'give-way': GiveWayDialog,
  versions: VersionsDialog,
  'move-gain': MoveGainDialog,
  sides: SidesDialog,
  loudness: LoudnessPanel,
  'insert-time': InsertTimeDialog,
  strip: TrackInserts,
  'mix-inserts': (props: PanelProps) => <StripPanel id={null} {...props} />,
} satisfies Partial<Record<DialogName, ComponentType<PanelProps>>>

export interface LargeDialogProps extends PanelProps {
  dialog: keyof typeof PANELS
}

/** A dialog that measures or proposes something. */
export function LargeDialog({ dialog, ...props }: LargeDialogProps) {
  const Shown: ComponentType<PanelProps> = PANELS[dialog]
  return <Shown {...props} />
}
