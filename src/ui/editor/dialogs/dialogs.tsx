import { useForm } from 'react-hook-form'
import { duplicateSelected, renameSelected } from '../../../store/region-actions'
import { shownSession } from '../../../store/selectors'
import { dialogShown, type DialogName } from '../../../store/view-slice'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { Question } from '../../parts/panel'
import { CrossfadesDialog } from './crossfades-dialog'
import { EvenOutDialog } from './even-out-dialog'
import { GiveWayDialog } from './give-way-dialog'
import { FadesDialog } from './fades-dialog'
import { MatchDialog } from './match-dialog'
import { SeamsPanel } from './seams-panel'
import { SilenceDialog } from './silence-dialog'

/** The dialog of the editor that is open, if any. */
export function Dialogs() {
  const dialog = useAppSelector((s) => s.view.dialog)
  return dialog && <OpenDialog dialog={dialog} />
}

function OpenDialog({ dialog }: { dialog: DialogName }) {
  const dispatch = useAppDispatch()
  const session = useAppSelector(shownSession)
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
    case 'repeat':
      return (
        <AskText
          title="Repeat linked"
          about="Copies follow one after another and share one gain thread: shaping one shapes all."
          label="How many copies"
          initial="4"
          verb="Repeat"
          onClose={close}
          check={(text) =>
            (/^\s*\d+\s*$/.test(text) && Number(text) >= 1 && Number(text) <= MOST) ||
            `Type a whole number from 1 to ${MOST}.`
          }
          onText={(text) => dispatch(duplicateSelected(true, Number(text)))}
        />
      )
    case 'rename':
      return (
        <AskText
          title="Rename"
          label="Name of the region"
          initial={first?.name ?? ''}
          verb="Rename"
          onClose={close}
          check={(text) =>
            (text.trim().length > 0 && text.length <= 255) || 'Type a name of 1 to 255 characters.'
          }
          onText={(text) => dispatch(renameSelected(text.trim()))}
        />
      )
  }
}

const MOST = 200

/** Asks for one text, which `check` says to be good or what is wrong with it. */
export function AskText({
  title,
  about,
  label,
  initial,
  verb,
  check,
  onText,
  onClose,
}: {
  title: string
  about?: string
  label: string
  initial: string
  verb: string
  check(text: string): true | string
  onText(text: string): void
  onClose(): void
}) {
  const {
    register,
    handleSubmit,
    formState: { errors },
  } = useForm({ defaultValues: { text: initial } })
  const submit = handleSubmit(({ text }) => {
    onText(text)
    onClose()
  })
  return (
    <Question title={title} {...(about ? { about } : {})} onClose={onClose}>
      <form onSubmit={(event) => void submit(event)}>
        <label className="mt-4 block text-xs text-soft" htmlFor="asked">
          {label}
        </label>
        <input
          id="asked"
          autoComplete="off"
          onFocus={(e) => e.target.select()}
          className="mt-1 h-9 w-full rounded-lg border border-seam bg-white px-3"
          aria-invalid={errors.text !== undefined}
          {...register('text', { validate: check })}
        />
        {errors.text && (
          <p role="alert" className="mt-1 text-sm text-madder">
            {errors.text.message}
          </p>
        )}
        <div className="mt-5 flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button kind="solid" type="submit">
            {verb}
          </Button>
        </div>
      </form>
    </Question>
  )
}
