import { clamp } from '../../../../core/units/clamp'
import { useState } from 'react'
import { SIDE_DB } from '../../../../core/edit'
import {
  balanceKinds,
  balanceOf,
  type BalanceKind,
  type RegionMeasure,
} from '../../../../core/measure/region-meter'
import type { Session, SidesChange } from '../../../../core/model/session'
import { showTime } from '../../../../core/units/typed'
import type { Thunk } from '../../../../store/store'
import { Button } from '../../../parts/button'
import { useAppDispatch } from '../../../parts/hooks'
import { Choice } from '../../../parts/panel'
import { SidesFields } from '../../parts/fields/sides-fields'
import { HearAndTake } from './hear-and-take'

const KIND_WORDS: Record<BalanceKind, string> = { loudness: 'Loudness', rms: 'RMS', peak: 'Peak' }

/** What has sides: a stereo region or some, or a stereo track. */
export interface Sided {
  sides: SidesChange
  /** What it measures with them; undefined for several, null while it is measured, or that it could not be. */
  measure: RegionMeasure | 'failed' | null | undefined
  /** The session frame at which what was measured begins. */
  start: number
  preview(change: Partial<SidesChange>): Thunk
  commit(change: Partial<SidesChange>): Thunk<boolean>
}

/** Left against right: their balance, fields, and where they cancel. */
export function Balance({ session, of }: { session: Session; of: Sided }) {
  const dispatch = useAppDispatch()
  const [kind, setKind] = useState<BalanceKind>('loudness')
  const { sides } = of
  const failed = of.measure === 'failed'
  const measure = of.measure === 'failed' ? null : of.measure
  const balance = measure ? balanceOf(measure, kind) : null
  const evened = (by: number): Partial<SidesChange> => {
    const [left, right] = sides.gainDb
    const within = (db: number) => Math.round(clamp(db, SIDE_DB.min, SIDE_DB.max) * 100) / 100
    return { gainDb: [within(left - by / 2), within(right + by / 2)] }
  }
  return (
    <div className="flex flex-col gap-3">
      {measure !== undefined && (
        <div className="flex flex-col gap-2">
          <Choice
            label="Held against each other by"
            value={kind}
            onChange={setKind}
            options={balanceKinds.map((value) => ({ value, text: KIND_WORDS[value] }))}
          />
          <div className="flex items-center gap-3">
            <p role="status" className="flex-1 text-sm">
              {failed
                ? 'It could not be measured: a sound is missing, or cannot be read. Open the session again and look at its notices.'
                : !measure
                  ? 'Measuring …'
                  : balance === null
                    ? 'One side is silent, or it is too short for this measure.'
                    : Math.abs(balance) < 0.05
                      ? 'Left and right are even.'
                      : `${balance > 0 ? 'Left' : 'Right'} is ${Math.abs(balance).toFixed(1)} dB above ${balance > 0 ? 'right' : 'left'}.`}
            </p>
            <Button
              disabled={balance === null || Math.abs(balance) < 0.05}
              title="Half of it to each side, so that the whole stays about as loud"
              onClick={() => void dispatch(of.commit(evened(balance!)))}
            >
              Even out
            </Button>
          </div>
        </div>
      )}
      <SidesFields sides={sides} onChange={(change) => void dispatch(of.commit(change))} />
      {measure && measure.against.length > 0 && (
        <Cancelling session={session} of={of} against={measure.against} />
      )}
      {measure?.against.length === 0 && (
        <p className="text-sm text-soft">Left and right cancel nowhere in it.</p>
      )}
    </div>
  )
}

/** Stretches in which the sides cancel, and the cure, which can be heard before it is taken. */
function Cancelling({
  session,
  of,
  against,
}: {
  session: Session
  of: Sided
  against: RegionMeasure['against']
}) {
  const { polarity } = of.sides
  const change = { polarity: [polarity[0], polarity[1] === 1 ? -1 : 1] as [1 | -1, 1 | -1] }
  const time = (frame: number) => showTime(of.start + frame, session.sampleRate, 1)
  const first = against[0]!
  return (
    <section aria-label="Left and right cancel" className="rounded-xl border border-fault/60 bg-white p-3">
      <p className="text-sm font-semibold">
        Left and right cancel each other
        {against.length === 1
          ? ` from ${time(first.from)} to ${time(first.to)}`
          : ` in ${against.length} stretches, first at ${time(first.from)}`}
        : correlation {first.correlation.toFixed(2).replace('-', '−')}.
      </p>
      <p className="mb-2 text-sm text-soft">In mono that sound is gone. Inverting one side brings it back.</p>
      <HearAndTake
        session={session}
        at={of.start + first.from}
        take="Invert the right side"
        cure={{ preview: of.preview(change), commit: of.commit(change) }}
      />
    </section>
  )
}
