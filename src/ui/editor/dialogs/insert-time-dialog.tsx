import { useState } from 'react'
import { insertTimeRefusal, tempoAt } from '../../../core/edit'
import type { Session } from '../../../core/model/session'
import { LIMITS } from '../../../core/model/session'
import { secondsToBeat } from '../../../core/units/tempo'
import { parseLength, showLength, showTime } from '../../../core/units/typed'
import { insertionFrame, insertTimeHere } from '../../../store/actions/time-actions'
import { useAppDispatch } from '../../parts/hooks'
import { TextQuestion } from '../../parts/fields/text-question'

/** Asks how much time is inserted on all tracks; as much as is marked, or a bar. */
export function InsertTimeDialog({ session, onClose }: { session: Session; onClose(): void }) {
  const dispatch = useAppDispatch()
  const [at] = useState(() => dispatch(insertionFrame()))
  const [range] = useState(() => dispatch((_d, getState) => getState().selection.range))
  const { sampleRate, tempo } = session
  const { bpm, beatsPerBar, beatUnit } = tempoAt(session, secondsToBeat(tempo, at / sampleRate))
  const parse = (text: string) => parseLength(text, { sampleRate, bpm }, { min: 1, max: LIMITS.frames })
  const bar = (beatsPerBar * 4) / beatUnit
  return (
    <TextQuestion
      title="Insert time"
      about={`On all tracks, ${range ? 'where the marked range begins' : 'at the playhead'} (${showTime(at, sampleRate)}): what comes later moves on, with automation, markers and tempo.`}
      label="How much: 4 beats, 1.5 s, 500 ms"
      initial={range ? showLength(range.to - range.from, sampleRate) : `${bar} beats`}
      verb="Insert"
      onClose={onClose}
      check={(text) => {
        const length = parse(text)
        if (!length.ok) return length.message
        return insertTimeRefusal(session, at, length.value) ?? true
      }}
      onText={(text) => {
        const length = parse(text)
        if (length.ok) dispatch(insertTimeHere(length.value))
      }}
    />
  )
}
