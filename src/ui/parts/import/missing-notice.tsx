import { observable } from '../../../store/observable'
import { Button } from '../button'
import { useAppSelector, useObservable } from '../hooks'
import { NoticeLine } from '../messages/notice-line'
import { lazyPart } from '../opening/lazy-part'

const MissingSoundsDialog = lazyPart<{ onClose(): void }>(
  async () => (await import('./missing-sounds-dialog')).MissingSoundsDialog,
)

/** Whether the dialog is open; it stays so while the editor begins anew with a sound that was found. */
const dialogOpen = observable(false)

/** Says that sounds of the session are missing, and leads to where they are found again. */
export function MissingNotice() {
  const count = useAppSelector((s) => s.session.missing.length)
  const open = useObservable(dialogOpen)
  if (count === 0 && !open) return null
  const words =
    count === 1
      ? 'One sound of this session is missing and silent.'
      : `${count} sounds of this session are missing and silent.`
  return (
    <>
      {count > 0 && (
        <NoticeLine text={`${words} Everything else is as it was; exports are silent there, too.`}>
          <Button onClick={() => dialogOpen.set(true)}>Find {count === 1 ? 'it' : 'them'}…</Button>
        </NoticeLine>
      )}
      {open && <MissingSoundsDialog onClose={() => dialogOpen.set(false)} />}
    </>
  )
}
