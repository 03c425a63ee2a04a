import clsx from 'clsx'
import { RotateCcw } from 'lucide-react'
import { Popover } from 'radix-ui'
import { flushSync } from 'react-dom'
import { useEffect, useId, useRef, useState, type KeyboardEvent, type RefObject } from 'react'
import type { Typed } from '../../../core/units/typed'
import { changed, parseAmount, readTyped } from '../../../core/units/typed-change'
import { leaveField } from '../focus-return'

/** What a value field needs: its label, the value as shown, how text is read, and what to do with a good value. */
export interface ValueFieldProps<T> {
  label: string
  shown: string
  parse(text: string): Typed<T>
  onValue(value: T): void
  /** Lets a change be typed, too: "+2", "by −2" (see `readTyped`). */
  change?: FieldChange | undefined
  /** Up and down keys: +1 or -1, `fine` with Alt. */
  onNudge?(direction: 1 | -1, fine: boolean): void
  /** Puts the value back to what it is without being set, said in words; there while it is another. */
  reset?: { words: string; run(): void } | undefined
  disabled?: boolean
  /** Name by which keyboard commands find the field. */
  name?: string
  className?: string
  hideLabel?: boolean
  /** What it does, where its label says too little. */
  title?: string | undefined
  /** What stands in the empty field, where several values differ. */
  placeholder?: string | undefined
}

/** How the value of a field is changed by an amount. */
export interface FieldChange {
  /** The value now, in the unit of the field; null is silence. */
  from: number | null
  show(value: number): string
  /** How a typed amount is read and added, where that is not what `parse` makes of the texts; how it is shown. */
  amount?: ((text: string) => Typed<number>) | undefined
  add?: ((amount: number) => Typed<number | null>) | undefined
  showAmount?: ((amount: number) => string) | undefined
  /**
   * Where the field is about several things: how many, in words, and what changes all of them by an amount; it
   * returns why it did not.
   */
  all?: { words: string; by(amount: number): string | null } | undefined
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
  change,
  reset,
  disabled,
  name,
  className,
  hideLabel,
  title,
  placeholder,
}: ValueFieldProps<T>) {
  const id = useId()
  const [focused, setFocused] = useState(false)
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
    const message = apply(text)
    if (message !== null) {
      setProblem(message)
      return false
    }
    setText(null)
    setProblem(null)
    return true
  }
  /** Applies a typed text; returns what is wrong with it, null for nothing. */
  const apply = (text: string): string | null => {
    const { change: isChange, text: rest } = readTyped(text)
    if (change && isChange) {
      const field = { ...change, parse: parse as (text: string) => Typed<number | null> }
      if (change.all) {
        const amount = parseAmount(field, rest)
        return amount.ok ? change.all.by(amount.value) : amount.message
      }
      const value = changed(field, rest)
      if (value.ok) onValue(value.value as T)
      return value.ok ? null : value.message
    }
    const typed = parse(isChange ? text : rest)
    if (typed.ok) onValue(typed.value)
    return typed.ok ? null : typed.message
  }
  /** What the typed text will do, in words; null where that is not known yet. */
  const effect = text === null || !change ? null : effectOf(text, shown, change, parse)

  const leaving = useRef(false)
  const leave = () => {
    leaving.current = true
    leaveField(input.current!)
    leaving.current = false
  }

  const putBack = () => {
    setText(null)
    setProblem(null)
  }

  const onKeyDown = (event: KeyboardEvent) => {
    // No value begins with a space: it plays, as everywhere.
    if (event.key === ' ' && text === null) return
    // Keys of the whole page, such as F6, are nobody's text.
    if (!/^F\d/.test(event.key) && !event.ctrlKey && !event.metaKey) event.stopPropagation()
    if (event.key === 'Enter') {
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
      {reset && (
        <button
          type="button"
          aria-label={`${label} to ${reset.words}`}
          title={`Back to ${reset.words}`}
          onClick={reset.run}
          className="absolute top-0 right-0 flex h-4 w-4 items-center justify-center rounded text-soft hover:bg-fold hover:text-ink"
        >
          <RotateCcw size={11} aria-hidden />
        </button>
      )}
      <input
        ref={input}
        id={id}
        data-field={name}
        data-value=""
        data-typed={text !== null || undefined}
        title={title}
        disabled={disabled}
        autoComplete="off"
        spellCheck={false}
        placeholder={placeholder}
        className={clsx(
          'h-8 w-full rounded-lg border bg-linen px-2 font-mono text-sm text-ink placeholder:font-sans placeholder:text-xs placeholder:text-soft placeholder:italic focus:bg-white disabled:opacity-45',
          problem ? 'border-madder' : 'border-seam',
        )}
        // With a sign before it, it would read as a change.
        value={text ?? (focused && change ? shown.replace(/^\+/, '') : shown)}
        aria-invalid={problem !== null}
        aria-describedby={problem ? `${id}-problem` : undefined}
        onChange={(event) => setText(event.target.value)}
        onFocus={(event) => {
          // The text may change with the focus; selected after that, what is typed next replaces it.
          flushSync(() => setFocused(true))
          event.target.select()
        }}
        onBlur={() => {
          setFocused(false)
          if (!leaving.current) take()
        }}
        onKeyDown={onKeyDown}
      />
      {effect && !problem && (
        <span
          aria-live="polite"
          className="pointer-events-none absolute top-full left-0 z-20 mt-0.5 rounded bg-ink px-1.5 font-mono text-2xs whitespace-nowrap text-white"
        >
          {effect}
        </span>
      )}
      {problem && (
        <Problem id={`${id}-problem`} of={input} onEscape={putBack}>
          {problem}
        </Problem>
      )}
    </div>
  )
}

/** What a typed text will do: "−7.5 dB → −5.5 dB", "3 regions, −2 dB each". */
function effectOf<T>(
  text: string,
  shown: string,
  change: FieldChange,
  parse: (text: string) => Typed<T>,
): string | null {
  const { change: isChange, text: rest } = readTyped(text)
  const field = { ...change, parse: parse as (text: string) => Typed<number | null> }
  if (isChange && change.all) {
    const amount = parseAmount(field, rest)
    return amount.ok ? `${change.all.words}, ${(change.showAmount ?? change.show)(amount.value)} each` : null
  }
  const to = isChange ? changed(field, rest) : field.parse(rest)
  if (!to.ok) return null
  const words = to.value === null ? 'silence' : change.show(to.value)
  return change.all ? `${change.all.words} → ${words}` : words === shown ? null : `${shown} → ${words}`
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
