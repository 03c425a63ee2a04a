import { Spline } from 'lucide-react'
import { memo, useMemo, type ReactNode } from 'react'
import { isAutomated, setMixPan, setMixVolume } from '../../../core/edit'
import type { Session } from '../../../core/model/session'
import { FADER_DB } from '../../../core/units/decibel'
import { parseLevel, parsePan, showDb, showPan } from '../../../core/units/typed'
import { commit, preview } from '../../../store/edits'
import { beadPicked, lanesToggled, MIX_HEIGHT, mixHeightSet, mixRoom } from '../../../store/view-slice'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { HeightHandle } from '../../parts/height-handle'
import { onlyParts } from '../../parts/same-parts'
import { ValueField } from '../../parts/value-field'
import { nudgedDb, nudgedPan } from '../../../core/units/nudge'
import { Fader, HEAD_FIELD, LiveField } from './fader'
import { LaneHeads, lanesSwitch } from './lane-heads'
import { lanesBelow } from '../drawing/open-lanes'

const VOLUME = { kind: 'lane' as const, trackId: null, lane: 'volume' as const }
const PAN = { kind: 'lane' as const, trackId: null, lane: 'pan' as const }

/** The lanes opened below the mix's volume, which is always seen. */
function useMixLanes(session: Session) {
  const openLanes = useAppSelector((s) => s.view.openLanes)
  return useMemo(() => lanesBelow(session, null, openLanes), [session, openLanes])
}

/** The mix below the tracks of the rail: its volume and pan, its meter, and the heights of its lanes. */
export const MixHead = memo(
  function MixHead({ session, meter }: { session: Session; meter: ReactNode }) {
    const dispatch = useAppDispatch()
    const height = useAppSelector((s) => s.view.mixHeight)
    const picked = useAppSelector((s) => s.view.bead === 'mix')
    const riding = useAppSelector((s) => s.view.ride.mode !== 'off' && s.transport.playing)
    const room = useAppSelector((s) => mixRoom(s.view))
    const opened = useMixLanes(session)
    const automated = { volume: isAutomated(session, VOLUME), pan: isAutomated(session, PAN) }
    const { volumeDb, pan = 0 } = session.mix
    const setVolume = (db: number | null) => void dispatch(commit(setMixVolume, { volumeDb: db }))
    const setPan = (to: number) => void dispatch(commit(setMixPan, { pan: to }))
    return (
      <section aria-label="Mix" className="relative shrink-0 border-t border-seam" style={{ height: room }}>
        <div
          onPointerDown={() => dispatch(beadPicked('mix'))}
          className={`px-2.5 pt-1 pl-4 ${picked ? 'bg-linen' : 'bg-fold/40'}`}
          style={{ height }}
        >
          <div className="flex items-center gap-1">
            <button
              type="button"
              aria-pressed={picked}
              onClick={() => dispatch(beadPicked('mix'))}
              className="min-w-0 flex-1 truncate text-left text-sm leading-5 font-semibold"
            >
              Mix
            </button>
            <button
              type="button"
              aria-label="Pan lane of the mix"
              aria-pressed={opened.length > 0}
              title="Open the pan lane of the mix below its volume"
              onPointerDown={(e) => e.stopPropagation()}
              onClick={() => dispatch(lanesToggled({ trackId: null, lanes: ['pan'] }))}
              className={lanesSwitch(opened.length > 0, automated.volume || automated.pan)}
            >
              <Spline size={13} />
            </button>
            {automated.volume || riding ? (
              <LiveField trackId={null} name="the mix" lane="volume" className="w-[4.4rem]" />
            ) : (
              <ValueField
                label="Mix volume"
                hideLabel
                className={`w-[4.4rem] ${HEAD_FIELD}`}
                shown={showDb(volumeDb)}
                parse={(text) => parseLevel(text, { ...FADER_DB, silence: true })}
                onValue={setVolume}
                onNudge={(direction, fine) => setVolume(nudgedDb(volumeDb, direction, fine))}
              />
            )}
            {automated.pan || riding ? (
              <LiveField trackId={null} name="the mix" lane="pan" className="w-11" />
            ) : (
              <ValueField
                label="Mix pan"
                hideLabel
                className={`w-11 ${HEAD_FIELD}`}
                shown={showPan(pan)}
                parse={parsePan}
                onValue={setPan}
                onNudge={(direction, fine) => setPan(nudgedPan(pan, direction, fine))}
              />
            )}
          </div>
          <div className="relative">
            {meter}
            <Fader
              trackId={null}
              name="the mix"
              volumeDb={volumeDb}
              automated={automated.volume}
              riding={riding}
              onTry={(db) => dispatch(preview(setMixVolume, { volumeDb: db }))}
              onDb={setVolume}
            />
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
  onlyParts('id', 'mix'),
)
