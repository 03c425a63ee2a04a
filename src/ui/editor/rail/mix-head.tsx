import { mixRoom } from '../../../store/selectors'
import { FADER, findCommonParameter } from '../../../core/model/parameters'
import { Spline } from 'lucide-react'
import { memo, useMemo, type ReactNode } from 'react'
import { isAutomated, laneKeysOf, lanesWithKnots, setParameter } from '../../../core/edit'
import type { Session } from '../../../core/model/session'
import { beadOf } from '../../../store/beads'
import { commit, preview } from '../../../store/edits'
import { beadPicked, lanesToggled, MIX_HEIGHT, mixHeightSet } from '../../../store/view'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { HeightHandle } from '../../parts/height-handle'
import { sameParts } from '../../parts/rendering/same-parts'
import { Fader } from './fader'
import { HeadField } from './head-fields'
import { LaneHeads, lanesSwitch } from './lane-heads'
import { MixFlagsHead } from './mix-flags-head'
import { lanesBelow } from '../drawing/open-lanes'

/** The lanes of the mix besides that of its fader, which is always seen. */
const otherLanes = (session: Session) =>
  laneKeysOf(session, null).filter((lane) => lane !== FADER && findCommonParameter(lane) !== undefined)

/** The lanes opened below the mix's volume, which is always seen. */
function useMixLanes(session: Session) {
  const openLanes = useAppSelector((s) => s.navigation.openLanes)
  return useMemo(() => lanesBelow(session, null, openLanes), [session, openLanes])
}

/** The mix below the tracks of the rail: its volume and pan, its meter, and the heights of its lanes. */
export const MixHead = memo(
  function MixHead({ session, meter }: { session: Session; meter: ReactNode }) {
    const dispatch = useAppDispatch()
    const height = useAppSelector((s) => s.preferences.mixHeight)
    const picked = useAppSelector((s) => s.selection.bead === beadOf(null, FADER))
    const riding = useAppSelector((s) => s.listening.ride.mode !== 'off' && s.transport.playing)
    const room = useAppSelector((s) => mixRoom(s))
    const opened = useMixLanes(session)
    const automated = isAutomated(session, { kind: 'lane', trackId: null, lane: FADER })
    const moves = lanesWithKnots(session, null).some((ref) => isAutomated(session, ref))
    const setVolume = (value: number | null) =>
      void dispatch(commit(setParameter, { key: FADER, trackIds: [null], value }))
    return (
      <section
        aria-label="Mix"
        className="relative shrink-0 border-t border-seam [@media(max-height:520px)]:hidden"
        style={{ height: room }}
      >
        <MixFlagsHead />
        <div
          onPointerDown={() => dispatch(beadPicked(beadOf(null, FADER)))}
          className={`px-2.5 pt-1 pl-4 ${picked ? 'bg-linen' : 'bg-fold/40'}`}
          style={{ height }}
        >
          <div className="flex items-center gap-1">
            <button
              type="button"
              aria-pressed={picked}
              onClick={() => dispatch(beadPicked(beadOf(null, FADER)))}
              className="h-6 min-w-0 flex-1 truncate text-left text-sm leading-6 font-semibold"
            >
              Mix
            </button>
            <button
              type="button"
              aria-label="Pan lane of the mix"
              aria-pressed={opened.length > 0}
              title="Open the pan lane of the mix below its volume"
              onPointerDown={(e) => e.stopPropagation()}
              onClick={() => dispatch(lanesToggled({ trackId: null, lanes: otherLanes(session) }))}
              className={lanesSwitch(opened.length > 0, moves)}
            >
              <Spline size={13} />
            </button>
            <HeadField
              session={session}
              trackId={null}
              parameterKey="volume"
              label="Mix volume"
              riding={riding}
              className="w-[4.4rem]"
            />
            <HeadField
              session={session}
              trackId={null}
              parameterKey="pan"
              label="Mix pan"
              riding={riding}
              className="w-11"
            />
          </div>
          <div className="relative flex items-center justify-between pr-0.5">
            <Fader
              trackId={null}
              name="the mix"
              volumeDb={session.mix.volumeDb}
              automated={automated}
              riding={riding}
              onTry={(value) => dispatch(preview(setParameter, { key: FADER, trackIds: [null], value }))}
              onDb={setVolume}
            />
            {meter}
          </div>
        </div>
        <LaneHeads name="the mix" lanes={opened} top={height} />
        <HeightHandle
          label="Height of the mix"
          height={height}
          limits={MIX_HEIGHT}
          edge="top"
          onHeight={(to) => dispatch(mixHeightSet(to))}
        />
        <span className="absolute inset-y-0 left-0 w-1.5 bg-ink" aria-hidden />
      </section>
    )
  },
  sameParts('id', 'mix'),
)
