import { useEffect } from 'react'
import { dialogShown, type DialogName } from '../../../store/view-slice'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { lazyPart } from '../../parts/opening/lazy-part'
import { Question } from '../../parts/panel'

const OpenDialog = lazyPart<{ dialog: DialogName }>(
  async () => (await import('./open-dialog')).OpenDialog,
  ({ retry }) => {
    const dispatch = useAppDispatch()
    const close = () => void dispatch(dialogShown(null))
    return (
      <Question
        title="This part could not be loaded"
        about="Are you offline, or is the server gone? Your work is saved in this browser."
        onClose={close}
      >
        <div className="mt-5 flex justify-end gap-2">
          <Button onClick={close}>Close</Button>
          <Button kind="solid" onClick={retry}>
            Try again
          </Button>
        </div>
      </Question>
    )
  },
)

/** The dialog of the editor that is open, if any. */
export function Dialogs() {
  const dialog = useAppSelector((s) => s.view.dialog)
  useEffect(() => {
    // Soon after the editor, so that the first dialog opens at once.
    const timer = setTimeout(() => void OpenDialog.preload().catch(() => undefined), 1000)
    return () => clearTimeout(timer)
  }, [])
  return dialog && <OpenDialog dialog={dialog} />
}
