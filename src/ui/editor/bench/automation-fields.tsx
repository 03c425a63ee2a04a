import { ClipboardPaste, Copy, Eraser, Scissors } from 'lucide-react'
import { useState } from 'react'
import type { Session } from '../../../core/model/session'
import type { Scale } from '../../../core/units/scale'
import { parseCount, parseShift } from '../../../core/units/typed'
import {
  clearRange,
  copyAutomation,
  cutAutomation,
  hasCopiedAutomation,
  putAutomation,
  repeatAutomation,
  shiftLevelInRange,
  shiftRangeBy,
} from '../../../store/actions/automation-actions'
import { travelsSet } from '../../../store/view'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { useKeyWords } from '../../parts/commands/use-key-words'
import { Tick } from '../../parts/panel'
import { ValueField } from '../../parts/fields/value-field'

/** What can be done to a range of the lane in the bench, and whether automation goes with the regions. */
export function AutomationFields({ session, scale }: { session: Session; scale: Scale }) {
  const dispatch = useAppDispatch()
  const keys = useKeyWords()
  const range = useAppSelector((s) => s.selection.range)
  const travels = useAppSelector((s) => s.preferences.travels)
  const [copied, setCopied] = useState(hasCopiedAutomation)
  const context = { sampleRate: session.sampleRate, bpm: session.tempo[0]!.bpm }
  const keep = (action: () => void) => () => {
    action()
    setCopied(hasCopiedAutomation())
  }
  return (
    <div
      className="flex flex-col gap-2 border-t border-seam pt-2"
      role="group"
      aria-label="Range of automation"
    >
      <p className="text-xs text-soft">
        {range
          ? 'In the marked range'
          : 'Mark a range (R) to change, move, copy or repeat what the lane does there.'}
      </p>
      <div className="flex gap-1.5">
        <Button
          className="flex-1 !px-0"
          disabled={!range}
          aria-label="Cut the range"
          title={`Cut the range of the lane${keys.inBrackets('cut')}`}
          onClick={keep(() => dispatch(cutAutomation()))}
        >
          <Scissors size={14} />
        </Button>
        <Button
          className="flex-1 !px-0"
          disabled={!range}
          aria-label="Copy the range"
          title={`Copy the range of the lane${keys.inBrackets('copy')}`}
          onClick={keep(() => dispatch(copyAutomation()))}
        >
          <Copy size={14} />
        </Button>
        <Button
          className="flex-1 !px-0"
          disabled={!copied}
          aria-label="Paste at the playhead"
          title={`Paste at the playhead, also into another lane of the same kind${keys.inBrackets('paste')}`}
          onClick={() => dispatch(putAutomation())}
        >
          <ClipboardPaste size={14} />
        </Button>
        <Button
          className="flex-1 !px-0"
          disabled={!range}
          aria-label="Clear the range"
          title="Clear the range: a straight line is left (Delete)"
          onClick={() => dispatch(clearRange())}
        >
          <Eraser size={14} />
        </Button>
      </div>
      {range && (
        <div className="flex gap-2">
          <ValueField
            name="automation-level"
            className="flex-1"
            label="Change level by"
            shown=""
            placeholder={`e.g. ${scale.changeExample}`}
            parse={scale.parseChange}
            onValue={(by) => dispatch(shiftLevelInRange(by))}
          />
          <ValueField
            name="automation-shift"
            className="flex-1"
            label="Move in time by"
            shown=""
            placeholder="e.g. 250 ms"
            title="A length such as 250 ms, −1 beat or 1/16; a bare number is in milliseconds"
            parse={(t) => parseShift(t, context, { back: range.from, on: 24 * 3600 * session.sampleRate })}
            onValue={(frames) => dispatch(shiftRangeBy(frames))}
          />
        </div>
      )}
      {range && (
        <div className="flex gap-2">
          <ValueField
            name="automation-repeat"
            className="flex-1"
            label="Repeat after it"
            shown=""
            placeholder="e.g. 3 times"
            parse={parseCount}
            onValue={(times) => dispatch(repeatAutomation(times))}
          />
        </div>
      )}
      <Tick checked={travels} onChange={(on) => void dispatch(travelsSet(on))}>
        Automation travels with regions
      </Tick>
    </div>
  )
}
