import { useVirtualizer } from '@tanstack/react-virtual'
import { memo, useMemo, useRef } from 'react'
import { levelOf, showLevel, type LevelKind, type RegionMeasure } from '../../../core/measure/region-meter'
import type { Region, Session } from '../../../core/model/session'
import { showDb, showLength, showTime } from '../../../core/units/typed'
import { useMeasured } from '../parts/watch/use-measured'

const LINE = 28
const COLUMNS =
  'grid grid-cols-[minmax(6rem,1fr)_minmax(5rem,9rem)_5rem_5.5rem_5rem_6rem_7rem] items-center gap-x-3'

/** The selected regions, one line each. Only visible lines are rendered and measured. */
export function RegionList({ session, regions }: { session: Session; regions: readonly Region[] }) {
  const box = useRef<HTMLDivElement>(null)
  const lines = useVirtualizer({
    count: regions.length,
    getScrollElement: () => box.current,
    estimateSize: () => LINE,
    overscan: 4,
  })
  const shown = lines.getVirtualItems()
  const seen = useMemo(() => shown.flatMap((line) => regions[line.index] ?? []), [shown, regions])
  const measures = useMeasured(session, seen)
  return (
    <div
      ref={box}
      className="absolute inset-0 overflow-auto px-4 py-2"
      role="table"
      aria-label="Selected regions"
      aria-rowcount={regions.length}
      tabIndex={0}
    >
      <div role="row" className={`${COLUMNS} text-xs text-soft`}>
        {['Region', 'Track', 'At', 'Length', 'Clip gain', 'Peak', 'Loudness'].map((h, i) => (
          <span key={h} role="columnheader" className={`py-1 ${i > 1 ? 'text-right' : ''}`}>
            {h}
          </span>
        ))}
      </div>
      <div className="relative" style={{ height: lines.getTotalSize() }}>
        {shown.map((line, i) => {
          const region = regions[line.index]
          return (
            region && (
              <div key={region.id} className="absolute inset-x-0" style={{ top: line.start, height: LINE }}>
                <RegionLine
                  region={region}
                  trackName={session.tracks[region.trackId]!.name}
                  rate={session.sampleRate}
                  measure={measures[i] ?? null}
                />
              </div>
            )
          )
        })}
      </div>
    </div>
  )
}

const RegionLine = memo(function RegionLine({
  region: r,
  trackName,
  rate,
  measure,
}: {
  region: Region
  trackName: string
  rate: number
  measure: RegionMeasure | null
}) {
  const level = (kind: LevelKind) => {
    const db = measure && levelOf(measure, kind, r.clipGainDb)
    return db === null ? '…' : Number.isFinite(db) ? showLevel(db, kind) : '—'
  }
  return (
    <div role="row" className={`${COLUMNS} h-full border-t border-fold text-sm`}>
      <span role="cell" className="truncate font-medium">
        {r.name}
      </span>
      <span role="cell" className="truncate text-soft">
        {trackName}
      </span>
      {[
        showTime(r.start, rate),
        showLength(r.length, rate),
        showDb(r.clipGainDb),
        level('peak'),
        level('loudness'),
      ].map((text, n) => (
        <span key={n} role="cell" className="text-right font-mono text-xs whitespace-nowrap">
          {text}
        </span>
      ))}
    </div>
  )
})
