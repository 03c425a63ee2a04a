import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts'
import { showMeasured, showTime } from '../../core/units/typed'
import type { LoudnessCourse } from './loudest'

/** Below this silence and everything softer is drawn at the foot. */
const LOWEST = -60

export interface LoudnessChartProps {
  course: LoudnessCourse
  /** In LUFS; null for none. */
  target: number | null
  seconds: number
  rate: number
}

/** Loudness over time as a line, with a line at the target; for those who do not see it there is a table beside it. */
export function LoudnessChart({ course, target, seconds, rate }: LoudnessChartProps) {
  const time = (at: number) => showTime(Math.round(at * rate), rate, 0)
  const data = course.map((point) => ({
    seconds: point.seconds,
    lufs: Math.max(LOWEST, point.lufs ?? LOWEST),
  }))
  return (
    <div className="h-56 w-full" aria-hidden>
      <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 800, height: 224 }}>
        <LineChart data={data} margin={{ top: 8, right: 16, bottom: 4, left: 0 }}>
          <CartesianGrid stroke="var(--color-seam)" strokeDasharray="2 4" />
          <XAxis
            dataKey="seconds"
            type="number"
            domain={[0, seconds]}
            tickFormatter={time}
            tick={{ fontSize: 12, fill: 'var(--color-soft)' }}
          />
          <YAxis
            domain={[LOWEST, 0]}
            ticks={[-60, -48, -36, -24, -12, 0]}
            tickFormatter={(value: number) => String(value).replace('-', '−')}
            width={40}
            tick={{ fontSize: 12, fill: 'var(--color-soft)' }}
          />
          {target !== null && (
            <ReferenceLine
              y={target}
              stroke="var(--color-madder)"
              strokeDasharray="6 4"
              label={{
                value: showMeasured(target, 'LUFS'),
                position: 'insideTopRight',
                fontSize: 12,
                fill: 'var(--color-madder)',
              }}
            />
          )}
          <Line
            dataKey="lufs"
            stroke="var(--color-pine)"
            strokeWidth={2}
            dot={false}
            isAnimationActive={false}
            type="linear"
          />
        </LineChart>
      </ResponsiveContainer>
    </div>
  )
}
