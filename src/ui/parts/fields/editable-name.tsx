import { useEffect, useRef, useState } from 'react'

/** Longest name that can be typed. */
const MOST_NAME_LENGTH = 255

/**
 * A name that can be edited in place: double-click or Enter starts, Enter or leaving accepts, Escape cancels.
 * An empty name is not accepted.
 */
export function EditableName({
  name,
  label,
  className,
  disabled,
  onName,
}: {
  name: string
  label: string
  className: string
  disabled?: boolean
  onName(name: string): void
}) {
  const [text, setText] = useState<string | null>(null)
  const input = useRef<HTMLInputElement>(null)
  const editing = text !== null
  useEffect(() => void (editing && input.current?.select()), [editing])
  if (!editing) {
    return (
      <button
        type="button"
        title={disabled ? undefined : 'Double-click to rename'}
        disabled={disabled}
        onDoubleClick={() => setText(name)}
        onKeyDown={(e) => e.key === 'Enter' && (e.preventDefault(), e.stopPropagation(), setText(name))}
        className={`truncate text-left ${className}`}
      >
        {name}
      </button>
    )
  }
  const take = () => {
    const typed = text.trim().slice(0, MOST_NAME_LENGTH)
    if (typed && typed !== name) onName(typed)
    setText(null)
  }
  return (
    <input
      ref={input}
      aria-label={label}
      value={text}
      maxLength={MOST_NAME_LENGTH}
      className={`rounded border border-oak bg-white px-1 ${className}`}
      onChange={(e) => setText(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        e.stopPropagation()
        if (e.key === 'Enter') take()
        if (e.key === 'Escape') setText(null)
      }}
    />
  )
}
