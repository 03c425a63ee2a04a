import { SESSION_RATES } from '../../../engine/import'

/** A sample rate in words: "44.1 kHz". */
export const kilohertz = (rate: number) => `${rate / 1000} kHz`

/** The fields of a new session: its title, and the rate that it runs at. */
export function TitleAndRate({
  title,
  sampleRate,
  onTitle,
  onRate,
}: {
  title: string
  sampleRate: number
  onTitle(title: string): void
  onRate(rate: number): void
}) {
  return (
    <div className="mt-4 flex gap-3">
      <label className="min-w-0 flex-1 text-xs text-soft">
        Title
        <input
          value={title}
          maxLength={255}
          autoComplete="off"
          onChange={(e) => onTitle(e.target.value)}
          onFocus={(e) => e.target.select()}
          className="mt-0.5 block h-8 w-full rounded-lg border border-seam bg-white px-2 text-sm text-ink"
        />
      </label>
      <label className="w-28 text-xs text-soft">
        Sample rate
        <select
          value={sampleRate}
          onChange={(e) => onRate(Number(e.target.value))}
          className="mt-0.5 block h-8 w-full rounded-lg border border-seam bg-white px-1.5 text-sm text-ink"
        >
          {SESSION_RATES.map((rate) => (
            <option key={rate} value={rate}>
              {kilohertz(rate)}
            </option>
          ))}
        </select>
      </label>
    </div>
  )
}
