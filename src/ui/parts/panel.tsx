import { X } from 'lucide-react'
import { Dialog } from 'radix-ui'
import type { ReactNode } from 'react'
import { returnFocus } from './focus-return'
import { unlessTyped } from './fields/unless-typed'

/**
 * A panel over the right side of the editor that leaves the rest usable: regions can be seen, played and
 * selected while it is open. `footer` holds its buttons. Escape closes it.
 */
export function Panel({
  title,
  about,
  footer,
  wide,
  onClose,
  children,
}: {
  title: string
  about: ReactNode
  footer: ReactNode
  wide?: boolean
  onClose(): void
  children: ReactNode
}) {
  return (
    <Dialog.Root open modal={false} onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Content
          onInteractOutside={(event) => event.preventDefault()}
          onEscapeKeyDown={unlessTyped}
          onCloseAutoFocus={returnFocus}
          onKeyDown={(event) => event.key !== ' ' && event.stopPropagation()}
          className={`fixed top-16 right-4 z-40 flex max-h-[calc(100vh-7rem)] ${wide ? 'w-[38rem]' : 'w-[25rem]'} max-w-[calc(100vw-2rem)] flex-col rounded-2xl border border-seam bg-linen shadow-2xl`}
        >
          <div className="flex items-start gap-3 px-5 pt-4">
            <div className="min-w-0 flex-1 pr-9">
              <Dialog.Title className="text-lg leading-6 font-bold">{title}</Dialog.Title>
              <Dialog.Description asChild>
                <p className="mt-0.5 text-sm text-soft">{about}</p>
              </Dialog.Description>
            </div>
          </div>
          <div className="min-h-0 flex-1 overflow-auto px-5 py-3">{children}</div>
          <div className="flex items-center justify-end gap-2 border-t border-seam px-5 py-3">{footer}</div>
          <Dialog.Close
            aria-label="Close"
            className="absolute top-3.5 right-4 rounded-lg p-1 text-soft hover:bg-fold"
          >
            <X size={18} />
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

/** A small dialog in the middle that must be answered first. */
export function Question({
  title,
  about,
  onClose,
  children,
}: {
  title: string
  about?: string
  onClose(): void
  children: ReactNode
}) {
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content
          onEscapeKeyDown={unlessTyped}
          onCloseAutoFocus={returnFocus}
          onKeyDown={(e) => e.stopPropagation()}
          {...(about ? {} : { 'aria-describedby': undefined })}
          className="fixed top-1/2 left-1/2 z-50 w-96 max-w-[calc(100vw-2rem)] -translate-x-1/2 -translate-y-1/2 rounded-2xl border border-seam bg-linen p-5 shadow-2xl"
        >
          <Dialog.Title className="text-lg font-bold">{title}</Dialog.Title>
          {about && <Dialog.Description className="mt-1 text-sm text-soft">{about}</Dialog.Description>}
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

/** A choice of a few words, one of which is pressed. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string
  value: T
  options: readonly { value: NoInfer<T>; text: string }[]
  onChange(value: NoInfer<T>): void
}) {
  return (
    <div role="group" aria-label={label} className="flex rounded-lg border border-seam bg-linen p-0.5">
      {options.map((o) => (
        <button
          key={o.value}
          type="button"
          aria-pressed={o.value === value}
          onClick={() => onChange(o.value)}
          className="flex-1 rounded-md px-2 py-1 text-sm whitespace-nowrap hover:bg-white aria-pressed:bg-oak aria-pressed:text-white"
        >
          {o.text}
        </button>
      ))}
    </div>
  )
}

/** A box to tick, with its words. */
export function Tick({
  checked,
  onChange,
  children,
}: {
  checked: boolean
  onChange(checked: boolean): void
  children: ReactNode
}) {
  return (
    <label className="flex items-center gap-2 text-sm">
      {/* After a click the keys are the editor's again; ticked by key, the box keeps the focus. */}
      <input
        type="checkbox"
        checked={checked}
        onChange={(e) => onChange(e.target.checked)}
        onClick={(e) => e.detail > 0 && e.currentTarget.blur()}
        className="accent-oak"
      />
      {children}
    </label>
  )
}
