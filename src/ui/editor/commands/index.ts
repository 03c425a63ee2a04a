import { useMemo } from 'react'
import { useNavigate } from 'react-router'
import { useAppDispatch, useAppStore } from '../../parts/hooks'
import type { CommandRuns } from '../parts/command-context'
import { usePictures } from '../parts/watch/use-pictures'
import { playingRuns } from './playing'
import { findingRuns } from './finding'
import { selectingRuns } from './selecting'
import { levelsRuns } from './levels'
import { edgesRuns } from './edges'
import { arrangingRuns } from './arranging'
import { automationRuns } from './automation'
import { tracksRuns } from './tracks'
import { viewRuns } from './view'
import { handsRuns } from './hands'
import { sessionRuns } from './session'
import { commandContext, type CommandContext } from './context'

export { currentField } from './current-field'

/** All that the editor's commands do. */
const commandRuns = (context: CommandContext): CommandRuns => ({
  ...playingRuns(context),
  ...findingRuns(context),
  ...selectingRuns(context),
  ...levelsRuns(context),
  ...edgesRuns(context),
  ...arrangingRuns(context),
  ...automationRuns(context),
  ...tracksRuns(context),
  ...viewRuns(context),
  ...handsRuns(context),
  ...sessionRuns(context),
})

/** What the commands of the editor do. The same object as long as the editor is open. */
export function useCommandRuns(): CommandRuns {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const navigate = useNavigate()
  const { pictures } = usePictures()
  return useMemo(
    () => commandRuns(commandContext(dispatch, store, pictures, (path) => void navigate(path))),
    [dispatch, store, pictures, navigate],
  )
}
