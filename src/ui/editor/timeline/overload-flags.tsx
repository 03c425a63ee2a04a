import { memo } from 'react'
import { Popover } from 'radix-ui'
import type { Session } from '../../../core/model/session'
import { gainToDb } from '../../../core/units/decibel'
import { showTime } from '../../../core/units/typed'
import type { Overload } from '../../../engine/overloads'
import { getPlayer } from '../../../store/playback'
import type { View } from '../../../store/view-slice'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { lowerOverload, tooLoud, useOverloads } from '../parts/overload-watch'
import { frameToX, ROW_PAD, rowTop } from '../drawing/geometry'

/** Flags where a track or the mix would pass full scale; pressing one goes there and offers to lower the stretch. */
export const OverloadFlags = memo(function OverloadFlags({ session }: { session: Session }) {
  const overloads = useOverloads()
  const view = useAppSelector((s) => s.view.view)
  const seen = overloads
    .filter((o) => frameToX(view, o.to) > 0 && frameToX(view, o.from) < view.width)
    .slice(0, 200)
  return (
    <>
      {seen.map((o) => (
        <Flag key={`${o.trackId} ${o.from}`} overload={o} session={session} view={view} />
      ))}
    </>
  )
})

function Flag({ overload: o, session, view }: { overload: Overload; session: Session; view: View }) {
  const dispatch = useAppDispatch()
  const row = o.trackId === null ? -1 : session.trackIds.indexOf(o.trackId)
  const top = o.trackId === null ? 2 : rowTop(view, row) + ROW_PAD + 1
  if ((o.trackId !== null && row < 0) || top < -20 || top > view.height) return null
  const name = o.trackId === null ? 'The mix' : session.tracks[o.trackId]!.name
  const over = `+${gainToDb(o.peak).toFixed(1)} dBFS`
  return (
    <Popover.Root>
      <Popover.Trigger
        onClick={() => getPlayer()?.seek(o.from)}
        onPointerDown={(e) => e.stopPropagation()}
        aria-label={`${name} overloads at ${showTime(o.from, session.sampleRate)}, ${over}`}
        title={`${name}: ${over}`}
        className="absolute z-[3] inline-flex h-4 items-center gap-1 rounded bg-white/85 px-1 text-2xs font-semibold text-madder hover:bg-white"
        style={{ left: Math.max(2, frameToX(view, o.from)), top }}
      >
        ▲ {over}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          // A press here is none on what lies below.
          onPointerDown={(e) => e.stopPropagation()}
          className="z-50 w-64 rounded-xl border border-seam bg-white p-3 text-sm shadow-lg"
        >
          <p>
            {name} would pass full scale here, from {showTime(o.from, session.sampleRate)} to{' '}
            {showTime(o.to, session.sampleRate)}.
          </p>
          <Popover.Close asChild>
            <Button className="mt-2 w-full" onClick={() => dispatch(lowerOverload(o))}>
              Lower this stretch by {tooLoud(o).toFixed(1)} dB
            </Button>
          </Popover.Close>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
