import { memo, useCallback, useRef } from 'react'
import { setMixVolume } from '../../core/edit'
import { sessionLength } from '../../core/model/queries'
import type { Session } from '../../core/model/session'
import { FADER_DB } from '../../core/units/decibel'
import { parseLevel, showDb } from '../../core/units/typed'
import { commit, preview } from '../../store/edits'
import { beadPicked, MIX_HEIGHT, mixHeightSet, type View } from '../../store/view-slice'
import { useAppDispatch, useAppSelector } from '../parts/hooks'
import { HeightHandle } from '../parts/height-handle'
import { onlyParts } from '../parts/only-parts'
import { ValueField } from '../parts/value-field'
import { Fader, LiveField, nudgedDb } from './fader'
import { MixMeter } from './meters'
import { ThreadArea } from './thread-area'
import { newLanePlace } from './timeline/thread-place'
import { useWheel } from './timeline/use-view'
import { isAutomated } from './use-live-value'

const LANE = { kind: 'lane' as const, trackId: null, lane: 'volume' as const }

/** The mix below the tracks of the rail: its volume, its meter, and the height of its lane. */
export const MixHead = memo(function MixHead({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const height = useAppSelector((s) => s.view.mixHeight)
  const picked = useAppSelector((s) => s.view.bead === 'mix')
  const riding = useAppSelector((s) => s.view.ride.mode !== 'off' && s.transport.playing)
  const automated = isAutomated(session, LANE)
  const { volumeDb } = session.mix
  const set = (db: number | null) => void dispatch(commit(setMixVolume, { volumeDb: db }))
  return (
    <section aria-label="Mix" onPointerDown={() => dispatch(beadPicked('mix'))} className={`relative shrink-0 border-t border-seam px-2.5 pt-1 pl-4 ${picked ? 'bg-linen' : 'bg-fold/40'}`} style={{ height }}>
      <HeightHandle label="Height of the mix" height={height} limits={MIX_HEIGHT} edge="top" onHeight={(to) => dispatch(mixHeightSet(to))} />
      <span className="absolute inset-y-0 left-0 w-1.5 bg-ink" aria-hidden />
      <div className="flex items-center gap-1.5">
        <button type="button" aria-pressed={picked} onClick={() => dispatch(beadPicked('mix'))} className="min-w-0 flex-1 truncate text-left text-sm leading-5 font-semibold">Mix</button>
        {automated || riding ? <LiveField trackId={null} name="the mix" lane="volume" className="w-[4.6rem]" /> : <ValueField
          label="Mix volume" hideLabel className="w-[4.6rem] [&_input]:h-6 [&_input]:rounded-md [&_input]:px-1 [&_input]:text-right [&_input]:text-xs" shown={showDb(volumeDb)}
          parse={(text) => parseLevel(text, { ...FADER_DB, silence: true })} onValue={set} onNudge={(direction, fine) => set(nudgedDb(volumeDb, direction, fine))}
        />}
      </div>
      <div className="relative">
        <MixMeter className="absolute top-1/2 left-0 block -translate-y-1/2" />
        <Fader trackId={null} name="the mix" volumeDb={volumeDb} automated={automated} riding={riding} onTry={(db) => dispatch(preview(setMixVolume, { volumeDb: db }))} onDb={set} />
      </div>
    </section>
  )
}, onlyParts('id', 'mix'))

/** The mix's volume lane below the regions, over the stretch that the timeline shows. Whatever is done to it picks the mix in the Path. */
export const MixLane = memo(function MixLane({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const height = useAppSelector((s) => s.view.mixHeight)
  const picked = useAppSelector((s) => s.view.bead === 'mix')
  const area = useRef<HTMLDivElement>(null)
  useWheel(area, sessionLength(session), session.trackIds.length)
  const viewOf = useCallback(({ left, framesPerPixel, width }: View): View => ({ left, framesPerPixel, width, top: 0, height }), [height])
  const placeOf = useCallback((now: Session, view: View) => newLanePlace(now, view, LANE, 0, height), [height])
  return (
    <div ref={area} onPointerDownCapture={() => dispatch(beadPicked('mix'))} data-testid="mix-lane" className={`apart relative shrink-0 border-t border-seam ${picked ? 'bg-linen' : 'bg-cloth/70'}`} style={{ height }}>
      <ThreadArea thread={LANE} viewOf={viewOf} placeOf={placeOf} label="Lane of the mix" testId="mix-thread" />
      <span className="pointer-events-none absolute top-1 right-2 text-2xs text-soft">volume of the mix</span>
    </div>
  )
}, onlyParts('id', 'regions', 'trackIds'))
