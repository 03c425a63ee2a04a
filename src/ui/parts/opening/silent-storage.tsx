import { Button } from '../button'

/** After this long without an answer the page says that the storage does not respond, in milliseconds. */
export const SILENT_MS = 10_000

/** What is said when the browser's storage does not answer, with a way to try again. */
export function SilentStorage() {
  return (
    <div role="alert" className="mt-4 flex items-center gap-4 rounded-xl border border-madder bg-white p-4">
      <p className="flex-1">
        The browser’s storage has not answered for a while. Another tab may be busy with it, or the disk is
        slow. Nothing is lost; close other tabs of Oaken Thread and try again.
      </p>
      <Button kind="solid" onClick={() => window.location.reload()}>
        Try again
      </Button>
    </div>
  )
}
