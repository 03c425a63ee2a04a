import type { ReactNode } from 'react'

/** A choice among a few, as a list that opens. */
export function Choice({
  label,
  value,
  onValue,
  children,
}: {
  label: string
  value: string
  onValue(value: string): void
  children: ReactNode
}) {
  return (
    <label className="flex items-center gap-2">
      <span className="text-sm font-semibold">{label}</span>
      <select
        value={value}
        onChange={(event) => onValue(event.target.value)}
        className="h-9 rounded-lg border border-seam bg-linen px-2"
      >
        {children}
      </select>
    </label>
  )
}
