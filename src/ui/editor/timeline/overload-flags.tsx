import { clamp } from '../../../core/units/clamp'
import { rowIds, rowOf } from '../../../core/model/strips'
import { memo } from 'react'
import { Popover } from 'radix-ui'
import { regionEnd } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import { gainToDb } from '../../../core/units/decibel'
import { showTime } from '../../../core/units/typed'
import type { Overload } from '../../../engine/background'
import { getPlayer } from '../../../store/playback/playback'
import { MIX_FLAGS_HEIGHT, type View } from '../../../store/view'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppFields, useAppSelector } from '../../parts/hooks'
import { lowerOverloads, tooLoud, useOverloads } from '../parts/watch/overload-watch'
import { frameToX, regionAt, ROW_PAD, rowTop, visibleRows } from '../drawing/geometry'
import { mergedOverloads, type MergedOverload } from '../drawing/merged-overloads'
import { unlessInDialog } from '../../parts/focus-return'

/** The width of a flag, in pixels: those that are closer are one. */
const FLAG_WIDTH = 84

/** Room for the handles at a region's upper corners, in pixels. */
const HANDLE_ROOM = 18

/** Flags where a track would pass full scale; pressing one goes there and offers to lower the stretch. */
export const OverloadFlags = memo(function OverloadFlags({
  session,
  rows,
}: {
  session: Session
  rows: readonly (readonly Region[])[]
}) {
  const overloads = useOverloads()
  const view = useAppSelector((s) => s.navigation.view)
  const { first, last } = visibleRows(view, rows.length)
  return rowIds(session)
    .slice(first, last)
    .flatMap((trackId, i) => {
      const own = overloads.filter((o) => o.trackId === trackId)
      const top = rowTop(view, first + i) + ROW_PAD + 1
      return seenOverloads(own, view).map((o) => (
        <Flag
          key={`${trackId} ${o.from}`}
          overload={o}
          all={own}
          session={session}
          left={besideHandles(view, rows[first + i]!, o.from)}
          top={top}
        />
      ))
    })
})

/** The overloads that may be seen, merged where their flags would lie on each other. */
const seenOverloads = (overloads: readonly Overload[], view: View): MergedOverload[] =>
  mergedOverloads(overloads, FLAG_WIDTH * view.framesPerPixel)
    .filter((o) => frameToX(view, o.to) > 0 && frameToX(view, o.from) < view.width)
    .slice(0, 200)

/** Where a flag begins: at its overload, but beside the handles of the region there. */
function besideHandles(view: View, regions: readonly Region[], frame: number): number {
  const x = Math.max(2, frameToX(view, frame))
  const region = regionAt(regions, frame)
  if (!region) return x
  const [start, end] = [frameToX(view, region.start), frameToX(view, regionEnd(region))]
  return clamp(x, start + HANDLE_ROOM, end - HANDLE_ROOM - FLAG_WIDTH)
}

/** The row of the mix's flags, above its lanes; there while there are any. */
export const MixFlags = memo(function MixFlags({ session }: { session: Session }) {
  const overloads = useOverloads()
  const { view, flagged } = useAppFields(({ navigation: { view, mixFlagged } }) => ({
    view,
    flagged: mixFlagged,
  }))
  if (!flagged) return null
  const own = overloads.filter((o) => o.trackId === null)
  return (
    <div
      role="group"
      aria-label="Overloads of the mix"
      className="relative shrink-0 overflow-clip border-t border-seam bg-cloth"
      style={{ height: MIX_FLAGS_HEIGHT }}
    >
      {seenOverloads(own, view).map((o) => (
        <Flag
          key={o.from}
          overload={o}
          all={own}
          session={session}
          left={Math.max(2, frameToX(view, o.from))}
          top={2}
        />
      ))}
    </div>
  )
})

function Flag({
  overload: o,
  all,
  session,
  left,
  top,
}: {
  overload: MergedOverload
  /** All of the same track, or of the mix. */
  all: readonly Overload[]
  session: Session
  left: number
  top: number
}) {
  const dispatch = useAppDispatch()
  const name = o.trackId === null ? 'The mix' : (rowOf(session, o.trackId)?.name ?? '')
  const over = `+${gainToDb(o.peak).toFixed(1)} dBFS`
  const places = o.count > 1 ? ` in ${o.count} places` : ''
  return (
    <Popover.Root>
      <Popover.Trigger
        onClick={() => getPlayer()?.seek(o.from)}
        onPointerDown={(e) => e.stopPropagation()}
        aria-label={`${name} overloads at ${showTime(o.from, session.sampleRate)}, ${over}`}
        title={`${name}: ${over}${places}`}
        className="absolute z-[3] inline-flex h-4 items-center gap-1 rounded bg-white/85 px-1 text-2xs font-semibold whitespace-nowrap text-fault hover:bg-white"
        style={{ left, top }}
      >
        ▲ {over}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          onCloseAutoFocus={unlessInDialog}
          sideOffset={4}
          collisionPadding={8}
          // A press here is none on what lies below.
          onPointerDown={(e) => e.stopPropagation()}
          className="z-50 w-64 rounded-xl border border-seam bg-white p-3 text-sm shadow-lg"
        >
          <p>
            {name} would pass full scale here{places}, from {showTime(o.from, session.sampleRate)} to{' '}
            {showTime(o.to, session.sampleRate)}.
          </p>
          <Popover.Close asChild>
            <Button
              className="mt-2 w-full"
              onClick={() => dispatch(lowerOverloads(all.filter((x) => x.from >= o.from && x.to <= o.to)))}
            >
              Lower {o.count > 1 ? `these ${o.count}` : 'this stretch'} by {tooLoud(o).toFixed(1)} dB
            </Button>
          </Popover.Close>
          {all.length > o.count && (
            <Popover.Close asChild>
              <Button className="mt-2 w-full" onClick={() => dispatch(lowerOverloads(all))}>
                Lower all {all.length}
              </Button>
            </Popover.Close>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
