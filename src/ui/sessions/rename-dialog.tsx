import { Dialog } from 'radix-ui'
import { useForm } from 'react-hook-form'
import { LIMITS } from '../../core/model/session'
import { Button } from '../parts/button'

/** Asks for a session's new title. */
export function RenameDialog({
  title,
  onRename,
  onClose,
}: {
  title: string
  onRename(title: string): void
  onClose(): void
}) {
  const {
    register,
    handleSubmit,
    formState: { errors },
  } = useForm({ defaultValues: { title } })
  const submit = handleSubmit((values) => onRename(values.title.trim()))
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-50 w-96 max-w-[calc(100vw-2rem)] -translate-x-1/2 -translate-y-1/2 rounded-2xl border border-seam bg-linen p-5 shadow-2xl"
        >
          <Dialog.Title className="text-lg font-bold">Rename the session</Dialog.Title>
          <form onSubmit={(event) => void submit(event)}>
            <label className="mt-4 block text-xs text-soft" htmlFor="title">
              Title
            </label>
            <input
              id="title"
              autoComplete="off"
              className="mt-1 h-9 w-full rounded-lg border border-seam bg-white px-3"
              aria-invalid={errors.title !== undefined}
              {...register('title', {
                validate: (text) =>
                  text.trim() === ''
                    ? 'Type a title of at least one letter.'
                    : text.length > LIMITS.nameLength
                      ? `The title has ${text.length} characters; type at most ${LIMITS.nameLength}.`
                      : true,
              })}
            />
            {errors.title && (
              <p role="alert" className="mt-1 text-sm text-madder">
                {errors.title.message}
              </p>
            )}
            <div className="mt-5 flex justify-end gap-2">
              <Dialog.Close asChild>
                <Button>Cancel</Button>
              </Dialog.Close>
              <Button kind="solid" type="submit">
                Rename
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
