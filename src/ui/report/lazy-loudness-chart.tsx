import { lazyPart } from '../parts/opening/lazy-part'
import type { LoudnessChartProps } from './loudness-chart'

/** The chart, with the library that draws it loaded when it is first shown. */
const Chart = lazyPart<LoudnessChartProps>(
  async () => (await import('./loudness-chart')).LoudnessChart,
  ({ retry }) => (
    <p role="alert" className="text-sm">
      The chart could not be loaded.{' '}
      <button type="button" className="underline" onClick={retry}>
        Try again
      </button>
    </p>
  ),
)

export function LazyLoudnessChart(props: LoudnessChartProps) {
  return (
    <div className="h-56 w-full">
      <Chart {...props} />
    </div>
  )
}
