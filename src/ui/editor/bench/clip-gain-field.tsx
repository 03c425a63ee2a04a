import { RotateCcw } from 'lucide-react'
import { changeClipGain, resetClipGain, setClipGain } from '../../../core/edit'
import type { Region } from '../../../core/model/session'
import { CLIP_GAIN_DB } from '../../../core/units/decibel'
import { parseLevel, showDb } from '../../../core/units/typed'
import { commit } from '../../../store/edits'
import { splitHere } from '../../../store/actions/region-actions'
import { rangeInRegion, shiftRange } from '../../../store/actions/thread-actions'
import { dialogShown } from '../../../store/view'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { useKeyWords } from '../../parts/commands/use-key-words'
import { ValueField } from '../../parts/fields/value-field'
import { useReachWords } from '../parts/fields/use-reach'

/** Clip gain of one or several regions: a value is given to all, a change keeps their differences. */
export function ClipGainField({ regions }: { regions: readonly Region[] }) {
  const dispatch = useAppDispatch()
  const keys = useKeyWords()
  const regionIds = regions.map((r) => r.id)
  const first = regions[0]!
  const several = regions.length > 1
  const reach = useReachWords(regionIds)
  const differ = regions.some((r) => r.clipGainDb !== first.clipGainDb)
  const changeAll = (byDb: number): string | null => {
    const { min, max } = CLIP_GAIN_DB
    const beyond = regions.find((r) => r.clipGainDb + byDb < min || r.clipGainDb + byDb > max)
    if (beyond)
      return `“${beyond.name}” would come to ${showDb(beyond.clipGainDb + byDb)}; clip gain is from ${showDb(min)} to ${showDb(max)}. Nothing was changed.`
    dispatch(commit(changeClipGain, { regionIds, byDb }))
    return null
  }
  const range = useAppSelector((s) => s.selection.range)
  const inRange = regions.filter((r) => rangeInRegion(r, range))
  return (
    <div>
      <div className="flex items-end gap-2">
        <ValueField
          name="clip-gain"
          className="flex-1"
          label={several ? `Clip gain of ${regions.length} regions` : 'Clip gain'}
          shown={differ ? '' : showDb(first.clipGainDb)}
          placeholder={differ ? 'different' : undefined}
          parse={(text) => parseLevel(text, CLIP_GAIN_DB)}
          onValue={(db) => void dispatch(commit(setClipGain, { regionIds, db: db! }))}
          change={{
            from: first.clipGainDb,
            show: showDb,
            all: several ? { words: reach, by: changeAll } : undefined,
          }}
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
      {inRange.length > 0 && (
        <div className="mt-2 flex items-end gap-2">
          <ValueField
            name="range-gain"
            className="flex-1"
            label="Change gain in the range by"
            shown=""
            placeholder="e.g. −3 dB"
            parse={(text) => parseLevel(text, { min: -60, max: 40 })}
            onValue={(db) => dispatch(shiftRange(inRange, db!))}
          />
          <Button
            title={`Split at the ends of the range instead, and level the piece${keys.inBrackets('split')}`}
            onClick={() => dispatch(splitHere())}
          >
            Split
          </Button>
        </div>
      )}
      <div className="mt-2 flex gap-2">
        <Button
          className="flex-1"
          title={`Match the level of what is selected${keys.inBrackets('match')}`}
          onClick={() => void dispatch(dialogShown('match'))}
        >
          Match…
        </Button>
        <Button
          className="flex-1"
          title={`Even out the phrases inside${keys.inBrackets('even-out')}`}
          onClick={() => void dispatch(dialogShown('even-out'))}
        >
          Even out…
        </Button>
      </div>
    </div>
  )
}
