import { X } from 'lucide-react'
import { Toast } from 'radix-ui'
import { useEffect, useState } from 'react'

/** A short message, possibly with something to do about it. */
export interface ToastMessage {
  text: string
  action?: { label: string; run(): void }
  /** Milliseconds it stays. */
  stays?: number
}

type Kept = ToastMessage & { id: number }

let counter = 0
let show: (message: Kept) => void = () => undefined

/** Shows a short message at the lower right. */
export const toast = (message: ToastMessage) => show({ ...message, id: ++counter })

/** Where toasts appear; once in the application. */
export function Toasts() {
  const [messages, setMessages] = useState<Kept[]>([])
  useEffect(() => {
    show = (message) => setMessages((all) => [...all.slice(-3), message])
    return () => void (show = () => undefined)
  }, [])
  const drop = (id: number) => setMessages((all) => all.filter((m) => m.id !== id))
  return (
    <Toast.Provider swipeDirection="right" label="Message">
      {messages.map((m) => (
        <Toast.Root
          key={m.id}
          duration={m.stays ?? 8000}
          onOpenChange={(open) => !open && drop(m.id)}
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
