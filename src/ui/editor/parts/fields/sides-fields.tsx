import { clamp } from '../../../../core/units/clamp'
import { RotateCcw } from 'lucide-react'
import { SIDE_DB } from '../../../../core/edit'
import type { SidesChange } from '../../../../core/model/session'
import { PLAIN_SIDES } from '../../../../core/model/sides'
import { parseLevel, showDb } from '../../../../core/units/typed'
import { Button } from '../../../parts/button'
import { Tick } from '../../../parts/panel'
import { ValueField } from '../../../parts/fields/value-field'

/** Gain and polarity of left and of right, each by itself. */
export function SidesFields({
  sides,
  onChange,
}: {
  sides: SidesChange
  onChange(change: Partial<SidesChange>): void
}) {
  const { gainDb, polarity } = sides
  const plain = JSON.stringify(sides) === JSON.stringify(PLAIN_SIDES)
  const with_ = <T,>([left, right]: readonly [T, T], side: 0 | 1, value: T): [T, T] =>
    side === 0 ? [value, right] : [left, value]
  return (
    <div className="flex items-end gap-3">
      {([0, 1] as const).map((side) => {
        const name = side === 0 ? 'Left' : 'Right'
        const inverted = polarity[side] === -1
        return (
          <div key={name} className="flex flex-1 flex-col gap-1">
            <ValueField
              label={name}
              shown={showDb(gainDb[side])}
              parse={(text) => parseLevel(text, SIDE_DB)}
              onValue={(db) => onChange({ gainDb: with_(gainDb, side, db ?? 0) })}
              onNudge={(direction, fine) =>
                onChange({
                  gainDb: with_(
                    gainDb,
                    side,
                    clamp(
                      Math.round((gainDb[side] + direction * (fine ? 0.1 : 1)) * 10) / 10,
                      SIDE_DB.min,
                      SIDE_DB.max,
                    ),
                  ),
                })
              }
            />
            <Tick
              checked={inverted}
              onChange={(invert) => onChange({ polarity: with_<1 | -1>(polarity, side, invert ? -1 : 1) })}
            >
              {name} inverted
            </Tick>
          </div>
        )
      })}
      <Button
        aria-label="Reset left and right"
        title="Both at 0 dB, neither inverted"
        className="mb-6"
        disabled={plain}
        onClick={() => onChange(PLAIN_SIDES)}
      >
        <RotateCcw size={15} />
      </Button>
    </div>
  )
}
