import { Dialog } from 'radix-ui'
import { Button } from '../button'
import { useObservable } from '../hooks'
import { refusedFiles, refusedSeen } from './import-outcome'

/** Says which files were not imported, and why. */
export function RefusedFilesDialog() {
  const { refused, imported, onward, takeAnyway } = useObservable(refusedFiles)
  const onClose = refusedSeen
  const doubtful = refused.flatMap(({ file }) => file ?? [])
  return (
    <Dialog.Root open={refused.length > 0} onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content className="fixed top-1/2 left-1/2 z-50 flex max-h-[80vh] w-[34rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 -translate-y-1/2 flex-col rounded-2xl border border-seam bg-linen p-5 shadow-2xl">
          <Dialog.Title className="text-lg font-bold">
            {refused.length === 1 ? 'One file was not imported' : `${refused.length} files were not imported`}
          </Dialog.Title>
          <Dialog.Description className="mt-1 text-soft">
            {imported
              ? `${imported === 1 ? 'The other one was' : `The other ${imported} were`} imported.`
              : 'Nothing was changed.'}
          </Dialog.Description>
          <ul className="mt-4 flex-1 space-y-2 overflow-auto">
            {refused.map((r, i) => (
              <li key={i} className="rounded-lg border border-seam bg-white px-3 py-2 text-sm wrap-anywhere">
                <strong>{r.name}</strong> {r.message}
              </li>
            ))}
          </ul>
          <div className="mt-4 flex justify-end gap-2">
            <Dialog.Close asChild>
              <Button {...(onward ? {} : { kind: 'solid' })}>Close</Button>
            </Dialog.Close>
            {takeAnyway && doubtful.length > 0 && (
              <Dialog.Close asChild>
                <Button
                  title="A part of the sound may be wrong: listen to it before you use it"
                  onClick={() => takeAnyway(doubtful)}
                >
                  {doubtful.length === 1 ? 'Import it anyway' : `Import ${doubtful.length} of them anyway`}
                </Button>
              </Dialog.Close>
            )}
            {onward && (
              <Dialog.Close asChild>
                <Button kind="solid" onClick={onward.run}>
                  {onward.label}
                </Button>
              </Dialog.Close>
            )}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
