import { useEffect, useRef } from 'react'
import { contiguous, crossfadeJoins, crossfadeOf } from '../../../core/edit'
import { regionsOf } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { showDb } from '../../../core/units/typed'
import { commit } from '../../../store/edits'
import { useAppDispatch, useAppFields } from '../../parts/hooks'
import { toast } from '../../parts/messages/toast'

/** Offers a crossfade after the gain of one half of a split was changed, since the join then steps. */
export function JoinOffer({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const { base, steps, done } = useAppFields(({ session: { base, steps, done } }) => ({ base, steps, done }))
  const before = useRef(session)
  const label = steps[done - 1]?.label ?? ''
  useEffect(() => {
    if (base) return
    const old = before.current
    before.current = session
    if (old.regions === session.regions || !label.startsWith('Clip gain')) return
    const changed = Object.values(session.regions).filter(
      (r) => old.regions[r.id] && old.regions[r.id]!.clipGainDb !== r.clipGainDb,
    )
    if (changed.length === 0 || changed.length > 50) return
    const joins = changed
      .flatMap((r) => {
        const row = regionsOf(session, r.trackId)
        const at = row.findIndex((x) => x.id === r.id)
        return [
          [row[at - 1], r],
          [r, row[at + 1]],
        ] as const
      })
      .flatMap(([left, right]) =>
        left &&
        right &&
        left.clipGainDb !== right.clipGainDb &&
        contiguous(left, { ...right, clipGainDb: left.clipGainDb }) &&
        !crossfadeOf(session, { leftId: left.id, rightId: right.id })
          ? [{ left, right }]
          : [],
      )
    if (joins.length === 0) return
    const step = showDb(
      Math.round(Math.abs(joins[0]!.left.clipGainDb - joins[0]!.right.clipGainDb) * 10) / 10,
    ).replace('+', '')
    toast({
      text:
        joins.length === 1
          ? `The join of “${joins[0]!.left.name}” now steps by ${step}.`
          : `${joins.length} joins now step in level.`,
      action: {
        label: 'Crossfade 10 ms',
        run: () =>
          void dispatch(
            commit(crossfadeJoins, {
              joins: joins.map((j) => ({ leftId: j.left.id, rightId: j.right.id })),
              lengthFrames: Math.round(session.sampleRate * 0.01),
              law: 'equal-gain',
            }),
          ),
      },
    })
  }, [session, base, label, dispatch])
  return null
}
