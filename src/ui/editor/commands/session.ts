import { redo, undo } from '../../../store/edits'
import { saveCopyOf } from '../../parts/copies/session-copy'
import { type CommandContext, type RunsOf } from './context'

/** Session: what each command does. */
export function sessionRuns({ dispatch, session, goTo, dialog }: CommandContext): RunsOf<'Session'> {
  return {
    tempo: dialog('tempo'),
    undo: () => dispatch(undo()),
    redo: () => dispatch(redo()),
    commands: dialog('commands'),
    import: () => document.querySelector<HTMLInputElement>('input[aria-label="Import audio files"]')?.click(),
    versions: dialog('versions'),
    'save-copy': () => void dispatch(saveCopyOf(session().id, session().title)),
    export: () => goTo(`/session/${session().id}/export`),
    help: () => goTo('/help'),
    list: () => goTo('/'),
  }
}
