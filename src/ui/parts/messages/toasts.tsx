import { X } from 'lucide-react'
import { Toast } from 'radix-ui'
import { useObservable } from '../hooks'
import { dismissToast, shownToasts } from './toast'

/** Where toasts appear; once in the application. */
export function Toasts() {
  const messages = useObservable(shownToasts)
  return (
    <Toast.Provider swipeDirection="right" label="Message">
      {messages.map((m) => (
        <Toast.Root
          key={m.id}
          duration={m.stays ?? 8000}
          onOpenChange={(open) => !open && dismissToast(m.id)}
          className="flex items-center gap-3 rounded-xl border border-seam bg-white py-2 pr-2 pl-4 text-sm shadow-lg"
        >
          <Toast.Description className="min-w-0 flex-1 wrap-anywhere">{m.text}</Toast.Description>
          {m.action && (
            <Toast.Action
              altText={m.action.label}
              onClick={m.action.run}
              className="rounded-lg border border-oak px-2.5 py-1 font-medium text-oak hover:bg-cloth"
            >
              {m.action.label}
            </Toast.Action>
          )}
          <Toast.Close aria-label="Put away" className="rounded-lg p-1 text-soft hover:bg-cloth">
            <X size={16} />
          </Toast.Close>
        </Toast.Root>
      ))}
      <Toast.Viewport className="fixed right-4 bottom-10 z-50 flex w-96 max-w-[calc(100vw-2rem)] flex-col gap-2" />
    </Toast.Provider>
  )
}
