import clsx from 'clsx'
import type { ButtonHTMLAttributes } from 'react'

type Kind = 'solid' | 'plain' | 'quiet' | 'ink'

const kinds: Record<Kind, string> = {
  solid: 'border-oak bg-oak text-white hover:bg-oak-deep',
  ink: 'border-ink bg-ink text-white hover:bg-walnut',
  plain: 'border-seam bg-linen text-ink hover:bg-white',
  quiet: 'border-transparent text-ink hover:bg-fold',
}

/** A button of the look. `aria-pressed` makes it a switch that stays down. */
export function Button({
  kind = 'plain',
  className,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: Kind }) {
  return (
    <button
      type="button"
      className={clsx(
        'inline-flex h-8 items-center justify-center gap-1.5 rounded-lg border px-3 text-sm ' +
          'font-medium whitespace-nowrap transition-colors',
        'disabled:pointer-events-none disabled:opacity-45 aria-pressed:border-oak aria-pressed:bg-oak aria-pressed:text-white',
        kinds[kind],
        className,
      )}
      {...rest}
    />
  )
}
