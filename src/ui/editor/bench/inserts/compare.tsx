import { useState } from 'react'
import { compareAt } from '../../../../store/playback/listening'
import type { Compare, Compared, InsertRef } from '../../../../store/view'
import { useAppDispatch, useAppSelector } from '../../../parts/hooks'

const POSITIONS: readonly { position: Compare['position']; text: string; title: string }[] = [
  { position: 'original', text: 'Without', title: 'Original: as it would be without it' },
  { position: 'processed', text: 'With', title: 'Processed: as it is' },
  {
    position: 'matched',
    text: '= loud',
    title: 'Processed at the loudness of the original, measured over the range or the session',
  },
]

/** Hears the sound without an insert, its chain, or all inserts; as it is; and as it is at the loudness of the first. */
export function CompareSwitch({ subject }: { subject: InsertRef }) {
  const dispatch = useAppDispatch()
  const compare = useAppSelector((s) => s.listening.compare)
  const [wished, setWished] = useState<Compared>('insert')
  const active = compare?.ref.insertId === subject.insertId && compare.ref.stripId === subject.stripId
  const what = active ? compare.what : wished
  const position = active ? compare.position : 'processed'
  const offset = active ? compare.offsetDb : null
  const hear = (to: Compare['position'], of = what) => void dispatch(compareAt(of, subject, to))
  return (
    <div role="group" aria-label="Compare" className="flex flex-col gap-1">
      <label className="flex items-center gap-1.5 text-xs text-soft">
        Compare
        <select
          value={what}
          onChange={(e) => {
            const of = e.target.value as Compared
            setWished(of)
            if (active) hear(position, of)
          }}
          className="h-6 min-w-0 flex-1 rounded-md border border-seam bg-linen px-1 text-xs text-ink"
        >
          <option value="insert">this insert</option>
          <option value="chain">its chain</option>
          <option value="everything">all inserts</option>
        </select>
      </label>
      <div className="grid grid-cols-3 overflow-hidden rounded-lg border border-seam text-xs">
        {POSITIONS.map(({ position: to, text, title }) => (
          <button
            key={to}
            type="button"
            aria-pressed={position === to}
            title={`${title} (Shift+U goes round)`}
            onClick={() => hear(to)}
            className="border-l border-seam px-1 py-1 first:border-l-0 hover:bg-white aria-pressed:bg-oak aria-pressed:text-white"
          >
            {text}
          </button>
        ))}
      </div>
      <p className="min-h-4 text-2xs text-soft" role="status">
        {offset !== null
          ? `= loud: ${offset > 0 ? '+' : '−'}${Math.abs(offset).toFixed(1)} dB`
          : position === 'matched'
            ? 'measuring…'
            : ''}
      </p>
    </div>
  )
}
