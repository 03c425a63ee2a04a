import { fadeCurve } from '../../../../core/curve/fade'
import { type FadeCurve, fadeCurves } from '../../../../core/model/session'

export const curveNames: Record<FadeCurve, string> = {
  linear: 'Linear',
  'equal-power': 'Equal power',
  's-curve': 'S-curve',
  exponential: 'Exponential (slow start)',
  logarithmic: 'Logarithmic (fast start)',
}

/** A small picture of a curve, rising for a fade in and falling for a fade out. */
export function CurvePicture({
  curve,
  falling,
  small,
}: {
  curve: FadeCurve
  falling?: boolean
  small?: boolean
}) {
  const path = Array.from(
    { length: 13 },
    (_, i) =>
      `${i ? 'L' : 'M'}${(1 + (18 * i) / 12).toFixed(1)} ${(15 - 14 * fadeCurve(curve, i / 12)).toFixed(1)}`,
  ).join('')
  return (
    <svg
      viewBox="0 0 20 16"
      className={`h-4 max-w-full ${small ? 'w-4' : 'w-5'} ${falling ? '-scale-x-100' : ''}`}
      aria-hidden
    >
      <path d={path} fill="none" stroke="currentColor" strokeWidth="1.8" strokeLinecap="round" />
    </svg>
  )
}

/** The five curves to choose from. `onTry` is called while the pointer is over one, with null when it leaves. */
export function CurveChoice({
  label,
  value,
  falling,
  small,
  disabled,
  onChange,
  onTry,
}: {
  label: string
  value: FadeCurve | null
  falling?: boolean
  small?: boolean
  disabled?: boolean
  onChange(curve: FadeCurve): void
  onTry?(curve: FadeCurve | null): void
}) {
  return (
    <div
      className="flex rounded-lg border border-seam bg-linen"
      role="group"
      aria-label={label}
      onPointerLeave={() => onTry?.(null)}
    >
      {fadeCurves.map((curve) => (
        <button
          key={curve}
          type="button"
          title={curveNames[curve]}
          aria-label={curveNames[curve]}
          disabled={disabled}
          aria-pressed={value === curve}
          onPointerEnter={() => onTry?.(curve)}
          onClick={() => onChange(curve)}
          className={`flex min-w-0 flex-1 justify-center rounded-lg ${small ? 'px-0.5' : 'px-1.5'} py-1.5 hover:bg-white disabled:opacity-40 aria-pressed:bg-oak aria-pressed:text-white`}
        >
          <CurvePicture curve={curve} {...(falling ? { falling } : {})} {...(small ? { small } : {})} />
        </button>
      ))}
    </div>
  )
}
