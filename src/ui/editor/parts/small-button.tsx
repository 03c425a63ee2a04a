import type { ReactNode } from 'react'

/** A small button of a card. */
export function SmallButton({
  label,
  title,
  disabled = false,
  onPress,
  children,
}: {
  label: string
  title: string
  disabled?: boolean
  onPress(): void
  children: ReactNode
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={title}
      disabled={disabled}
      onClick={onPress}
      className="flex h-6 w-6 shrink-0 items-center justify-center rounded-md text-soft hover:bg-fold hover:text-ink disabled:opacity-35"
    >
      {children}
    </button>
  )
}
