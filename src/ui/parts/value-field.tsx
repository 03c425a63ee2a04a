import clsx from 'clsx'
import { Popover } from 'radix-ui'
import { useEffect, useId, useRef, useState, type KeyboardEvent, type RefObject } from 'react'
import type { Typed } from '../../core/units/typed'

/** What a value field needs: its label, the value as shown, how text is read, and what to do with a good value. */
export interface ValueFieldProps<T> {
  label: string
  shown: string
  parse(text: string): Typed<T>
  /** `relative` is set when a change was typed instead of a value. */
  onValue(value: T, relative?: boolean): void
  /** Up and down keys: +1 or -1, `fine` with Alt. */
  onNudge?(direction: 1 | -1, fine: boolean): void
  disabled?: boolean
  /** Name by which keyboard commands find the field. */
  name?: string
  className?: string
  hideLabel?: boolean
  /** What stands in the empty field, where several values differ. */
  placeholder?: string
}

/** For dialogs that Escape closes: the first Escape in a field with typed text belongs to the field. */
export const unlessTyped = (event: Event) => {
  if ((event.target as Element).closest('[data-typed]')) event.preventDefault()
}

/**
 * A field for a value with a unit. Enter or leaving the field accepts the text; a text that cannot be
 * accepted stays, with a message that says what can. Escape restores the value.
 */
export function ValueField<T>({
  label,
  shown,
  parse,
  onValue,
  onNudge,
  disabled,
  name,
  className,
  hideLabel,
  placeholder,
}: ValueFieldProps<T>) {
  const id = useId()
  const [text, setText] = useState<string | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const input = useRef<HTMLInputElement>(null)

  useEffect(() => {
    // A value that changes from outside while nothing is being typed is simply shown.
    if (document.activeElement !== input.current) {
      setText(null)
      setProblem(null)
    }
  }, [shown])

  const take = (): boolean => {
    if (text === null || text === shown) {
      setText(null)
      setProblem(null)
      return true
    }
    const typed = parse(text)
    if (!typed.ok) {
      setProblem(typed.message)
      return false
    }
    setText(null)
    setProblem(null)
    onValue(typed.value, typed.relative)
    return true
  }

  const leaving = useRef(false)
  const leave = () => {
    leaving.current = true
    input.current?.blur()
    leaving.current = false
  }

  const putBack = () => {
    setText(null)
    setProblem(null)
  }

  const onKeyDown = (event: KeyboardEvent) => {
    event.stopPropagation()
    if (event.key === 'Enter') {
      // Back to the editor's keys: Space plays, Ctrl+Z takes it back.
      if (take()) leave()
    } else if (event.key === 'Escape') {
      putBack()
      leave()
    } else if ((event.key === 'ArrowUp' || event.key === 'ArrowDown') && onNudge) {
      event.preventDefault()
      putBack()
      onNudge(event.key === 'ArrowUp' ? 1 : -1, event.altKey)
    }
  }

  return (
    <div className={clsx('relative', className)}>
      <label htmlFor={id} className={hideLabel ? 'sr-only' : 'mb-0.5 block text-xs text-soft'}>
        {label}
      </label>
      <input
        ref={input}
        id={id}
        data-field={name}
        data-typed={text !== null || undefined}
        disabled={disabled}
        autoComplete="off"
        spellCheck={false}
        placeholder={placeholder}
        className={clsx(
          'h-8 w-full rounded-lg border bg-linen px-2 font-mono text-sm text-ink placeholder:text-soft focus:bg-white disabled:opacity-45',
          problem ? 'border-madder' : 'border-seam',
        )}
        value={text ?? shown}
        aria-invalid={problem !== null}
        aria-describedby={problem ? `${id}-problem` : undefined}
        onChange={(event) => setText(event.target.value)}
        onFocus={(event) => event.target.select()}
        onBlur={() => leaving.current || take()}
        onKeyDown={onKeyDown}
      />
      {problem && (
        <Problem id={`${id}-problem`} of={input} onEscape={putBack}>
          {problem}
        </Problem>
      )}
    </div>
  )
}

/**
 * The message about a field, beside it and fully on the screen. It is above everything else, so Escape
 * belongs to it; pressing elsewhere dismisses it.
 */
function Problem({
  id,
  of,
  onEscape,
  children,
}: {
  id: string
  of: RefObject<HTMLInputElement | null>
  onEscape(): void
  children: string
}) {
  const stay = (event: Event) => event.preventDefault()
  return (
    <Popover.Root open>
      <Popover.Anchor virtualRef={of as RefObject<HTMLInputElement>} />
      <Popover.Portal>
        <Popover.Content
          id={id}
          role="alert"
          side="top"
          align="end"
          sideOffset={4}
          collisionPadding={8}
          onOpenAutoFocus={stay}
          onCloseAutoFocus={stay}
          onInteractOutside={stay}
          onEscapeKeyDown={onEscape}
          className="z-50 w-60 rounded-lg border border-madder bg-white p-2 text-xs text-ink shadow-lg"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
