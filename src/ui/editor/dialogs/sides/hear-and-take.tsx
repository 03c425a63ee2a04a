import { useEffect, useState } from 'react'
import type { Session } from '../../../../core/model/session'
import { dropPreview } from '../../../../store/edits'
import { getPlayer, togglePlay } from '../../../../store/playback/playback'
import type { Thunk } from '../../../../store/store'
import { Button } from '../../../parts/button'
import { useAppDispatch, useAppSelector } from '../../../parts/hooks'

/** A cure: heard in place of what is, as long as the switch is down, and taken as one step. */
export function HearAndTake({
  session,
  at,
  take,
  cure,
}: {
  session: Session
  /** From where it is heard. */
  at: number
  take: string
  cure: { preview: Thunk; commit: Thunk<boolean> }
}) {
  const dispatch = useAppDispatch()
  const playing = useAppSelector((s) => s.transport.playing)
  const [heard, setHeard] = useState(false)
  // What is only heard ends with the panel.
  useEffect(() => () => void dispatch(dropPreview()), [dispatch])
  const hear = (on: boolean) => {
    setHeard(on)
    dispatch(on ? cure.preview : dropPreview())
    if (playing) return
    getPlayer()?.seek(Math.max(0, at - session.sampleRate))
    dispatch(togglePlay())
  }
  return (
    <div className="flex flex-wrap gap-2">
      <Button
        aria-pressed={heard}
        title="Hear it cured; press again to hear it as it is"
        onClick={() => hear(!heard)}
      >
        {heard ? 'Heard cured' : 'Hear it cured'}
      </Button>
      <Button
        kind="solid"
        onClick={() => {
          setHeard(false)
          void dispatch(cure.commit)
        }}
      >
        {take}
      </Button>
    </div>
  )
}
