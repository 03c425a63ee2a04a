import { RotateCcw } from 'lucide-react'
import { useState } from 'react'
import { changeClipGain, resetClipGain, setClipGain } from '../../../core/edit'
import type { Region } from '../../../core/model/session'
import { CLIP_GAIN_DB } from '../../../core/units/decibel'
import { parseLevel, parseLevelOrChange, showDb } from '../../../core/units/typed'
import { commit } from '../../../store/edits'
import { splitHere } from '../../../store/region-actions'
import { rangeInRegion, shiftRange } from '../../../store/thread-actions'
import { dialogShown } from '../../../store/view-slice'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { ValueField } from '../../parts/value-field'

/**
 * Clip gain of one or several regions. Several keep their differences, unless a typed value is to apply to
 * all.
 */
export function ClipGainField({ regions }: { regions: readonly Region[] }) {
  const dispatch = useAppDispatch()
  const [same, setSame] = useState(false)
  const regionIds = regions.map((r) => r.id)
  const first = regions[0]!
  const several = regions.length > 1
  const differ = regions.some((r) => r.clipGainDb !== first.clipGainDb)
  const range = useAppSelector((s) => s.view.range)
  const inRange = regions.filter((r) => rangeInRegion(r, range))
  const take = (db: number | null, relative = false) =>
    void (relative
      ? dispatch(commit(changeClipGain, { regionIds, byDb: db! }))
      : same || !several
        ? dispatch(commit(setClipGain, { regionIds, db: db! }))
        : dispatch(commit(changeClipGain, { regionIds, byDb: db! - first.clipGainDb })))
  return (
    <div>
      <div className="flex items-end gap-2">
        <ValueField
          name="clip-gain"
          className="flex-1"
          label={several ? `Clip gain of “${first.name}”` : 'Clip gain'}
          shown={showDb(first.clipGainDb)}
          parse={(text) => parseLevelOrChange(text, CLIP_GAIN_DB, several)}
          onValue={take}
          onNudge={(direction, fine) =>
            void dispatch(commit(changeClipGain, { regionIds, byDb: direction * (fine ? 0.1 : 1) }))
          }
        />
        <Button
          aria-label={`Reset clip gain of ${regions.length === 1 ? first.name : `${regions.length} regions`} to 0 dB`}
          title="Back to 0 dB"
          disabled={regions.every((r) => r.clipGainDb === 0)}
          onClick={() => void dispatch(commit(resetClipGain, { regionIds }))}
        >
          <RotateCcw size={15} />0 dB
        </Button>
      </div>
      {several && (
        <label
          title="Tick to give all regions the typed value"
          className="mt-1 flex items-center gap-2 text-xs text-soft"
        >
          <input
            type="checkbox"
            checked={same}
            onChange={(e) => setSame(e.target.checked)}
            className="accent-oak"
          />
          {same
            ? 'Typed value for all'
            : differ
              ? 'Others keep their distance; +2 adds to all'
              : 'All move together; +2 adds to all'}
        </label>
      )}
      {inRange.length > 0 && (
        <div className="mt-2 flex items-end gap-2">
          <ValueField
            name="range-gain"
            className="flex-1"
            label="Gain in the range only"
            shown=""
            placeholder="−3 dB"
            parse={(text) => parseLevel(text, { min: -60, max: 40 })}
            onValue={(db) => dispatch(shiftRange(inRange, db!))}
          />
          <Button
            title="Split at the ends of the range instead, and level the piece (K)"
            onClick={() => dispatch(splitHere())}
          >
            Split
          </Button>
        </div>
      )}
      <div className="mt-2 flex gap-2">
        <Button
          className="flex-1"
          title="Match the level of what is selected (E)"
          onClick={() => void dispatch(dialogShown('match'))}
        >
          Match…
        </Button>
        <Button
          className="flex-1"
          title="Even out the phrases inside (Shift E)"
          onClick={() => void dispatch(dialogShown('even-out'))}
        >
          Even out…
        </Button>
      </div>
    </div>
  )
}
