import { useEffect, useMemo, useState } from 'react'
import { crossfadeJoins, joinRoom, joinsOf } from '../../../core/edit'
import type { CrossfadeLaw, Session } from '../../../core/model/session'
import { showLength } from '../../../core/units/typed'
import { commit, dropPreview, preview } from '../../../store/edits'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { Choice, Panel, Tick } from '../../parts/panel'
import { LengthField } from '../../parts/fields/length-field'

/** Crossfades at every join of the selected regions, with one length and law. */
export function CrossfadesDialog({ session, onClose }: { session: Session; onClose(): void }) {
  const dispatch = useAppDispatch()
  const selection = useAppSelector((s) => s.selection.regionIds)
  const base = useAppSelector((s) => s.session.base) ?? session
  const joins = useMemo(() => joinsOf(base, selection), [base, selection])
  const [seconds, setSeconds] = useState(0.03)
  const [law, setLaw] = useState<CrossfadeLaw>('equal-power')
  const [shown, setShown] = useState(true)
  const rate = base.sampleRate
  const lengthFrames = Math.round(seconds * rate)
  const rooms = joins.map((j) => joinRoom(base, j)!)
  const short = rooms.filter((r) => r.left + r.right < lengthFrames)
  const none = rooms.filter((r) => r.left + r.right < 1).length
  const args = { joins, lengthFrames, law }
  const wanted = JSON.stringify(args)
  useEffect(() => {
    if (shown) dispatch(preview(crossfadeJoins, JSON.parse(wanted) as typeof args))
    else dispatch(dropPreview())
  }, [dispatch, wanted, shown])
  const close = () => {
    dispatch(dropPreview())
    onClose()
  }
  return (
    <Panel
      title="Crossfades"
      about={
        joins.length === 0
          ? 'Select two or more regions that touch or overlap on a track.'
          : `At ${joins.length === 1 ? 'the join' : `all ${joins.length} joins`} of the ` +
            'selected regions, with the sound hidden beyond the cuts.'
      }
      onClose={close}
      footer={
        <>
          <Tick checked={shown} onChange={setShown}>
            Preview
          </Tick>
          <span className="flex-1" />
          <Button onClick={close}>Cancel</Button>
          <Button
            kind="solid"
            disabled={joins.length === none}
            onClick={() => {
              dispatch(commit(crossfadeJoins, args))
              onClose()
            }}
          >
            {joins.length - none === 1 ? 'Make 1 crossfade' : `Make ${joins.length - none} crossfades`}
          </Button>
        </>
      }
    >
      <div className="flex flex-col gap-3">
        <LengthField
          session={base}
          name="crossfades-length"
          className="w-36"
          label="Length"
          frames={lengthFrames}
          min={1}
          max={60 * rate}
          onFrames={(f) => setSeconds(f / rate)}
          onNudge={(d, fine) => setSeconds((s) => Math.max(0.001, s + d * (fine ? 0.001 : 0.01)))}
        />
        <Choice
          label="Law"
          value={law}
          onChange={setLaw}
          options={[
            { value: 'equal-gain', text: 'Equal gain' },
            { value: 'equal-power', text: 'Equal power' },
            { value: 'level', text: 'Level' },
            { value: 'free', text: 'Free' },
          ]}
        />
        {short.length > 0 && (
          <p role="alert" className="text-sm text-soft">
            {short.length === 1 ? '1 join has' : `${short.length} joins have`} less hidden sound than that:{' '}
            {short
              .slice(0, 3)
              .map((r) => `${showLength(r.left, rate)} left and ${showLength(r.right, rate)} right`)
              .join('; ')}
            {short.length > 3 ? '; …' : ''}. There the longest possible is made
            {none ? `, and at ${none} none, since there is no sound at all` : ''}.
          </p>
        )}
      </div>
    </Panel>
  )
}
